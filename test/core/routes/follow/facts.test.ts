import fc from 'fast-check';
import { expect, test } from 'vitest';
import { contextOf, type Service } from '../../../../src/core/checks/engine/context.ts';
import { check } from '../../../../src/core/checks/index.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../../../../src/core/routes/follow/outcome.ts';
import { followWithFacts } from '../../../../src/core/routes/follow/with-facts.ts';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { nearest } from '../../../../src/core/routes/suggest/nearest-routes.ts';
import { FACTS, type RouterSettings } from '../../../../src/core/routes/table/router-facts.ts';
import { followingLine } from '../../../../src/views/following.ts';
import { runs } from '../../../runs.ts';
import { entries, PATHS, settings, tableOf, versioning } from '../../tables.ts';

const AB = ['GET /locks/{id} -> a', 'GET /locks/closed -> b'];
const SHARED = ['GET /{a:int}/x -> a', 'GET /{b:hex}/x -> b'];

/** facts | routes | request | who takes it, or what is answered */
const ROWS: readonly (readonly [RouterSettings, readonly string[], string, string])[] = [
  [{}, AB, 'GET /locks/closed', 'a'],
  [{ precedence: 'last-declared' }, AB, 'GET /locks/closed', 'b'],
  [{ precedence: 'most-specific' }, AB, 'GET /locks/closed', 'b'],
  [{ precedence: 'exclusive' }, AB, 'GET /locks/closed', 'b'],
  [{ precedence: 'unknown' }, AB, 'GET /locks/closed', 'undecided'],
  [{ precedence: 'unknown' }, AB, 'GET /locks/7', 'a'],
  [{ precedence: 'most-specific' }, SHARED, 'GET /7/x', 'ambiguous'],
  [{ precedence: 'most-specific', ties: 'first-declared' }, SHARED, 'GET /7/x', 'a'],
  [
    { precedence: 'most-specific', specificity: 'literal-length' },
    ['GET /a/{x}/{y} -> a', 'GET /{x}/bcd/{y} -> b'],
    'GET /a/bcd/7',
    'b',
  ],
  [
    { precedence: 'most-specific', specificity: 'fewest-parameters' },
    ['GET /{x}/{y} -> a', 'GET /long-{x} -> b', 'GET /{rest*} -> c'],
    'GET /long-7',
    'ambiguous',
  ],
  [{ precedence: 'most-specific' }, ['GET /a/b -> a', 'GET /{x}/c -> b'], 'GET /a/c', 'b'],
  [{ precedence: 'most-specific', deadEnds: 'give-up' }, ['GET /a/b -> a', 'GET /{x}/c -> b'], 'GET /a/c', 'not-found 404'],
  [{}, ['GET /locks/closed -> a', 'DELETE /locks/{id} -> b'], 'DELETE /locks/closed', 'b'],
  [
    { wrongMethod: 'refuse' },
    ['GET /locks/closed -> a', 'DELETE /locks/{id} -> b'],
    'DELETE /locks/closed',
    'method-not-allowed 405 GET,HEAD,OPTIONS',
  ],
  [{ wrongMethod: 'refuse' }, ['GET /a/{x} -> a', 'GET /b -> c', 'POST /a/{y} -> b'], 'POST /a/7', 'b'],
  [{ noMethod: '404' }, ['GET /a -> a'], 'POST /a', 'not-found 404'],
  [{ noMethod: 'unknown' }, ['GET /a -> a'], 'POST /a', 'undecided GET,HEAD,OPTIONS'],
  [{}, ['GET /a -> a'], 'HEAD /a', 'a'],
  [{ head: 'declared', options: 'declared' }, ['GET /a -> a'], 'HEAD /a', 'method-not-allowed 405 GET'],
  [{}, ['GET /a -> a'], 'OPTIONS /a', 'routed GET,HEAD,OPTIONS'],
  [{}, ['GET /{x:int} -> a', 'GET /{y} -> b'], 'GET /elm', 'b'],
  [{ types: 'after-match', refusal: '422' }, ['GET /{x:int} -> a', 'GET /{y} -> b'], 'GET /elm', 'refused 422'],
  [{}, ['GET /a -> a'], 'GET /a/', 'not-found 404'],
  [{ trailingSlash: 'either' }, ['GET /a/ -> a'], 'GET /a', 'a'],
  [{ trailingSlash: 'may-add' }, ['GET /a -> a'], 'GET /a/', 'a'],
  [{ trailingSlash: 'may-add' }, ['GET /a/ -> a'], 'GET /a', 'not-found 404'],
  [{ trailingSlash: 'removed' }, ['GET /a/ -> a', 'GET /a -> b'], 'GET /a/', 'b'],
  [{ doubledSlash: 'one' }, ['GET /a/b -> a'], 'GET /a//b', 'a'],
  [{ dotSegments: 'resolved' }, ['GET /a -> a'], 'GET /x/../a', 'a'],
  [{}, ['GET /Locks -> a'], 'GET /locks', 'not-found 404'],
  [{ letterCase: 'either' }, ['GET /Locks/{id} -> a'], 'GET /LOCKS/Elm', 'a id=Elm'],
  [{ encodedSlash: 'value' }, ['GET /{x} -> a'], 'GET /a%2Fb', 'a x=a/b'],
  [{ encodedSlash: 'separator' }, ['GET /a/{x} -> a'], 'GET /a%2Fb', 'a x=b'],
  [{ encodedSlash: 'refused' }, ['GET /{x} -> a'], 'GET /a%2Fb', 'bad-request 400'],
  [{ emptyValue: 'accepted' }, ['GET /a/{x} -> a'], 'GET /a/', 'a x='],
  [{ longestValue: 3 }, ['GET /{x} -> a'], 'GET /abcd', 'not-found 404'],
  [{ longestValue: 3 }, ['GET /{x:int} -> a', 'GET /v{y}.{z:alpha} -> b'], 'GET /1234', 'not-found 404'],
  [{ longestValue: 3 }, ['GET /v{y}.{z:alpha} -> b'], 'GET /v12.abc', 'b'],
  [{ longestValue: 3 }, ['GET /v{y}.{z:alpha} -> b'], 'GET /v12.abcd', 'not-found 404'],
  [{ decoding: 'values-only' }, ['GET /upper%20gate -> a'], 'GET /upper%20gate', 'a'],
  [{ decoding: 'values-only' }, ['GET /upper%2Dgate -> a'], 'GET /upper-gate', 'not-found 404'],
  [{}, ['GET /upper%2Dgate -> a'], 'GET /upper-gate', 'a'],
  [{ split: 'longest' }, ['GET /{x}-{y} -> a'], 'GET /a-b-c', 'a x=a-b y=c'],
  [{ suffix: 'optional' }, ['GET /a -> a'], 'GET /a.json', 'a'],
];

