/** The keys by which items are addressed, and whether answers still tell them. */

import { lazy } from '../../base/lazy.ts';
import type { Operation } from '../../contract/model/contract.ts';
import { keyIn, keyProperty, listedSchema } from '../../contract/resources/lifecycle.ts';
import type { Schema } from '../../schema/model/schema.ts';
import type { Affected } from '../changes/change.ts';

/** Says which path is addressed by a property that an answer of the old version `a` had, and tells no more. */
export type DescribeLostKey = (at: Affected, a: Schema, name: string, pointer: string) => string | undefined;

interface Item {
  readonly path: string;
  readonly parameter: string;
}

/** Of the new version. Reads its paths when it is first asked. */
export function lostKeyDescriber(operations: readonly Operation[]): DescribeLostKey {
  const known = lazy(() => ({
    items: itemsOf(operations),
    operations: new Map(operations.map((o) => [`${o.method} ${o.path}`, o])),
  }));
  return ({ method, path }, a, name, pointer) => {
    const { items, operations: all } = known();
    const item = items.get(path);
    const operation = all.get(`${method} ${path}`);
    if (item === undefined || operation === undefined) return undefined;
    const isList = path !== item.path && method === 'GET';
    const before = keyProperty(isList ? listedSchema(a) : a, item.parameter);
    // What stands deeper is the key of something else.
    const isOwn = pointer.split('/').length <= (isList ? 4 : 3);
    return before === name && isOwn && keyIn(operation, item.parameter, isList) === undefined ? item.path : undefined;
  };
}

/** By their own path, and by that of their collection. */
function itemsOf(operations: readonly Operation[]): ReadonlyMap<string, Item> {
  const out = new Map<string, Item>();
  for (const { path } of operations) {
    const [, above, parameter] = /^(.*)\/\{([^{}/]+)\}$/u.exec(path) ?? [];
    if (above === undefined || parameter === undefined || above.endsWith('}')) continue;
    out.set(path, { path, parameter });
    out.set(above, { path, parameter });
  }
  return out;
}
