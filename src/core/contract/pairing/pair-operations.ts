/**
 * Which operation of a document is served by which route. Paths are paired by the language of their templates with every
 * parameter taken as text, so `{id}` and `{lockId:int}` at one place are one path, and a prefix that one side leaves out
 * throughout is found as such.
 */
import { pathKeys } from '../../paths/keys.ts';
import type { Shape } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { ANY_METHOD, type Route, type RouteTable } from '../../routes/table/route.ts';
import type { Contract, Operation } from '../model/contract.ts';
import { fullPath, mountedBase } from './full-path.ts';

/** A prefix that all paths of one side have and those of the other lack. */
export interface Shift {
  readonly contract: Contract;
  readonly side: 'table' | 'document';
  readonly prefix: string;
  /** How many operations pair once the prefix is taken off, and out of how many. */
  readonly paired: number;
  readonly of: number;
}

export interface Documented {
  readonly contract: Contract;
  readonly operation: Operation;
  /** The path that a client sends to, as the document has it, shifted to the table's side. */
  readonly path: string;
  readonly routes: readonly Route[];
}

export interface Pairing {
  readonly operations: readonly Documented[];
  /** The operations of each route, those with none left out. */
  readonly documentedBy: ReadonlyMap<Route, readonly Documented[]>;
  readonly shifts: readonly Shift[];
}

export const NO_PAIRING: Pairing = { operations: [], documentedBy: new Map(), shifts: [] };

/** A path as a list of language keys, one a segment. */
type Key = readonly string[];

/** Pairs a table with the documents of its service. O(segments of both sides). */
export function pair(table: RouteTable, contracts: readonly Contract[], mount = ''): Pairing {
  const served = new Map<string, Route[]>();
  // OpenAPI has no word for a tail: a document writes it as a parameter behind the same path.
  const tails = new Map<string, Route[]>();
  const routeKeys: Key[] = [];
  for (const route of table.routes) {
    for (const shape of route.pattern.shapes) {
      const key = pathKeys(shape);
      routeKeys.push(key);
      const name = key.join('/');
      served.set(name, [...(served.get(name) ?? []), route]);
      if (shape[shape.length - 1]?.kind !== 'span') continue;
      const before = key.slice(0, -1).join('/');
      tails.set(before, [...(tails.get(before) ?? []), route]);
    }
  }
  const shifts: Shift[] = [];
  const operations = contracts.flatMap((contract) => {
    const all = contract.operations.map((operation) => ({ operation, ...pathsOf(contract, operation, mount) }));
    const shift = shiftOf(
      contract,
      all.map((a) => a.keys[0] as Key),
      served,
      routeKeys,
    );
    if (shift !== undefined) shifts.push(shift.found);
    return all.map(({ operation, keys, path }): Documented => {
      const shifted = shift === undefined ? keys : keys.map(shift.move);
      const taking = (all: readonly Route[]): readonly Route[] => [...new Set(all)].filter((r) => takes(r, operation.method));
      const exact = taking(shifted.flatMap((k) => served.get(k.join('/')) ?? []));
      const routes =
        exact.length > 0 || !/\{[^/]*\}$/u.test(operation.path)
          ? exact
          : taking(shifted.flatMap((k) => tails.get(k.slice(0, -1).join('/')) ?? []));
      return { contract, operation, path: shift === undefined ? path : movedPath(path, shift.found), routes };
    });
  });
  const documentedBy = new Map<Route, Documented[]>();
  for (const o of operations) for (const r of o.routes) documentedBy.set(r, [...(documentedBy.get(r) ?? []), o]);
  return { operations, documentedBy, shifts };
}

function takes(route: Route, method: string): boolean {
  return route.methods.includes(method) || route.methods.includes(ANY_METHOD);
}

function pathsOf(contract: Contract, operation: Operation, mount: string): { keys: readonly Key[]; path: string } {
  const bases = (operation.bases ?? contract.bases).map((base) => mountedBase(base, mount));
  const paths = bases.map((base) => fullPath(base, operation.path));
  // A root below a base may be served with its slash too.
  const all = [...new Set([...paths, ...bases.map((base) => base + operation.path)])];
  return { keys: all.map((p) => pathKeys(parseTemplate(p).shapes[0] as Shape)), path: paths[0] as string };
}

interface Moved {
  readonly found: Shift;
  readonly move: (key: Key) => Key;
}

/**
 * The prefix that brings the two sides together, where most of the document pairs with nothing and one prefix lets more
 * than half of that pair. At least two paths must agree on it.
 */
function shiftOf(
  contract: Contract,
  keys: readonly Key[],
  served: ReadonlyMap<string, readonly Route[]>,
  routeKeys: readonly Key[],
): Moved | undefined {
  const distinct = [...new Map(keys.map((k) => [k.join('/'), k])).values()];
  const unpaired = distinct.filter((k) => !served.has(k.join('/')));
  if (unpaired.length < 2 || unpaired.length * 2 < distinct.length) return undefined;
  const names = new Map<string, { prefix: Key; hits: Set<string>; side: 'table' | 'document' }>();
  const vote = (prefix: Key, side: 'table' | 'document', path: string): void => {
    const name = `${side}:${prefix.join('/')}`;
    const known = names.get(name) ?? { prefix, hits: new Set(), side };
    known.hits.add(path);
    names.set(name, known);
  };
  const wanted = new Set(unpaired.map((k) => k.join('/')));
  for (const key of routeKeys) {
    for (let cut = 1; cut < key.length; cut++) {
      const rest = key.slice(cut).join('/');
      if (wanted.has(rest)) vote(key.slice(0, cut), 'table', rest);
    }
  }
  for (const key of unpaired) {
    for (let cut = 1; cut < key.length; cut++) {
      if (served.has(key.slice(cut).join('/'))) vote(key.slice(0, cut), 'document', key.join('/'));
    }
  }
  const [best] = [...names.values()].sort((a, b) => b.hits.size - a.hits.size || a.prefix.length - b.prefix.length);
  if (best === undefined || best.hits.size < 2 || best.hits.size * 2 < unpaired.length) return undefined;
  const example = best.side === 'table' ? routeTextOf(best.prefix, served, [...best.hits][0] as string) : undefined;
  const prefix = example ?? documentPrefix(contract, best.prefix.length);
  const found: Shift = { contract, side: best.side, prefix, paired: best.hits.size, of: distinct.length };
  return {
    found,
    move:
      best.side === 'table'
        ? (k) => (k.length === 1 && k[0] === '=' ? best.prefix : [...best.prefix, ...k])
        : (k) => k.slice(best.prefix.length),
  };
}

/** The prefix as a route spells it. */
function routeTextOf(prefix: Key, served: ReadonlyMap<string, readonly Route[]>, rest: string): string | undefined {
  const [route] = served.get([...prefix, rest].join('/')) ?? [];
  return route === undefined ? undefined : firstSegments(route.path, prefix.length);
}

function documentPrefix(contract: Contract, length: number): string {
  const [first] = contract.operations;
  return firstSegments((contract.bases[0] ?? '') + (first?.path ?? ''), length);
}

function firstSegments(path: string, count: number): string {
  return path
    .split('/')
    .slice(0, count + 1)
    .join('/');
}

function movedPath(path: string, shift: Shift): string {
  if (shift.side === 'table') return fullPath(shift.prefix, path);
  return `/${path.split('/').slice(shift.prefix.split('/').length).join('/')}`;
}
