import { memoise } from '../../base/memo.ts';
import { type Operation, operationTitle } from '../../contract/model/contract.ts';
import type { Service } from '../engine/context.ts';
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
    const owners = firstOwners(service.gateway?.peers ?? []);
    return service.contracts.flatMap((contract) =>
      contract.operations.flatMap((operation): readonly Found[] => {
        const owner = operation.id === undefined ? undefined : owners.get(operation.id);
        // An id that is used twice in one service is a finding of document/names.
        if (owner === undefined || owner.peer.name === service.name) return [];
        return [
          {
            message: 'one',
            together: owner.peer.name,
            advice: 'rename',
            data: { id: operation.id as string, other: owner.peer.name },
            at: { place: operation.place, what: operationTitle(operation) },
            related: [{ role: `of ${owner.peer.name}`, place: owner.operation.place, what: operationTitle(owner.operation) }],
          },
        ];
      }),
    );
  },
};

interface Owner {
  readonly peer: Service;
  readonly operation: Operation;
}

/** The first operation of each id, in the order of the services. O(operations), once for all of them. */
const firstOwners = memoise((peers: readonly Service[]): ReadonlyMap<string, Owner> => {
  const owners = new Map<string, Owner>();
  for (const peer of peers)
    for (const { operations } of peer.contracts)
      for (const operation of operations)
        if (operation.id !== undefined && !owners.has(operation.id)) owners.set(operation.id, { peer, operation });
  return owners;
});