test.each(ROWS)('%j: %j, %s', (facts, routes, asked, expected) => {
  const [method = '', target = ''] = asked.split(' ');
  const f = follow(buildRouter(tableOf(routes, facts)), { method, target, headers: {} });
  const values = [...f.parameters].map(([name, { text }]) => ` ${name}=${text}`).join('');
  const answer = [f.outcome, f.status, f.allow?.join()].filter((x) => x !== null && x !== undefined).join(' ');
  const shown =
    f.outcome === 'routed' && f.leaf !== undefined ? f.leaf.route.handler + (/=/u.test(expected) ? values : '') : answer;
  expect(shown).toBe(expected);
});

/** facts | routes | request | who takes it, or the outcome | the facts that it rests on */
const RESTS: readonly (readonly [RouterSettings, readonly string[], string, string, string])[] = [
  [{}, ['GET /a -> a'], 'GET /a', 'a', ''],
  [{}, ['GET /a -> a'], 'GET /b', 'not-found', ''],
  [{}, ['GET /a -> a'], 'GET /a/', 'not-found', 'trailingSlash'],
  [{}, ['GET /Locks -> a'], 'GET /locks', 'not-found', 'letterCase'],
  [{}, ['GET /{x:int} -> a'], 'GET /elm', 'not-found', 'types'],
  // Without its type the second of the route's two shapes takes it too, with other values.
  [{}, ['GET /{m?}/{c:alpha}/{rest:any} -> a'], 'GET /v7/closed/7', 'a', 'types'],
  [{}, ['GET /a//b -> a'], 'GET /a//b', 'a', 'doubledSlash'],
  [{}, ['GET /a/{x} -> a'], 'GET /a/', 'not-found', 'emptyValue'],
  [{ longestValue: 3 }, ['GET /{x} -> a'], 'GET /abcd', 'not-found', 'tooLong,longestValue'],
  [{ precedence: 'most-specific' }, ['GET /a/b -> a', 'GET /{x}/c -> b'], 'GET /a/c', 'b', 'deadEnds'],
  [{ trailingSlash: 'unknown' }, ['GET /a -> a'], 'GET /a', 'a', ''],
  [{ trailingSlash: 'unknown' }, ['GET /a -> a'], 'GET /a/', 'undecided', 'trailingSlash'],
  [{ types: 'unknown', refusal: 'unknown' }, ['GET /{x:int} -> a'], 'GET /elm', 'undecided', 'types'],
  [{ head: 'unknown' }, ['GET /a -> a'], 'HEAD /a', 'undecided', 'head'],
];

