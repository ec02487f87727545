/** Several services behind one gateway: which of them answers a request. */

import type { Router } from '../index/router.ts';
import type { Request } from '../request/request.ts';
import { follow } from './follow.ts';

/** The first service that knows the path, in the order of the settings; the first of all where none does. */
export function answering<T extends { readonly router: Router }>(services: readonly T[], request: Request): T | undefined {
  return services.find(({ router }) => follow(router, request).outcome !== 'not-found') ?? services[0];
}
