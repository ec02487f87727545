/** What Accept and Content-Type make of a request that a route takes and that declares no media types itself. */

import { chooseType, takesType } from '../../media/media.ts';
import { readAccept } from '../../media/ranges.ts';
import type { Router } from '../index/router.ts';
import type { Open, RequestContext } from '../request/asking.ts';
import { countsParameters, type Facts } from '../table/router-facts.ts';
import { type RoutingOutcome, unrouted } from './outcome.ts';

/** The types of a route's document, for what the route leaves open: 415 and 406 as if the route had declared them. */
export function describedMedia(router: Router, taken: RoutingOutcome, asking: RequestContext): RoutingOutcome | undefined {
  const route = taken.leaf?.route;
  const { method } = asking.request;
  const described = route === undefined ? undefined : router.described?.(route, method === 'HEAD' ? 'GET' : method);
  if (route === undefined || described === undefined) return undefined;
  const { facts } = router;
  const useParameters = countsParameters(facts);
  const takes = route.conditions.takes === undefined ? described.takes : [];
  const returns = route.conditions.returns === undefined ? described.returns : [];
  const { sent } = asking;
  if (takes.length > 0 && sent !== undefined && facts.unsupported === 'refuse' && !takesType(takes, sent, useParameters)) {
    const why = `the body is sent as ${sent}, and its document has ${takes.join(', ')}`;
    return { ...taken, outcome: 'unsupported-media-type', status: 415, why, responseType: undefined };
  }
  if (returns.length === 0) return undefined;
  const type = chooseType(asking.accept, returns, useParameters);
  if (type === undefined && facts.unacceptable === 'refuse') {
    const why = `${asking.accept} is accepted, and its document has ${returns.join(', ')}`;
    return { ...taken, outcome: 'not-acceptable', status: 406, why, responseType: undefined };
  }
  const responseType = { type: type ?? (returns[0] as string), byDefault: type === undefined || asking.accept === undefined };
  return { ...taken, responseType };
}

/** More of them than this leave the outcome undecided without trying. */
const MOST_OPEN = 6;

/**
 * The outcome where nobody knows what routes take and return that declare nothing (`undeclared: unknown`): the one that
 * comes whichever of them refuse, undecided where there is none. Cost: up to 64 times following it.
 */
export function underUndeclared(followed: (refusing: ReadonlySet<string>, open: Open[]) => RoutingOutcome): RoutingOutcome {
  const open: Open[] = [];
  const first = followed(new Set(), open);
  const sides = [...new Map(open.map((o) => [o.key, o])).values()];
  const few = sides.length <= MOST_OPEN;
  const others = few
    ? Array.from({ length: 2 ** sides.length - 1 }, (_, bits) => sides.filter((__, i) => ((bits + 1) >> i) & 1))
    : [];
  const settled = few && others.every((some) => fate(followed(new Set(some.map((s) => s.key)), [])) === fate(first));
  if (settled) return first;
  const words = sides.map((s) => s.words).join(', and ');
  return unrouted(first, 'undecided', null, `${words}: it is unknown what that means (undeclared: unknown)`);
}

function fate({ outcome, status, leaf, allow }: RoutingOutcome): string {
  return [outcome, status, leaf?.route.index, allow?.join()].join('|');
}

/** Could somebody answer 406 to this Accept? Not where it takes everything, at whatever weight, and refuses nothing. */
export function mayRefuse(accept: string | undefined, facts: Facts): boolean {
  if (accept === undefined || facts.unacceptable !== 'refuse') return false;
  const { ranges } = readAccept(accept);
  const takesAll = ranges.some((r) => r.type === '*' && r.parameters.size === 0 && r.quality > 0);
  return !takesAll || ranges.some((r) => r.quality === 0);
}
