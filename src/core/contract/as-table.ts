/** A document that stands in for a route table: style brace, most specific first, left to right. */
import { parseTemplate } from '../paths/template.ts';
import { factsFrom } from '../routes/facts.ts';
import { bareRoute, type Route, type RouteTable } from '../routes/route.ts';
import { fullPath, mountedBase } from './full-path.ts';
import type { Contract } from './model.ts';

/** The routes that documents promise, each below its first base path. */
export function tableFromContracts(contracts: readonly Contract[], service: string, mount = ''): RouteTable {
  const all = contracts.flatMap((contract) =>
    contract.operations.map((operation) => ({
      operation,
      base: mountedBase((operation.bases ?? contract.bases)[0] ?? '', mount),
    })),
  );
  const routes = all.map(({ operation, base }, index): Route => {
    const path = fullPath(base, operation.path);
    const { method, id, place, deprecated } = operation;
    const route = bareRoute({
      index,
      methods: [method],
      path,
      pattern: parseTemplate(path),
      handler: id ?? `${method} ${path}`,
      place,
    });
    return deprecated ? { ...route, deprecated } : route;
  });
  const facts = factsFrom({ precedence: 'most-specific', specificity: 'left-to-right' });
  const place = (contracts[0] as Contract).place;
  return { service, style: 'brace', facts, types: new Map(), routes, flaws: [], place };
}
