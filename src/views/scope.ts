/** What was looked at, in words. */
import type { Service } from '../core/checks/engine/context.ts';
import { count } from './terminal.ts';

/** More services than these are summed up rather than named. */
const MOST_NAMED = 6;

function sumOf(services: readonly Service[]): string {
  const routes = services.reduce((n, s) => n + (s.tableIsDocument ? 0 : (s.table?.routes.length ?? 0)), 0);
  const documents = services.reduce((n, s) => n + s.contracts.length, 0);
  const operations = services.reduce((n, s) => n + s.contracts.reduce((m, c) => m + c.operations.length, 0), 0);
  const parts = [
    routes === 0 ? '' : count(routes, 'route'),
    documents === 0 ? '' : `${count(documents, 'document')} (${count(operations, 'operation')})`,
  ];
  return `${parts.filter((p) => p !== '').join(' and ')} of ${count(services.length, 'service')}`;
}

/** `38 routes and 2 documents of passage-desk`. */
export function scopeOf(services: readonly (Service & { readonly tableIsDocument?: boolean })[]): string {
  if (services.length > MOST_NAMED) return sumOf(services);
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
