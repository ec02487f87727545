/** The media types of a route against those of its operation. */
import { takesType } from '../media/media.ts';
import type { Route } from '../routes/route.ts';
import type { Operation } from './model.ts';
import type { Documented } from './pairing.ts';

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
    types.filter((type) => !known.some((k) => takesType([k], type) || takesType([type], k)));
  const refused = beyond(documented, declared);
  const undocumented = beyond(declared, documented);
  return [
    ...(refused.length > 0 ? [{ kind: 'refused' as const, types: refused, route, operation }] : []),
    ...(undocumented.length > 0 ? [{ kind: 'undocumented' as const, types: undocumented, route, operation }] : []),
  ];
}
