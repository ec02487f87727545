/** Random tables in our style and in a judge's, and what both must agree on. */
import fc from 'fast-check';
import { expect } from 'vitest';
import { duplicates } from '../../src/core/routes/findings/duplicates.ts';
import { requestFor, shadowOf } from '../../src/core/routes/findings/shadow.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import { buildRouter, type Router } from '../../src/core/routes/index/router.ts';
import type { RouterSettings } from '../../src/core/routes/table/router-facts.ts';
import { tableOf } from '../core/tables.ts';
import { runs } from '../runs.ts';

export const REQUESTS = runs(12_000);
export const PER_RUN = 60;

/** A segment in our brace style, and what the judges call it. */
export interface Part {
  readonly ours: string;
  readonly colon: string;
  readonly hono: string;
  readonly find: string;
}
export const same = (text: string): Part => ({ ours: text, colon: text, hono: text, find: text });
export const parameter = (n: number): Part => ({ ours: `{p${n}}`, colon: `:p${n}`, hono: `:p${n}`, find: `:p${n}` });
export const digits = (n: number): Part => ({
  ours: `{p${n}:uint}`,
  colon: `:p${n}(\\d+)`,
  hono: `:p${n}{[0-9]+}`,
  find: `:p${n}(^\\d+$)`,
});
export const letters = (n: number): Part => ({
  ours: `{p${n}:[a-z]+}`,
  colon: `:p${n}([a-z]+)`,
  hono: `:p${n}{[a-z]+}`,
  find: `:p${n}(^[a-z]+$)`,
});

export interface Declared {
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

export interface Verdict {
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

export type Judge = (request: { method: string; target: string }) => Verdict | undefined;

/** Every answer and every parameter agrees; shadowed routes are never reached, and the others come with a request that does. */
export function judged(
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
