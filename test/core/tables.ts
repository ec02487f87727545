/** Random small tables with heavy overlap, and the requests that tell their routes apart. */
import fc from 'fast-check';
import type { Style } from '../../src/core/paths/pattern.ts';
import type { NamedTypes } from '../../src/core/paths/types.ts';
import type { Versioning } from '../../src/core/routes/request/requested-version.ts';
import { expand } from '../../src/core/routes/table/expand.ts';
import type { RouteTable } from '../../src/core/routes/table/route.ts';
import { factsFrom, type RouterSettings } from '../../src/core/routes/table/router-facts.ts';

/** Segments of patterns that overlap in every way. */
export const SEGMENTS = [
  'locks',
  'closed',
  '7',
  '{a}',
  '{b:int}',
  '{c:alpha}',
  '{d:[a-l]+|7}',
  'v{e}',
  '{f}.json',
  '{g:among(locks,7)}',
  '{h}.{i}',
  '{m?}',
] as const;
const segment = fc.constantFrom(...SEGMENTS);
const tail = fc.constantFrom('', '', '', '', '/{rest*}', '/{rest+}', '/{rest:any}', '/{last?}', '/');
const path = fc.tuple(fc.array(segment, { minLength: 1, maxLength: 2 }), tail).map(([s, t]) => `/${s.join('/')}${t}`);
const method = fc.constantFrom('GET', 'GET', 'GET', 'POST', 'GET|POST', 'ANY', 'HEAD');
const SAMPLES = ['locks', 'closed', '7', '12', 'v7', 'vlocks', 'x.json', '7.json', 'zz', ''];

export const entries = fc
  .array(fc.tuple(method, path), { minLength: 2, maxLength: 7 })
  .map((list) => list.map(([m, p], i) => `${m} ${p} -> h${i}`));

/** Versions that a header selects. */
export const versioning: Versioning = {
  selector: 'header',
  name: 'Desk-Version',
  default: '2',
  versions: ['1', '2', '3'],
  missing: 400,
  unknown: 400,
  elsewhere: 404,
};

/** A table of entries in the short form. */
export function tableOf(
  list: readonly string[],
  router: RouterSettings = {},
  style: Style = 'brace',
  types: NamedTypes = new Map(),
): RouteTable {
  const place = { file: 'canal.routes.yaml', pointer: '' };
  const { routes, flaws } = expand(list, { style, types, place });
  return { service: 'canal', style, facts: factsFrom(router), types, routes, flaws, place };
}

/** Every path of up to four of the sample segments' combinations that the shapes above can tell apart. */
export const PATHS: readonly string[] = [1, 2, 3]
  .flatMap((n) => combine(SAMPLES, n))
  .concat(['/locks/closed/7/zz', '/locks/7/7/']);

function combine(words: readonly string[], n: number): string[] {
  if (n === 0) return [''];
  return combine(words, n - 1).flatMap((head) => words.map((w) => `${head}/${w}`));
}

/** Routers of all kinds that change who goes first or what is matched. */
const drawn: fc.Arbitrary<RouterSettings> = fc.record(
  {
    precedence: fc.constantFrom('first-declared', 'last-declared', 'most-specific', 'exclusive'),
    specificity: fc.constantFrom('left-to-right', 'literal-length', 'fewest-parameters', 'containment'),
    ties: fc.constantFrom('ambiguous', 'first-declared', 'last-declared'),
    deadEnds: fc.constantFrom('retry', 'give-up', 'last-tail'),
    trees: fc.constantFrom('one', 'per-method'),
    typedBranch: fc.constantFrom('own', 'shared'),
    tails: fc.constantFrom('declared', 'narrowest'),
    mixed: fc.constantFrom('leading', 'most-parts'),
    anyMethod: fc.constantFrom('in-order', 'last'),
    longestValue: fc.constantFrom(1, 2, 3, 5),
    tooLong: fc.constantFrom('404', '414'),
    wrongMethod: fc.constantFrom('next-route', 'refuse'),
    trailingSlash: fc.constantFrom('exact', 'either', 'may-add', 'removed', 'ignored', 'either-last'),
    letterCase: fc.constantFrom('exact', 'either'),
    emptyValue: fc.constantFrom('refused', 'accepted'),
    types: fc.constantFrom('in-match', 'after-match'),
    head: fc.constantFrom('follows-get', 'is-get', 'declared', 'before-get'),
  },
  { requiredKeys: [] },
);

export const settings = drawn;
