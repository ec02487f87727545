/** A document that stands in for a route table: style brace, most specific first, left to right. */
import { parseTemplate } from '../paths/template.ts';
import { factsFrom } from '../routes/facts.ts';
import type { Route, RouteTable } from '../routes/route.ts';
import type { Contract } from './model.ts';

/** The routes that a document promises, below its first base path. */
export function tableFromContract(contract: Contract, service: string): RouteTable {
  const base = contract.bases[0] ?? '';
  const routes = contract.operations.map((operation, index): Route => {
    const path = base + operation.path;
    return {
      index,
      methods: [operation.method],
      path,
      pattern: parseTemplate(path),
      handler: operation.id ?? `${operation.method} ${path}`,
      name: undefined,
      conditions: {},
      deprecated: operation.deprecated || undefined,
      sunset: undefined,
      summary: undefined,
      origin: { groups: [] },
      place: operation.place,
    };
  });
  const facts = factsFrom({ precedence: 'most-specific', specificity: 'left-to-right' });
  return { service, style: 'brace', facts, types: new Map(), routes, flaws: [], place: contract.place };
}
