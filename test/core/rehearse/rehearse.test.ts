/** Answers of a running service against the model: what each says, and that no experiment misleads. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Answer, judgeAnswer } from '../../../src/core/rehearse/answer.ts';
import { experimentsFor, factsBy } from '../../../src/core/rehearse/experiments.ts';
import { follow } from '../../../src/core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../../../src/core/routes/follow/outcome.ts';
import { buildRouter } from '../../../src/core/routes/index/router.ts';
import { variantOf } from '../../../src/core/routes/index/variants.ts';
import { FACT_NAMES, FACTS } from '../../../src/core/routes/table/router-facts.ts';
import { runs } from '../../runs.ts';
import { entries, tableOf } from '../tables.ts';

const METHODS = new Set(['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE']);

/** What a service answers that behaves like this. */
function answerTo({ outcome, status, allow }: RoutingOutcome): Answer {
  if (outcome === 'routed') return { status: 200, headers: {}, body: '' };
  return { status: status ?? 500, headers: allow === null ? {} : { allow: allow.join(', ') }, body: '' };
}

test('experiments: a service that differs in one fact -> its value is among those that explain the answers', () => {
  let found = 0;
  fc.assert(
    fc.property(entries, fc.constantFrom(...FACT_NAMES), fc.nat(), (list, fact, n) => {
      const router = buildRouter(tableOf(list));
      const values = FACTS[fact].values as readonly string[];
      const truth = values[n % values.length] as string;
      const service = variantOf(router, fact, truth);
      const { list: experiments } = experimentsFor(router, METHODS);
      const results = factsBy(router, experiments, (request) => answerTo(follow(service, request)));
      // A service that has none of the routes tells nothing.
      const silent = factsBy(router, experiments, () => ({ status: 404, headers: {}, body: '' }));
      expect(silent.filter((r) => r.state !== 'open')).toEqual([]);
      const own = results.find((r) => r.fact === fact);
      if (own === undefined) return;
      expect({ fact, truth, consistent: own.consistent }).toEqual({ fact, truth, consistent: expect.arrayContaining([truth]) });
      if (own.state === 'contradicted') found += 1;
    }),
    { numRuns: runs(60) },
  );
  expect(found).toBeGreaterThan(0);
});

test('experiments: a service that differs in two facts -> what no value explains alone, pairs explain or it is open', () => {
  const met = { wrong: 0, together: 0, right: 0 };
  const fact = fc.tuple(fc.constantFrom(...FACT_NAMES), fc.nat());
  fc.assert(
    fc.property(entries, fact, fact, (list, ...two) => {
      const router = buildRouter(tableOf(list));
      const truth = new Map(two.map(([name, n]) => [name, FACTS[name].values[n % FACTS[name].values.length] as string]));
      const service = [...truth].reduce((r, [name, value]) => variantOf(r, name, value), router);
      const { list: experiments } = experimentsFor(router, METHODS);
      for (const r of factsBy(router, experiments, (request) => answerTo(follow(service, request)))) {
        const own = truth.get(r.fact) ?? String(router.facts[r.fact]);
        if (r.consistent.length === 0)
          expect([r.fact, r.state]).toEqual([r.fact, r.together.length > 0 ? 'contradicted' : 'open']);
        if (r.together.length > 0) met.together += 1;
        else met[r.consistent.includes(own) || r.state === 'open' ? 'right' : 'wrong'] += 1;
      }
    }),
    { numRuns: runs(60) },
  );
  expect(met.wrong / met.right).toBeLessThan(0.02);
});

test('experiments: what rests on two facts at once -> the pairs that explain the answers', () => {
  const router = buildRouter(
    tableOf([
      'GET /locks -> a',
      'GET /locks/{id:int} -> b',
      'POST /locks/{id} -> c',
      'GET /{x}/closed -> d',
      'PUT /gates/{rest*} -> e',
    ]),
  );
  const service = variantOf(variantOf(router, 'precedence', 'first-declared'), 'trailingSlash', 'either');
  const { list } = experimentsFor(router, METHODS);
  const results = factsBy(router, list, (request) => answerTo(follow(service, request)));
  const paired = results
    .filter((r) => r.together.length > 0)
    .map(({ fact, state, consistent, together }) => [fact, state, consistent, together[0]]);
  expect(paired).toEqual([['emptyValue', 'contradicted', [], 'emptyValue: refused, trailingSlash: either']]);
});

test('judgeAnswer: what the router can not have said -> open', () => {
  const router = buildRouter(tableOf(['GET /locks -> locks', 'GET /locks/{lockId} -> lock', 'POST /gates -> gates']));
  const judged = (method: string, target: string, status: number, headers: Answer['headers'] = {}): string =>
    judgeAnswer(follow(router, { method, target, headers: {} }), { status, headers, body: '' }).verdict;
  expect([200, 204, 409, 400].map((s) => judged('GET', '/locks', s))).toEqual(['agrees', 'agrees', 'agrees', 'agrees']);
  expect([401, 403, 429, 500, 503].map((s) => judged('GET', '/locks', s))).toEqual(['open', 'open', 'open', 'open', 'open']);
  expect([judged('GET', '/locks', 404), judged('GET', '/locks/7', 404), judged('GET', '/locks/7', 405)]).toEqual([
    'contradicts',
    'open',
    'contradicts',
  ]);
  expect([judged('GET', '/nowhere', 404), judged('GET', '/nowhere', 200)]).toEqual(['agrees', 'contradicts']);
  expect([
    judged('GET', '/gates', 405, { allow: 'POST, OPTIONS' }),
    judged('GET', '/gates', 405),
    judged('GET', '/gates', 405, { allow: 'PUT' }),
  ]).toEqual(['agrees', 'agrees', 'contradicts']);
  expect([judged('GET', '/locks/', 301, { location: '/locks' }), judged('GET', '/locks', 302, { location: '/login' })]).toEqual([
    'contradicts',
    'open',
  ]);
});
