import { memoise } from '../../base/memo.ts';
import { successTypes } from '../../contract/pairing/media-types.ts';
import type { Service } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const defaultBetween: Rule = {
  id: 'media/default-between-services',
  level: 'note',
  messages: { one: '{service} returns {own} where no Accept is sent, and {other} behind the same gateway {theirs}' },
  advice: { same: 'Declare the same media type first everywhere, or tell clients to send Accept.' },
  meta: {
    what: 'Two services behind one gateway whose answers without Accept have different media types throughout.',
    why: 'To a client they are one API: it gets JSON here and XML there, without having asked for either.',
    example:
      'gateway: { choose: order }\nservices:\n  - { name: tolls, document: tolls.openapi.yaml, mount: /tolls }      # application/json first\n  - { name: locks, document: locks.openapi.yaml, mount: /locks }      # application/xml first',
    fix: 'Declare the same media type first in every service.',
  },
  check: ({ service }) => {
    const first = service.gateway?.peers.find((p) => usualType(p) !== '');
    const own = usualType(service);
    if (first === undefined || first.name === service.name || own === '') return [];
    const theirs = usualType(first);
    const [contract] = service.contracts;
    if (own === theirs || contract === undefined) return [];
    return [
      {
        message: 'one',
        advice: 'same',
        data: { service: service.name, own, other: first.name, theirs },
        at: { place: contract.place, what: contract.title },
      },
    ];
  },
};

/** So large a share of the operations has to agree. */
const MOST = 0.9;

/** The media type that nearly all operations return first; empty where there is none. */
const usualType = memoise(({ contracts }: Service): string => {
  const firsts = contracts.flatMap((c) => c.operations.flatMap((o) => successTypes(o).slice(0, 1)));
  const counts = new Map<string, number>();
  for (const type of firsts) counts.set(type, (counts.get(type) ?? 0) + 1);
  const [usual] = [...counts].sort((a, b) => b[1] - a[1]);
  return usual !== undefined && usual[1] >= MOST * firsts.length ? usual[0] : '';
});
