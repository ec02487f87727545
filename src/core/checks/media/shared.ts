/** Findings about media types of routes and operations; one for all operations with the same cause. */

import { grouped } from '../../base/grouped.ts';
import { operationTitle } from '../../contract/model/contract.ts';
import type { TypeDifference } from '../../contract/pairing/media-types.ts';
import type { Documented } from '../../contract/pairing/pair-operations.ts';
import { type Context, spotOf, witnessOf } from '../engine/context.ts';
import { routeRequest } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';

/** One finding for each set of types that stands on one side alone, with the request that shows it. */
export function mediaFindings(
  context: Context,
  differences: (documented: Documented) => readonly TypeDifference[],
  advice: 'takes' | 'returns',
): readonly Found[] {
  const { router } = context;
  if (router === undefined) return [];
  const all = (context.pairing()?.operations ?? []).flatMap(differences);
  return grouped(all, (d) => `${d.kind} ${d.types.join(' ')}`).map(([first, ...others]): Found => {
    const { kind, types, route, operation } = first;
    const header = advice === 'takes' ? 'Content-Type' : 'Accept';
    const usual = routeRequest(router, route, operation.method);
    const request = { ...usual, headers: { ...usual.headers, [header]: types[0] as string } };
    const more = others.length === 0 ? '' : ` (and ${others.length} more)`;
    return {
      message: kind,
      advice,
      data: { operation: operationTitle(operation) + more, types: types.join(' and ') },
      at: spotOf(route),
      related: [
        { role: 'documented', place: operation.place, what: operationTitle(operation) },
        ...others.map((o) => ({ role: 'the same', ...spotOf(o.route) })),
      ],
      witness: witnessOf(router, request),
    };
  });
}