test.each(RESTS)('%j: %j, %s is %s and rests on %s', (facts, routes, asked, expected, rests) => {
  const [method = '', target = ''] = asked.split(' ');
  const f = followWithFacts(buildRouter(tableOf(routes, facts)), { method, target, headers: {} });
  expect([f.leaf?.route.handler ?? f.outcome, f.restsOn.map((r) => r.fact).join()]).toEqual([expected, rests]);
});

test('the facts that an outcome rests on are those that would change it, each tried on the whole table', () => {
  const paths = fc.constantFrom(...PATHS, '/LOCKS/7', '/locks//7', '/locks/./7', '/locks/%37', '/closed/7.json/');
  fc.assert(
    fc.property(entries, settings, paths, fc.constantFrom('GET', 'HEAD', 'POST', 'OPTIONS'), (list, facts, target, method) => {
      const under = (more: RouterSettings): string => {
        const f = follow(buildRouter(tableOf(list, { ...facts, ...more })), { method, target, headers: {} });
        return JSON.stringify([
          f.outcome,
          f.status,
          f.leaf?.route.handler,
          [...f.parameters].map(([n, v]) => [n, v.text]),
          f.allow,
        ]);
      };
      const matter = Object.entries(FACTS).filter(([name, { values }]) =>
        values.some((value) => value !== 'unknown' && under({ [name]: value }) !== under({})),
      );
      const f = followWithFacts(buildRouter(tableOf(list, facts)), { method, target, headers: {} });
      expect(f.restsOn.map((r) => r.fact).filter((n) => n !== 'longestValue')).toEqual(matter.map(([name]) => name));
    }),
    { numRuns: runs(80) },
  );
});

test('an answer is the same whatever the router was asked before', () => {
  const request = fc.tuple(fc.constantFrom(...PATHS, '/LOCKS/7'), fc.constantFrom('GET', 'GET', 'POST', 'HEAD', 'OPTIONS'));
  const asked = fc.array(request, { minLength: 5, maxLength: 30 });
  const shown = (followed: RoutingOutcome): unknown => {
    const { request: _, shared: __, leaf, alsoMatched, ...rest } = followed;
    const parts = followingLine({ following: followed, near: [], judged: undefined }, () => undefined);
    const line = parts.map((p) => (typeof p === 'string' ? p : new TextDecoder().decode(p))).join('');
    const also = alsoMatched.map((a) => [a.leaf.route.handler, a.why]);
    return { ...rest, leaf: leaf?.route.handler, parameters: [...followed.parameters], also, line: JSON.parse(line) };
  };
  fc.assert(
    fc.property(entries, settings, asked, (list, facts, requests) => {
      const router = buildRouter(tableOf(list, facts));
      for (const [target, method] of requests) {
        const fresh = followWithFacts(buildRouter(tableOf(list, facts)), { method, target, headers: {} });
        const kept = followWithFacts(router, { method, target, headers: {} });
        expect(shown(kept)).toEqual(shown(fresh));
        expect(shown(kept)).toMatchObject({ line: { request: { method, target, headers: {} }, outcome: kept.outcome } });
      }
    }),
    { numRuns: runs(100) },
  );
});

test('what a route without media types takes may be unknown', () => {
  const ask = (headers: Record<string, string>): string =>
    followWithFacts(buildRouter(tableOf(['GET /a -> a'], { undeclared: 'unknown' })), { method: 'GET', target: '/a', headers })
      .outcome;
  expect([ask({}), ask({ Accept: '*/*' }), ask({ Accept: 'text/csv' })]).toEqual(['routed', 'routed', 'undecided']);
});

test('a group can end the search, by segments or by text', () => {
  const group = { within: '/v1', unmatched: 'end' as const, routes: ['GET /a -> a'] };
  const taker = (target: string, facts: RouterSettings): string | undefined =>
    follow(buildRouter(tableOf([group as never, 'GET /{rest*} -> all'], facts)), { method: 'GET', target, headers: {} }).leaf
      ?.route.handler;
  expect([taker('/v1/a', {}), taker('/v1/b', {}), taker('/v10/b', {})]).toEqual(['a', undefined, 'all']);
});

const VERSIONED = [
  { route: 'GET /a', handler: 'one', version: '1', returns: ['application/json', 'application/xml'] },
  { route: 'GET /a', handler: 'two', version: ['2'], takes: ['application/json'] },
];

