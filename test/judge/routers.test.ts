/** Real routers are the judges: on random tables with heavy overlap, handler and parameters must agree with `follow`. */
import KoaRouter from '@koa/router';
import fc from 'fast-check';
import findMyWay from 'find-my-way';
import { PatternRouter } from 'hono/router/pattern-router';
import { TrieRouter } from 'hono/router/trie-router';
import { match } from 'path-to-regexp';
import { expect, test } from 'vitest';
import { duplicates } from '../../src/core/routes/duplicates.ts';
import type { RouterSettings } from '../../src/core/routes/facts.ts';
import { follow } from '../../src/core/routes/follow.ts';
import { buildRouter, type Router } from '../../src/core/routes/router.ts';
import { requestFor, shadowOf } from '../../src/core/routes/shadow.ts';
import { tableOf } from '../core/tables.ts';

const REQUESTS = Number(process.env.REQUESTS ?? 20_000);
const PER_RUN = 60;

/** A segment in our brace style, and what the judges call it. */
interface Part {
  readonly ours: string;
  readonly colon: string;
  readonly hono: string;
  readonly find: string;
}
const same = (text: string): Part => ({ ours: text, colon: text, hono: text, find: text });
const parameter = (n: number): Part => ({ ours: `{p${n}}`, colon: `:p${n}`, hono: `:p${n}`, find: `:p${n}` });
const digits = (n: number): Part => ({
  ours: `{p${n}:uint}`,
  colon: `:p${n}(\\d+)`,
  hono: `:p${n}{[0-9]+}`,
  find: `:p${n}(^\\d+$)`,
});
const letters = (n: number): Part => ({
  ours: `{p${n}:[a-z]+}`,
  colon: `:p${n}([a-z]+)`,
  hono: `:p${n}{[a-z]+}`,
  find: `:p${n}(^[a-z]+$)`,
});

interface Declared {
  readonly method: string;
  readonly parts: readonly Part[];
  readonly tail: boolean;
}

const WORDS = ['locks', 'closed', '7', 'a1', 'v7', 'x', 'elm', 'v'];
const requests = fc.array(
  fc
    .tuple(
      fc.constantFrom('GET', 'POST', 'DELETE'),
      fc.array(fc.constantFrom(...WORDS, 'caf%C3%A9'), { minLength: 1, maxLength: 4 }),
    )
    .map(([method, words]) => ({
      method,
      target: `/${words.join('/')}`,
      headers: {},
    })),
  { minLength: PER_RUN, maxLength: PER_RUN },
);

/** Tables out of the kinds of segment that a judge knows. */
function tables(kinds: readonly ((n: number) => Part)[], tails: boolean): fc.Arbitrary<readonly Declared[]> {
  const part = fc.oneof(
    { weight: 3, arbitrary: fc.constantFrom('locks', 'closed', '7', 'v7').map((w) => () => same(w)) },
    { weight: 3, arbitrary: fc.constantFrom(...kinds) },
  );
  const route = fc.record({
    method: fc.constantFrom('GET', 'GET', 'POST'),
    kinds: fc.array(part, { minLength: 1, maxLength: 3 }),
    tail: tails ? fc.constantFrom(false, false, false, true) : fc.constant(false),
  });
  return fc
    .array(route, { minLength: 2, maxLength: 9 })
    .map((list) => list.map(({ method, kinds: made, tail }) => ({ method, tail, parts: made.map((make, i) => make(i)) })));
}

function ours(list: readonly Declared[], facts: RouterSettings, tail: string): Router {
  return buildRouter(
    tableOf(
      list.map(
        ({ method, parts, tail: t }, i) => `${method} /${parts.map((p) => p.ours).join('/')}${t ? `/${tail}` : ''} -> h${i}`,
      ),
      { head: 'declared', ...facts },
    ),
  );
}

interface Verdict {
  readonly handler: string;
  readonly parameters: Readonly<Record<string, string>>;
}

function verdict(router: Router, request: { method: string; target: string; headers: object }): Verdict | undefined {
  const { leaf, parameters, outcome } = follow(router, request as never);
  if (leaf === undefined) return outcome === 'ambiguous' ? { handler: 'ambiguous', parameters: {} } : undefined;
  return {
    handler: leaf.route.handler,
    parameters: Object.fromEntries([...parameters].filter(([name]) => name !== 'rest').map(([name, { text }]) => [name, text])),
  };
}

type Judge = (request: { method: string; target: string }) => Verdict | undefined;

