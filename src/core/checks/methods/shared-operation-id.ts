import { operationTitle } from '../../contract/model/contract.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const sharedOperationId: Rule = {
  id: 'methods/shared-operation-id',
  level: 'note',
  messages: { one: 'the operationId {id} is one of {other} too{more}' },
  advice: { rename: 'Give each operation behind the gateway an id of its own, with the name of its service before it.' },
  meta: {
    what: 'An operationId that two services behind one gateway have.',
    why: 'A client that is generated for the gateway loses one of the two methods.',
    example:
      'gateway: { choose: longest-prefix }\nservices:\n  - { name: tolls, document: tolls.openapi.yaml, mount: /tolls }      # operationId: list\n  - { name: locks, document: locks.openapi.yaml, mount: /locks }      # operationId: list',
    fix: 'Put the name of the service before the id.',
  },
  check: ({ service }) => {
    const peers = service.gateway?.peers ?? [];
    const before = peers.slice(
      0,
      peers.findIndex((p) => p.name === service.name),
    );
    const owners = new Map(
      [...before]
        .reverse()
        .flatMap((p) => p.contracts.flatMap((c) => c.operations.map((o) => [o.id, { peer: p, operation: o }] as const))),
    );
    return service.contracts.flatMap((contract) =>
      contract.operations.flatMap((operation): readonly Found[] => {
        const known = operation.id === undefined ? undefined : owners.get(operation.id);
        if (known === undefined) return [];
        return [
          {
            message: 'one',
            together: known.peer.name,
            advice: 'rename',
            data: { id: operation.id as string, other: known.peer.name },
            at: { place: operation.place, what: operationTitle(operation) },
            related: [{ role: `of ${known.peer.name}`, place: known.operation.place, what: operationTitle(known.operation) }],
          },
        ];
      }),
    );
  },
};
