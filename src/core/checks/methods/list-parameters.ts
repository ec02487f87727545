import { grouped } from '../../base/grouped.ts';
import type { Parameter } from '../../contract/model/contract.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import type { Keywords } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const listParameters: Rule = {
  id: 'methods/list-parameters',
  level: 'note',
  messages: {
    type: 'the query parameter {name} of {first} is {one}, and of {second} {two}{more}',
    default: 'the query parameter {name} of {first} is {one} by default, and of {second} {two}{more}',
    limit: 'the query parameter {name} of {first} goes up to {one}, and of {second} up to {two}{more}',
  },
  advice: {
    same: 'Page and filter every list in one way; put the parameter under components and refer to it.',
  },
  meta: {
    what: 'Query parameters of lists that have one name and differ in type, default or limit.',
    why: 'What was learned from one list is wrong for the next.',
    example: 'GET /locks?limit up to 100, GET /passages?limit up to 50',
    fix: 'Share the parameter.',
  },
  check: (context) => {
    const lists = context.resources().flatMap((r) => r.members.filter((m) => m.step === 'list').map((m) => m.endpoint));
    const all = lists.flatMap((endpoint) =>
      (endpoint.operation?.parameters ?? []).filter((p) => p.in === 'query' && PAGING.test(p.name)).map((p) => ({ endpoint, p })),
    );
    return grouped(all, ({ p }) => p.name).flatMap((group) => differing(group) ?? []);
  },
};

/** Filters differ with what they filter; these have one meaning for every list. */
const PAGING =
  /^(?:page|per_?page|page_?(?:size|number|token)|limit|offset|cursor|size|after|before|count|top|skip|sort|order|order_?by|q|search)$/iu;

interface Use {
  readonly endpoint: Endpoint;
  readonly p: Parameter;
}

function differing(uses: readonly Use[]): Found | undefined {
  const [first] = uses;
  const of = ({ p }: Use): Keywords | undefined => (p.schema === undefined ? undefined : toDisjuncts(p.schema, 2)[0]);
  const facets: readonly (readonly [string, (k: Keywords | undefined) => string])[] = [
    ['type', (k) => k?.types?.join(' or ') ?? 'anything'],
    ['default', (k) => (k?.default === undefined ? 'nothing' : JSON.stringify(k.default.value))],
    ['limit', (k) => String(k?.maximum ?? 'any number')],
  ];
  for (const [message, facet] of facets) {
    const other = uses.find((u) => first !== undefined && facet(of(u)) !== facet(of(first)));
    if (first === undefined || other === undefined) continue;
    return {
      message,
      together: first.p.place.file,
      advice: 'same',
      data: {
        name: first.p.name,
        first: endpointTitle(first.endpoint),
        second: endpointTitle(other.endpoint),
        one: facet(of(first)),
        two: facet(of(other)),
      },
      at: { place: first.p.place, what: endpointTitle(first.endpoint) },
      related: [{ role: 'the other', ...endpointSpot(other.endpoint) }],
    };
  }
  return undefined;
}
