/** The examples in docs/rules.md that are routes: each produces its finding, at the level that is printed. */
import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { check, RULES } from '../../../src/core/checks/index.ts';
import type { Entry } from '../../../src/core/routes/table/entries.ts';
import { expand } from '../../../src/core/routes/table/expand.ts';
import { factsFrom, type RouterSettings } from '../../../src/core/routes/table/router-facts.ts';

const place = { file: 'canal.routes.yaml', pointer: '' };
const EXAMPLES = RULES.flatMap(({ id, level, meta }) => {
  if (!id.startsWith('paths/')) return [];
  try {
    const value = load(meta.example) as
      | readonly Entry[]
      | { readonly routes?: readonly Entry[]; readonly router?: RouterSettings };
    const [routes, router] = 'routes' in value ? [value.routes, value.router] : [value, {}];
    return Array.isArray(routes) ? [{ id, level, routes, router }] : [];
  } catch {
    return [];
  }
});

test.each(EXAMPLES)('example of $id -> its finding, at level $level', ({ id, level, routes, router }) => {
  const types = new Map();
  const table = { service: 'canal', style: 'brace', facts: factsFrom(router ?? {}), types, place } as const;
  const found = check({ name: 'canal', table: { ...table, ...expand(routes, { style: 'brace', types, place }) }, contracts: [] });
  expect(found.filter((f) => f.rule === id).map((f) => f.level)).toContain(level);
});

test('rules of paths -> eight have an example of routes alone', () => {
  expect(EXAMPLES.length).toBe(8);
});
