import { grouped } from '../../base/grouped.ts';
import { suggest } from '../../base/nearest-word.ts';
import { operationTitle } from '../../contract/model/contract.ts';
import type { Found } from '../engine/finding.ts';
import { inEachDocument } from '../engine/in-each-document.ts';
import type { Rule } from '../engine/rule.ts';

export const documentNames: Rule = {
  id: 'document/names',
  level: 'warning',
  messages: {
    twice: 'the operationId {id} is used {count} times: {titles}',
    scheme: '{title} needs the security scheme {name}, which is not declared{hint}{more}',
  },
  advice: {
    rename: 'Give each operation an id of its own.',
    declare: 'Declare the scheme under securitySchemes, or correct the name.',
  },
  meta: {
    what: 'An operationId that two operations have, or a security scheme that is not declared.',
    why: 'Generated clients lose one of the two methods, and cannot tell which credentials to send.',
    example: 'get: { operationId: locks.list, … }\npost: { operationId: locks.list, … }',
    fix: 'Give each operation its own operationId, and declare each security scheme under its name.',
  },
  check: inEachDocument((contract): readonly Found[] => {
    const named = contract.operations.filter((o) => o.id !== undefined);
    const twice = grouped(named, (o) => o.id as string)
      .filter((group) => group.length > 1)
      .map(
        ([first, ...others]): Found => ({
          message: 'twice',
          advice: 'rename',
          data: {
            id: first.id as string,
            count: others.length + 1,
            titles: [first, ...others].slice(0, 3).map(operationTitle).join(', '),
          },
          at: { place: first.place, what: operationTitle(first) },
          related: others.map((o) => ({ role: 'the other', place: o.place, what: operationTitle(o) })),
        }),
      );
    const declared = [...contract.schemes];
    // A name of another document may stand for a scheme too (3.2).
    const unknown = contract.operations.flatMap((operation) =>
      operation.security
        .flat()
        .filter((s) => !contract.schemes.has(s.name) && !/[/#:]/u.test(s.name))
        .map(({ name }): Found => {
          const near = suggest(name, declared);
          return {
            message: 'scheme',
            together: `${contract.place.file} ${name}`,
            advice: 'declare',
            data: { title: operationTitle(operation), name, hint: near === undefined ? '' : `; did you mean ${near}?` },
            at: { place: operation.securityPlace, what: operationTitle(operation) },
          };
        }),
    );
    return [...twice, ...unknown];
  }),
};
