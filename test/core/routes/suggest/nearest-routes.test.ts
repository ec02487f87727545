/** What is said of a request that nobody takes: a route near to it, by what was done to the request. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { check } from '../../../../src/core/checks/index.ts';
import { follow } from '../../../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { nearest } from '../../../../src/core/routes/suggest/nearest-routes.ts';
import { runs } from '../../../runs.ts';
import { entries, PATHS, settings, tableOf } from '../../tables.ts';

const ROUTES = [
  'GET /v2/locks -> locks.list',
  'GET /v2/locks/{lockId:uint} -> locks.read',
  'GET /v2/locks/{lockId:uint}/gates -> gates.list',
  'POST /v2/passages/{passageId:uuid}/cancel -> passages.cancel',
  'GET /v2/vessels/{registration:[A-Z]{2}-[0-9]{4}} -> vessels.read',
  'GET /v2/notices/archive/{year:int(1900..2100)} -> notices.year',
  'GET /health/ -> health.read',
];
const ASKED = [
  'GET /v2/locks locks.list',
  'GET /v2/locks/7 locks.read',
  'GET /v2/locks/7/gates gates.list',
  'POST /v2/passages/3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b/cancel passages.cancel',
  'GET /v2/vessels/TE-4821 vessels.read',
  'GET /v2/notices/archive/2027 notices.year',
  'GET /health/ health.read',
];

/** What people do to a path, and what is said then. */
const SLIPS: Record<string, readonly [(segments: readonly string[], at: number) => readonly string[], RegExp]> = {
  slash: [(s) => (s.at(-1) === '' ? s.slice(0, -1) : [...s, '']), /slash at (?:the|its) end/u],
  doubled: [(s, at) => [...s.slice(0, at), '', ...s.slice(at)], /two slashes|slash at the end|prefix \//u],
  suffix: [(s) => s.map((t, i) => (i === s.length - 1 && t !== '' ? `${t}.json` : t)), /no suffix \.json/u],
  'no prefix': [(s) => s.slice(1), /prefix \/(?:v2|health) was left out|no route for \/,/u],
  'another prefix': [(s) => ['api', ...s], /no prefix \/api/u],
  'another version': [(s) => s.map((t) => (t === 'v2' ? 'v3' : t)), /the version is v3/u],
  spelling: [(s, at) => s.map((t, i) => (i === at && /^[a-z]{4,}$/u.test(t) ? t.slice(0, -2) + t.slice(-1) : t)), /is spelt/u],
  type: [(s) => s.map((t) => (/^\d+$/u.test(t) ? 'elm' : t)), /is not an? (?:uint|int)/u],
};

test.each(Object.keys(SLIPS))('%s: the route that was meant is named, with a target that reaches it', (name) => {
  const router = buildRouter(tableOf(ROUTES));
  const [slip, says] = SLIPS[name] as (typeof SLIPS)[string];
  let told = 0;
  for (const asked of ASKED) {
    const [method = '', target = '', handler] = asked.split(' ');
    const segments = target.split('/').slice(1);
    for (let at = 0; at < segments.length; at++) {
      const wrong = slip(segments, at);
      if (wrong.length === 0 || wrong.join('/') === segments.join('/')) continue;
      const following = follow(router, { method, target: `/${wrong.join('/')}`, headers: {} });
      if (following.outcome !== 'not-found') continue;
      const found = nearest(router, following);
      const meant = found.find((n) => n.route.handler === handler);
      expect(meant?.message ?? found, `${following.request.target} for ${asked}`).toMatch(says);
      expect(follow(router, { method, target: meant?.target ?? '', headers: {} }).leaf?.route.handler).toBe(handler);
      told += 1;
    }
  }
  expect(told).toBeGreaterThan(0);
});

test('every route that is named takes the target that is named for it, and nothing is named of a request that is taken', () => {
  let named = 0;
  fc.assert(
    fc.property(entries, settings, fc.constantFrom(...PATHS), fc.constantFrom('GET', 'POST'), (list, facts, target, method) => {
      const router = buildRouter(tableOf(list, facts));
      const following = follow(router, { method, target, headers: {} });
      const found = nearest(router, following);
      if (following.outcome !== 'not-found') expect(found).toEqual([]);
      for (const near of found) {
        named += 1;
        expect(follow(router, { method, target: near.target, headers: {} }).leaf?.route).toBe(near.route);
        expect(near.message).not.toMatch(/undefined|\[object|""/u);
      }
      expect(new Set(found.map((n) => n.route)).size).toBe(found.length);
    }),
    { numRuns: runs(500) },
  );
  expect(named).toBeGreaterThan(runs(60));
});

test('a target that the document refuses is not named: its values are put right, or nothing is said', () => {
  const router = buildRouter(tableOf(ROUTES));
  const following = follow(router, { method: 'GET', target: '/locks/99999', headers: {} });
  const targets = (...refused: readonly string[]): readonly string[] =>
    nearest(router, following, ({ request }) => refused.includes(request.target)).map((n) => n.target);
  const [usual = ''] = targets();
  expect(usual).toBe('/v2/locks/99999');
  const [mended = ''] = targets(usual);
  expect(mended).toMatch(/^\/v2\/locks\/\d+$/u);
  expect(mended).not.toBe(usual);
  expect(targets(usual, mended).filter((t) => t.startsWith('/v2/locks/'))).toEqual([]);
});

/** What is expected of GET /v2/locks/7 | what is told. */
const EXPECTED: readonly (readonly [object, string | undefined])[] = [
  [{ handler: 'locks.read', parameters: { lockId: '7' } }, undefined],
  [{ handler: 'gates.list' }, 'be handled by gates.list, and is handled by locks.read'],
  [{ status: 404 }, 'be answered 404, and is handled by locks.read'],
  [{ parameters: { lockId: '8' } }, 'have lockId = "8", and has lockId = "7"'],
  [{ parameters: { gateId: '8' } }, 'have gateId = "8", and has no gateId'],
  [{ allow: ['GET'] }, 'allow GET, and has no Allow'],
  [{ request: { method: 'PUT', target: '/v2/locks/7' }, status: 405, allow: ['GET', 'HEAD', 'OPTIONS'] }, undefined],
  [{ request: { method: 'PUT', target: '/v2/locks/7' }, allow: ['GET', 'PUT'] }, 'allow GET, PUT, and allows GET, HEAD, OPTIONS'],
  [{ request: { method: 'GET', target: '/v2/lock/7' }, handler: 'locks.read' }, 'be handled by locks.read, and is answered 404'],
];

test.each(EXPECTED)('expected %j of a request: %s', (expected, says) => {
  const place = { file: 'elm-gate.yaml', pointer: '/expect/0' };
  const request = { method: 'GET', target: '/v2/locks/7', headers: {} };
  const expectation = {
    request,
    place,
    ...expected,
    ...('request' in expected ? { request: { ...request, ...(expected.request as object) } } : {}),
  };
  const found = check({ name: 'canal', table: tableOf(ROUTES), contracts: [], expectations: [expectation] } as never).filter(
    (f) => f.rule === 'paths/unexpected-outcome',
  );
  expect(found.map(({ data }) => `${data.expected}, and ${data.found}`)).toEqual(says === undefined ? [] : [says]);
  // What is near is said where nobody takes it.
  if (says?.endsWith('404') === true)
    expect(found[0]?.data.near).toMatch(/"lock" is spelt "locks".*\/v2\/locks\/7 would be handled by locks\.read/u);
});