test.each([
  [{ 'Desk-Version': '1' }, 'one application/json'],
  [{ 'desk-version': '1', Accept: 'application/xml;q=0.9, text/*' }, 'one application/xml'],
  [{ 'Desk-Version': '1', Accept: 'text/csv' }, 'not-acceptable 406'],
  [{}, 'two '],
  [{ 'Content-Type': 'application/json; charset=utf-8' }, 'two '],
  [{ 'Content-Type': 'text/csv' }, 'unsupported-media-type 415'],
  [{ 'Desk-Version': '3' }, 'version-unknown 404'],
  [{ 'Desk-Version': '9' }, 'version-unknown 400'],
])('versions and media types by headers %j', (headers, expected) => {
  const router = buildRouter(tableOf(VERSIONED as never), versioning);
  const f = follow(router, { method: 'GET', target: '/a', headers: headers as Record<string, string> });
  expect(f.leaf === undefined ? `${f.outcome} ${f.status}` : `${f.leaf.route.handler} ${f.responseType?.type ?? ''}`).toBe(
    expected,
  );
});

test('routes that only their version tells apart are undecided without a selector', () => {
  expect(follow(buildRouter(tableOf(VERSIONED as never)), { method: 'GET', target: '/a', headers: {} }).outcome).toBe(
    'undecided',
  );
});

const TABLE = [
  'GET /v2/locks -> list',
  'GET /v2/locks/{lockId:int} -> read',
  'GET /v2/locks/{lockId:int}/gates -> gates',
  'GET /v2/tolls/ -> tolls',
  'GET /v2/basins/{b}/berths -> berths',
];

test.each([
  ['/locks/7', 'prefix', '/v2/locks/7'],
  ['/api/v2/locks', 'prefix', '/v2/locks'],
  ['/v3/locks', 'version', '/v2/locks'],
  ['/v2/locks/elm', 'type', '/v2/locks/7'],
  ['/v2/lokcs', 'spelling', '/v2/locks'],
  ['/v2/locks/', 'slash', '/v2/locks'],
  ['/v2/tolls', 'slash', '/v2/tolls/'],
  ['/v2/locks/7.json', 'suffix', '/v2/locks/7'],
  ['/v2/locks/7/gates/upper', 'extra', '/v2/locks/7/gates'],
  ['/v2/basins/berths', 'missing', '/v2/basins/7/berths'],
])('the nearest of %s is told by its %s', (target, cause, works) => {
  const router = buildRouter(tableOf(TABLE));
  const [first] = nearest(router, follow(router, { method: 'GET', target, headers: {} }));
  expect(first).toMatchObject({ cause, target: works });
  expect(follow(router, { method: 'GET', target: works, headers: {} }).leaf?.route).toBe(first?.route);
});

/** rule | facts | a table that it speaks of | one that it does not */
const RULES: readonly (readonly [string, RouterSettings, readonly string[], readonly string[]])[] = [
  ['paths/partly-shadowed', {}, ['GET /{b}/berths -> a', 'GET /elm/{k} -> b'], ['GET /elm/berths -> a', 'GET /{b}/{k} -> b']],
  ['paths/ambiguous', { precedence: 'most-specific' }, SHARED, ['GET /{a:int}/x -> a', 'GET /{b:alpha}/x -> b']],
  ['paths/ambiguous', { precedence: 'exclusive' }, ['GET /{b}/berths -> a', 'GET /elm/{k} -> b'], AB],
  ['paths/duplicate', { duplicates: 'refused' }, ['GET /a/{x} -> a', 'GET /a/{y} -> b'], ['GET /a/{x} -> a', 'POST /a/{y} -> b']],
  ['paths/duplicate', { sameShape: 'refused' }, ['GET /a/{x} -> a', 'POST /a/{y} -> b'], ['GET /a/{x} -> a', 'POST /a/{x} -> b']],
  ['paths/stray-method', {}, ['GET /a/b -> a', 'DELETE /a/{x} -> b'], ['GET /a/b -> a', 'DELETE /a/{x:int} -> b']],
  ['paths/twin-spelling', {}, ['GET /a -> a', 'GET /a/ -> b'], ['GET /a -> a', 'GET /b -> b']],
  ['paths/twin-spelling', {}, ['GET /basin/{x} -> a', 'GET /basins/{x} -> b'], ['GET /basin/{x} -> a', 'GET /basins -> b']],
  ['paths/swallowed-suffix', {}, ['GET /a.json -> a', 'GET /a/{x} -> b'], ['GET /a.json -> a', 'GET /a/{x:int} -> b']],
  ['paths/refused-by-handler', { types: 'after-match', refusal: '500' }, ['GET /{x:int} -> a'], ['GET /{x} -> a']],
];

test.each(RULES)('%s under %j speaks of %j and not of %j', (rule, facts, speaks, quiet) => {
  const rules = (routes: readonly string[]): readonly string[] => {
    const service: Service = { name: 'canal', table: tableOf(routes, facts), contracts: [] };
    expect(contextOf(service).router).toBeDefined();
    return check(service).map((f) => f.rule);
  };
  expect(rules(speaks)).toContain(rule);
  expect(rules(quiet)).not.toContain(rule);
});
