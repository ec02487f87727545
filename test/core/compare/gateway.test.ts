/** Tables behind a gateway: what is told of a change is what a plain reading of both states says of requests. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Change } from '../../../src/core/compare/changes/change.ts';
import { compareTables } from '../../../src/core/compare/compare-tables.ts';
import type { GatewayState } from '../../../src/core/compare/table/through-gateway.ts';
import { follow } from '../../../src/core/routes/follow/follow.ts';
import { buildRouter, type Router } from '../../../src/core/routes/index/router.ts';
import type { Request } from '../../../src/core/routes/request/request.ts';
import { runs, SEED } from '../../runs.ts';
import { tableOf } from '../tables.ts';

const HOST = 'desk.example';
const MOUNTS = ['/', '/tolls', '/tolls/quotes', '/locks'];
const PATHS = ['/', '/{id}', '/quotes', '/quotes/{id}', '/tolls/{id}', '/{rest+}'];
const service = fc.record({
  mount: fc.constantFrom(...MOUNTS),
  isOfHost: fc.boolean(),
  letterCase: fc.constantFrom('exact' as const, 'either' as const),
  routes: fc.uniqueArray(fc.tuple(fc.constantFrom('GET', 'POST'), fc.constantFrom(...PATHS)), {
    minLength: 1,
    maxLength: 4,
    selector: (r) => r.join(' '),
  }),
});
type Service = typeof service extends fc.Arbitrary<infer T> ? T : never;
const state = fc.record({
  choice: fc.constantFrom('order' as const, 'longest-prefix' as const),
  services: fc.array(fc.option(service, { freq: 5 }), { minLength: 2, maxLength: 3 }),
});
/** Most services stay as they are. */
const drawn = fc.tuple(state, state, fc.array(fc.boolean(), { minLength: 3, maxLength: 3 }), fc.boolean());

function routerOf({ routes, mount, letterCase }: Service, i: number): Router {
  const rows = routes.map(([m, p]) => `${m} ${mount === '/' ? p : `${mount}${p}`} -> s${i}${m}${PATHS.indexOf(p)}`);
  const table = tableOf(rows, { letterCase });
  const placed = table.routes.map((r) => ({ ...r, place: { ...r.place, file: `s${i}.routes.yaml` } }));
  return buildRouter({ ...table, routes: placed }, undefined);
}

interface Known {
  readonly state: GatewayState;
  /** The number of the service that gets a request, read plainly, and its handler. */
  readonly read: (request: Request) => readonly [service: number, handler: string | null];
  readonly pathOf: (handler: string) => string;
}

function known(choice: 'order' | 'longest-prefix', services: readonly (Service | null)[]): Known {
  const all = services.flatMap((s, i) => (s === null ? [] : [{ ...s, i, router: routerOf(s, i) }]));
  const parts = (path: string): readonly string[] => path.split('/').filter((p) => p !== '');
  const read = (request: Request): readonly [number, string | null] => {
    const fits = all.filter(
      ({ mount, isOfHost }) =>
        parts(mount).every((p, k) => request.target.split('/')[k + 1] === p) && (!isOfHost || request.headers.Host === HOST),
    );
    const weight = (s: Service): number => parts(s.mount).length * 10 + (s.isOfHost ? 1 : 0);
    const [own] = choice === 'order' ? fits : fits.sort((a, b) => weight(b) - weight(a) || a.i - b.i);
    if (own === undefined) return [-1, null];
    const { outcome, leaf } = follow(own.router, request);
    return [own.i, outcome === 'routed' ? (leaf?.route.handler ?? null) : null];
  };
  const behind = ({ mount, isOfHost }: Service): { mount: string; host?: string } => ({
    mount,
    ...(isOfHost ? { host: HOST } : {}),
  });
  return {
    state: {
      choice,
      versioning: undefined,
      services: all.map((s) => ({ id: `s${s.i}`, name: `s${s.i}`, behind: behind(s), router: s.router })),
    },
    read,
    pathOf: (handler) => all.flatMap((s) => s.router.table.routes).find((r) => r.handler === handler)?.path ?? '',
  };
}

/** Does a change tell that a request fares so? What a mount does to many routes is told once, and touches each of them. */
function tells(
  { effect, rule, message, witness, touches }: Change,
  { method }: Request,
  was: readonly [number, string | null],
  is: readonly [number, string | null],
  pathOf: (handler: string) => string,
): boolean {
  if (effect === 'compatible' && rule !== 'versions/handler-renamed') return false;
  const isSame = witness?.kind === 'request' && witness.wasTakenBy === was[1] && (witness.isTakenBy ?? null) === is[1];
  if (isSame) return true;
  const touched = touches.flat().some((at) => at.method === method && at.path === pathOf(was[1] as string));
  // What a router fact does to many routes is told once too.
  if (rule === 'versions/router-fact') return touched && was[0] === is[0];
  const now = is[0] < 0 ? 'the gateway' : `s${is[0]}`;
  return was[0] !== is[0] && touched && message.includes(` by ${now} now`) && rule.endsWith(is[1] === null ? '-lost' : '-moved');
}

const TARGETS = [
  '/',
  '/7',
  '/tolls',
  '/tolls/7',
  '/tolls/quotes',
  '/tolls/quotes/9',
  '/tolls/tolls/9',
  '/locks',
  '/TOLLS/7',
  '/TOLLS/quotes/9',
  '/tolls/QUOTES/9',
  '/locks/7',
  '/quotes/3/4',
];
const PROBES = ['GET', 'POST'].flatMap((method) =>
  TARGETS.flatMap((target) => [{}, { Host: HOST }].map((headers): Request => ({ method, target, headers }))),
);

test('services come, go, move and lose routes -> every request that fares worse has its change, and no change is told without one', () => {
  fc.assert(
    fc.property(drawn, ([before, after, isKept, isSameChoice]) => {
      const services = after.services.map((s, i) => (isKept[i] === true ? (before.services[i] ?? s) : s));
      const old = known(before.choice, before.services);
      const now = known(isSameChoice ? before.choice : after.choice, services);
      const pair = { old: old.state, now: now.state };
      const ids = [...new Set([...old.state.services, ...now.state.services].map((s) => s.id))];
      const changes = ids.flatMap((id) => {
        const of = ({ services: all }: GatewayState): Router =>
          all.find((s) => s.id === id)?.router ?? buildRouter(tableOf([]), undefined);
        return compareTables(of(old.state), of(now.state), { pair, id }).changes;
      });
      for (const { effect, witness, message } of changes) {
        if (witness?.kind !== 'request' || effect === 'compatible') continue;
        const [was, is] = [old.read(witness), now.read(witness)];
        if (was[1] !== null) expect([message, was]).not.toEqual([message, is]);
      }
      for (const probe of PROBES) {
        const [was, is] = [old.read(probe), now.read(probe)];
        if (was[1] === null || was.join() === is.join()) continue;
        const told = changes.filter((change) => tells(change, probe, was, is, old.pathOf));
        expect([probe, was, is, told.length > 0]).toEqual([probe, was, is, true]);
      }
    }),
    { numRuns: runs(150), seed: SEED },
  );
});
