import fc from 'fast-check';
import { expect, test } from 'vitest';
import { requestFor, shadowOf } from '../../../../src/core/routes/findings/shadow.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { routeTitle } from '../../../../src/core/routes/table/route.ts';
import type { RouterSettings } from '../../../../src/core/routes/table/router-facts.ts';
import { runs } from '../../../runs.ts';
import { entries, PATHS, settings, tableOf } from '../../tables.ts';

const METHODS = ['GET', 'POST', 'DELETE', 'HEAD'];

test('a shadowed route is reached by no request, a free one by some, and each cover suffices', () => {
  fc.assert(
    fc.property(entries, settings, (list, facts) => {
      const router = buildRouter(tableOf(list, facts));
      const reached = new Set<string>();
      const reachedBySlashes = new Set<string>();
      for (const target of PATHS) {
        for (const method of METHODS) {
          const { leaf } = follow(router, { method, target, headers: {} });
          if (leaf !== undefined) (/\/\/$/u.test(target) ? reachedBySlashes : reached).add(leaf.route.handler);
        }
      }
      for (const route of router.table.routes) {
        const shadow = shadowOf(router, route);
        if (shadow !== undefined && 'why' in shadow) {
          // How two parameters share a segment decides which of their values is too long.
          expect(shadow.why).toContain('longestValue');
          continue;
        }
        const dead = shadow?.whole === true;
        // A router that takes one slash off leaves the first of two.
        const isReached = reached.has(route.handler) || (shadow?.router !== 'slash' && reachedBySlashes.has(route.handler));
        expect(dead && isReached, `${routeTitle(route)} is called dead and was reached`).toBe(false);
        const request = requestFor(router, route);
        if (dead) expect(request).toBeUndefined();
        else {
          // Where routes tie, a route is not dead, though nothing is sure to reach it.
          const { leaf, outcome } = follow(router, request as never);
          if (outcome !== 'ambiguous') expect(leaf?.route, `${routeTitle(route)} by ${JSON.stringify(request)}`).toBe(route);
        }
        if (shadow !== undefined) {
          expect(follow(router, shadow.witness).leaf?.route.handler).not.toBe(route.handler);
          const kept = [...new Set([...shadow.by, route])].sort((a, b) => a.index - b.index);
          const alone = buildRouter(
            tableOf(
              kept.map((r) => `${r.methods.join('|')} ${r.path} -> ${r.handler}`),
              facts,
            ),
          );
          const again = shadowOf(alone, alone.table.routes.find((r) => r.handler === route.handler) as never);
          expect(again).toMatchObject({ methods: shadow.methods });
        }
      }
    }),
    { numRuns: runs(40) },
  );
});

test('a union shadows only when it really covers', () => {
  const shadows = (list: string[]) => {
    const router = buildRouter(tableOf(list));
    return router.table.routes.flatMap((r) => {
      const s = shadowOf(router, r);
      return s !== undefined && !('why' in s)
        ? [`${r.handler}: ${s.methods.join(',')} by ${s.by.map((b) => b.handler).join('+')}`]
        : [];
    });
  };
  expect(shadows(['GET /b/{x:int} -> i', 'GET /b/{x:alpha} -> a', 'GET /b/{x:alnum} -> n'])).toEqual([]);
  expect(shadows(['GET /b/{x:uint} -> i', 'GET /b/{x:alpha} -> a', 'GET /b/{x:[0-9]+|[a-z]+} -> n'])).toEqual(['n: GET by i+a']);
  expect(shadows(['GET /b/{x} -> g', 'GET|POST /b/closed -> c'])).toEqual(['c: GET by g']);
  expect(shadows(['ANY /{all*} -> all', 'GET /b -> b'])).toEqual(['b: GET by all']);
  const among = Array.from({ length: 40 }, (_, i) => `GET /b/${i + 1} -> h${i}`);
  expect(shadows([...among, 'GET /b/{n:among(1,2,3,40)} -> n'])).toEqual(['n: GET by h0+h1+h2+h39']);
});

test('routes that go before one another in a circle, or overlap themselves, are decided by following each class', () => {
  const said = (list: string[], facts: RouterSettings, handler: string): unknown => {
    const router = buildRouter(tableOf(list, facts));
    return shadowOf(router, router.table.routes.find((r) => r.handler === handler) as never);
  };
  const circle = ['GET /{a}/{rest+} -> h0', 'GET|POST /locks/{rest:any} -> h1', 'GET /locks -> h2', 'GET /{c:alpha}/locks -> h3'];
  const byPart: RouterSettings = { precedence: 'most-specific', specificity: 'containment', ties: 'first-declared' };
  expect(said(circle, { ...byPart, wrongMethod: 'refuse', trailingSlash: 'removed' }, 'h1')).toBeUndefined();
  const shapes = ['ANY /{g:among(locks,7)}/{b:int} -> h0', 'ANY /{c:alpha}/{last?} -> h1', 'GET /{a}/{g:among(locks,7)} -> h2'];
  const empty: RouterSettings = { precedence: 'last-declared', types: 'after-match', wrongMethod: 'refuse' };
  // h1 has a second shape and is another path, so the first path that fits is that of h2 and h0.
  expect(said(shapes, { ...empty, emptyValue: 'accepted' }, 'h0')).toBeUndefined();
  expect(said(shapes, empty, 'h1')).toBeUndefined();
});
