import { suggest } from '../../base/nearest-word.ts';
import { type Contract, type Media, type Operation, operationTitle } from '../../contract/model/contract.ts';
import { schemasOf } from '../../contract/model/visit.ts';
import { dereference, type Keywords, type Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { newSearchCache } from '../../schema/search/cache.ts';
import { sampleOf } from '../../schema/search/sample.ts';
import { cachedInhabitant } from '../../schema/search/witness.ts';
import type { Found } from '../engine/finding.ts';
import { inEachDocument } from '../engine/in-each-document.ts';
import type { Rule } from '../engine/rule.ts';

export const neverFits: Rule = {
  id: 'document/never-fits',
  level: 'warning',
  messages: {
    bounds: 'no value fits: {low} is {lowest}, above {high} {highest}',
    closed: 'no object fits: {name} is required, but it is not declared, and additionalProperties is false{hint}{more}',
    body: '{title} {does} a body that no value fits: parts of its schema exclude each other{more}',
    undeclared: '{name} is required and not declared{hint}{more}',
  },
  advice: {
    bounds: 'Correct the two bounds.',
    name: 'Declare the property, or remove it from required.',
    parts: 'See which parts exclude each other: often additionalProperties: false in one part of an allOf.',
  },
  meta: {
    what: 'A schema that nothing fits, or that requires a property it does not declare.',
    why: 'No client can send a valid value, or clients leave out what the service expects.',
    example: '{ type: integer, minimum: 10, maximum: 1 }',
    fix: 'Correct the bounds, or the name of the required property.',
  },
  check: inEachDocument((c) => [...schemasOf(c).flatMap((s) => flawOf(s, c.title) ?? []), ...bodiesOf(c)]),
};

/** Bodies that nobody can send, each schema asked once. Where it can't be decided nothing is said. */
function bodiesOf(contract: Contract): readonly Found[] {
  const answers = newSearchCache();
  const asked = new Map<string, boolean>();
  const fitsNothing = (schema: Schema, side: 'request' | 'response'): boolean => {
    const at = dereference(schema);
    const key = `${side} ${at.place.file}#${at.place.pointer}`;
    const known = asked.get(key) ?? (sampleOf(at, side) === undefined && cachedInhabitant(at, side, answers).kind === 'none');
    asked.set(key, known);
    return known;
  };
  const found = (operation: Operation, media: Media, side: 'request' | 'response'): readonly Found[] =>
    media.schema === undefined || !/json/iu.test(media.type) || !fitsNothing(media.schema, side)
      ? []
      : [
          {
            message: 'body',
            together: `${side} ${contract.place.file}`,
            advice: 'parts',
            data: { title: operationTitle(operation), does: side === 'request' ? 'accepts' : 'returns' },
            at: { place: media.place, what: operationTitle(operation) },
          },
        ];
  return contract.operations.flatMap((o) => [
    ...(o.body?.content ?? []).flatMap((m) => found(o, m, 'request')),
    ...o.responses.flatMap((r) => r.content.flatMap((m) => found(o, m, 'response'))),
  ]);
}

const BOUNDS: readonly (readonly [keyof Keywords, keyof Keywords])[] = [
  ['minimum', 'maximum'],
  ['minLength', 'maxLength'],
  ['minItems', 'maxItems'],
  ['minProperties', 'maxProperties'],
];

function flawOf(schema: Schema, title: string): Found | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const at = { place: schema.place, what: title };
  for (const [low, high] of BOUNDS) {
    const [a, b] = [k[low] as number | undefined, k[high] as number | undefined];
    if (a !== undefined && b !== undefined && a > b)
      return { message: 'bounds', advice: 'bounds', data: { low, lowest: a, high, highest: b }, at };
  }
  return missing(schema, k, title);
}

/** Of parts of a whole the other parts may declare it. */
const PART = /\/(?:allOf|anyOf|oneOf|not|if|then|else|dependentSchemas)(?:\/[^/]+)?$/u;

function missing(schema: Schema, k: Keywords, title: string): Found | undefined {
  if (k.required.length === 0 || k.properties.size === 0 || PART.test(schema.place.pointer) || k.patternProperties.size > 0)
    return undefined;
  const declared = new Set(toDisjuncts(schema, 8).flatMap((way) => [...way.properties.keys()]));
  const name = k.required.find((r) => !declared.has(r));
  if (name === undefined) return undefined;
  const rest = k.additional?.keywords();
  // Whatever else may come has a schema of its own.
  if (rest !== undefined && rest !== false && rest !== true) return undefined;
  const near = suggest(name, [...declared]);
  return {
    message: rest === false ? 'closed' : 'undeclared',
    ...(rest === false ? {} : { level: 'note' as const, together: schema.place.file }),
    advice: 'name',
    data: { name, hint: near === undefined ? '' : `; did you mean ${near}?` },
    at: { place: schema.place, what: title },
  };
}
