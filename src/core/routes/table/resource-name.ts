/** What people call the resource of a route, told by its path alone. */
import type { Route } from './route.ts';

/** `v2/locks` of `/v2/locks/{lockId}/gates`: the version, and the first word behind it. */
export function resourceOf(route: Pick<Route, 'path'>): string {
  const words = route.path.split('/').slice(1);
  const at = words.findIndex((w) => !/^(?:v\d|api$|[{:<[])/iu.test(w));
  return words.slice(0, at < 0 ? 1 : at + 1).join('/');
}
