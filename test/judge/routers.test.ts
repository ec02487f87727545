/** Real routers are the judges: on random tables with heavy overlap, handler and parameters must agree with `follow`. */
import KoaRouter from '@koa/router';
import fc from 'fast-check';
import findMyWay from 'find-my-way';
import { PatternRouter } from 'hono/router/pattern-router';
import { TrieRouter } from 'hono/router/trie-router';
import { match } from 'path-to-regexp';
import { expect, test } from 'vitest';
import { follow } from '../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../src/core/routes/index/router.ts';
import type { RouterSettings } from '../../src/core/routes/table/router-facts.ts';
import { tableOf } from '../core/tables.ts';
import { digits, judged, letters, PER_RUN, parameter, REQUESTS } from './judged.ts';

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