/** Every answer and every parameter agrees; shadowed routes are never reached, and the others come with a request that does. */
function judged(
  kinds: readonly ((n: number) => Part)[],
  tails: boolean,
  tail: string,
  facts: RouterSettings,
  judgeOf: (list: readonly Declared[]) => Judge,
  prune = false,
): void {
  fc.assert(
    fc.property(tables(kinds, tails), requests, (drawn, asked) => {
      const list = prune ? withoutCopies(drawn, facts, tail) : drawn;
      const router = ours(list, facts, tail);
      const judge = judgeOf(list);
      const table = list.map((d) => `${d.method} /${d.parts.map((p) => p.ours).join('/')}${d.tail ? '/*' : ''}`).join(', ');
      const dead = new Set(
        router.table.routes.filter((r) => (shadowOf(router, r) as { whole?: boolean } | undefined)?.whole).map((r) => r.handler),
      );
      for (const request of asked) {
        const mine = verdict(router, request);
        if (mine?.handler === 'ambiguous') continue;
        const theirs = judge(request);
        expect(mine, `${request.method} ${request.target} in ${table}`).toEqual(theirs);
        expect(theirs !== undefined && dead.has(theirs.handler), `${theirs?.handler} is called dead in ${table}`).toBe(false);
      }
      for (const route of router.table.routes.filter((r) => !dead.has(r.handler))) {
        const request = requestFor(router, route);
        if (request !== undefined && /^[\x21-\x7e]+$/u.test(request.target))
          expect(judge(request)?.handler, `${request.target} in ${table}`).toBe(route.handler);
      }
    }),
    { numRuns: Math.ceil(REQUESTS / PER_RUN) },
  );
}

/** Routers that throw on a second equal route are given the first alone. */
function withoutCopies(list: readonly Declared[], facts: RouterSettings, tail: string): readonly Declared[] {
  const copies = new Set(duplicates(ours(list, facts, tail)).map((d) => d.route.index));
  return list.filter((_, i) => !copies.has(i));
}

const clean = (params: Record<string, string | undefined>): Record<string, string> =>
  Object.fromEntries(Object.entries(params).flatMap(([k, v]) => (v === undefined || !/^p\d/u.test(k) ? [] : [[k, v]])));

test('first-declared: @koa/router', () => {
  judged([parameter], false, '', { precedence: 'first-declared', trailingSlash: 'exact' }, (list) => {
    const router = new KoaRouter({ strict: true, sensitive: true });
    list.forEach(({ method, parts }, i) => {
      router.register(`/${parts.map((p) => p.colon).join('/')}`, [method], (() => undefined) as never, { name: `h${i}` });
    });
    return ({ method, target }) => {
      const [layer] = router.match(target, method).pathAndMethod;
      return layer === undefined
        ? undefined
        : { handler: layer.name as string, parameters: clean(layer.params(target, layer.captures(target), {})) };
    };
  });
});

test.each([
  ['pattern', 'may-add', () => new PatternRouter<string>()],
  ['trie', 'exact', () => new TrieRouter<string>()],
] as const)('first-declared: the %s router of hono', (_, trailingSlash, make) => {
  judged([parameter, digits, letters], true, '{rest*}', { precedence: 'first-declared', trailingSlash }, (list) => {
    const router = make();
    for (const [i, { method, parts, tail }] of list.entries())
      router.add(method, `/${parts.map((p) => p.hono).join('/')}${tail ? '/*' : ''}`, `h${i}`);
    return ({ method, target }) => {
      const [matches] = router.match(method, target) as unknown as [[string, Record<string, string>][]];
      const [first] = matches;
      return first === undefined
        ? undefined
        : {
            handler: first[0],
            parameters: Object.fromEntries(Object.entries(clean(first[1])).map(([k, v]) => [k, decodeURIComponent(v)])),
          };
    };
  });
});

test('most-specific, left to right, with retry: find-my-way', () => {
  const facts: RouterSettings = {
    precedence: 'most-specific',
    specificity: 'left-to-right',
    deadEnds: 'retry',
    ties: 'ambiguous',
    emptyValue: 'accepted',
  };
  judged(
    [parameter, digits],
    true,
    '{rest:any}',
    facts,
    (list) => {
      const router = findMyWay({ caseSensitive: true });
      list.forEach(({ method, parts, tail }, i) => {
        const path = `/${parts.map((p) => p.find).join('/')}${tail ? '/*' : ''}`;
        router.on(method as 'GET', path, (() => undefined) as never, `h${i}`);
      });
      return ({ method, target }) => {
        const found = router.find(method as 'GET', target);
        return found === null
          ? undefined
          : { handler: found.store as string, parameters: clean(found.params as Record<string, string>) };
      };
    },
    true,
  );
});

test('one pattern alone: path-to-regexp', () => {
  const piece = fc.constantFrom('/locks', '/:p0', '/v:p1', '/:p2-:p3', '/:p4.json', '{/:p5}?', '{/x}?');
  const path = fc
    .tuple(fc.uniqueArray(piece, { minLength: 1, maxLength: 4 }), fc.constantFrom('', '', '/*rest'))
    .map(([p, t]) => p.join('') + t);
  const word = fc.constantFrom('locks', 'v7', 'a-b', 'a-b-c', '7.json', 'x', '7');
  fc.assert(
    fc.property(
      path,
      fc.array(fc.array(word, { minLength: 1, maxLength: 5 }), { minLength: PER_RUN, maxLength: PER_RUN }),
      (pattern, targets) => {
        const judge = match(pattern.replaceAll('}?', '}'), { trailing: false, sensitive: true, decode: false });
        const router = buildRouter(tableOf([`GET ${pattern} -> h`], {}, 'colon'));
        for (const words of targets) {
          const target = `/${words.join('/')}`;
          const found = judge(target);
          expect(follow(router, { method: 'GET', target, headers: {} }).leaf !== undefined, `${target} on ${pattern}`).toBe(
            found !== false,
          );
        }
      },
    ),
    { numRuns: Math.ceil(REQUESTS / PER_RUN) },
  );
});
