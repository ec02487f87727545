/** The media types of a route against those of its operation. */
import { isDeclaredBy } from '../../media/media.ts';
import type { Described } from '../../routes/request/asking.ts';
import type { Route } from '../../routes/table/route.ts';
import type { Operation } from '../model/contract.ts';
import type { Documented, Pairing } from './pair-operations.ts';

/**
 * What the document says of each route, by its index and method. A side that one of the routes of an operation names itself
 * is left out: the document's types count where no route has any.
 */
export function describedBy(pairing: Pairing | undefined): ReadonlyMap<number, ReadonlyMap<string, Described>> {
  const out = new Map<number, Map<string, Described>>();
  for (const { operation, routes } of pairing?.operations ?? []) {
    if (operation.responses.length === 0 && operation.body === undefined) continue;
    const named = (of: 'takes' | 'returns'): boolean => routes.some((r) => r.conditions[of] !== undefined);
    const described: Described = {
      takes: named('takes') ? [] : (operation.body?.content.map((m) => m.type) ?? []),
      returns: named('returns') ? [] : successTypes(operation),
    };
    for (const { index } of routes)
      out.set(index, (out.get(index) ?? new Map<string, Described>()).set(operation.method, described));
  }
  return out;
}

export interface TypeDifference {
  readonly kind: 'refused' | 'undocumented';
  readonly types: readonly string[];
  readonly route: Route;
  readonly operation: Operation;
}

/** The types of successful answers, in declared order; `default` where no success is named. */
export function successTypes({ responses }: Operation): readonly string[] {
  const good = responses.filter((r) => r.status.startsWith('2'));
  const used = good.length > 0 ? good : responses.filter((r) => r.status === 'default');
  return [...new Set(used.flatMap((r) => r.content.map((m) => m.type)))];
}

/** Types that stand on one side alone. A side that names none says nothing. */
export function typeDifferences({ operation, routes }: Documented, of: 'request' | 'response'): readonly TypeDifference[] {
  const documented = of === 'request' ? (operation.body?.content.map((m) => m.type) ?? []) : successTypes(operation);
  const said = routes.filter((r) => (of === 'request' ? r.conditions.takes : r.conditions.returns) !== undefined);
  const [route] = said;
  if (documented.length === 0 || route === undefined || said.length < routes.length) return [];
  const declared = [...new Set(said.flatMap((r) => (of === 'request' ? r.conditions.takes : r.conditions.returns) ?? []))];
  const beyond = (types: readonly string[], known: readonly string[]): readonly string[] =>
    types.filter((type) => !known.some((k) => isDeclaredBy([k], type) || isDeclaredBy([type], k)));
  const having = (types: readonly string[]): Route =>
    said.find((r) => (of === 'request' ? r.conditions.takes : r.conditions.returns)?.some((t) => types.includes(t))) ?? route;
  const refused = beyond(documented, declared);
  const undocumented = beyond(declared, documented);
  return [
    ...(refused.length > 0 ? [{ kind: 'refused' as const, types: refused, route, operation }] : []),
    ...(undocumented.length > 0
      ? [{ kind: 'undocumented' as const, types: undocumented, route: having(undocumented), operation }]
      : []),
  ];
}
