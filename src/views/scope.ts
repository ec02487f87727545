/** What was looked at, in words. */
import type { Service } from '../core/checks/context.ts';
import { count } from './terminal.ts';

/** `38 routes and 2 documents of passage-desk`. */
export function scopeOf(services: readonly (Service & { readonly tableIsDocument?: boolean })[]): string {
  return services
    .map((s) => {
      const routes = s.table === undefined || s.tableIsDocument ? '' : count(s.table.routes.length, 'route');
      const operations = s.contracts.reduce((n, c) => n + c.operations.length, 0);
      const documents =
        s.contracts.length === 0 ? '' : `${count(s.contracts.length, 'document')} (${count(operations, 'operation')})`;
      return `${[routes, documents].filter((p) => p !== '').join(' and ')} of ${s.name}`;
    })
    .join(', ');
}
