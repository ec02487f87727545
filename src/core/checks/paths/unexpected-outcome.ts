import { passedToNobody } from '../../routes/follow/gateway.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import { followWithFacts } from '../../routes/follow/with-facts.ts';
import type { Router } from '../../routes/index/router.ts';
import { nearest } from '../../routes/suggest/nearest-routes.ts';
import { type Expectation, spotOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const unexpectedOutcome: Rule = {
  id: 'paths/unexpected-outcome',
  level: 'error',
  messages: { differs: '{request} was expected to {expected}, and {found}' },
  advice: { near: '{near}.', table: 'Fix the table, or the expectation if it has become wrong.' },
  meta: {
    what: 'A request under expect: in the settings whose outcome is not the one that was written down.',
    why: 'Somebody depends on it. A changed table hands requests to other handlers without anybody noticing.',
    example: 'expect:\n  - { request: GET /locks/7, handler: locks.read, parameters: { lockId: "7" } }',
    fix: 'Run "elm-gate follow" with the request to see which route handles it and why, then fix the table or the expectation.',
  },
  check: ({ router, service }) => (router === undefined ? [] : (service.expectations ?? []).flatMap((e) => report(router, e))),
};

function report(router: Router, expectation: Expectation): readonly Found[] {
  const following = expectation.isPassedToNobody
    ? passedToNobody(expectation.request)
    : followWithFacts(router, expectation.request);
  const { request, leaf, status } = following;
  const wrong = differences(expectation, following);
  if (wrong.length === 0) return [];
  const [near] = nearest(router, following);
  return [
    {
      message: 'differs',
      advice: near === undefined ? 'table' : 'near',
      data: {
        request: `${expectation.request.method} ${expectation.request.target}`,
        expected: wrong.map((w) => w.expected).join(' and '),
        found: wrong.map((w) => w.found).join(' and '),
        near: near === undefined ? '' : `Nearest: ${near.message}; ${near.target} would be handled by ${near.route.handler}`,
      },
      at: { place: expectation.place, what: `${expectation.request.method} ${expectation.request.target}` },
      related: following.leaf === undefined ? [] : [{ role: 'handles it', ...spotOf(following.leaf.route) }],
      witness: { kind: 'request', request, takenBy: leaf?.route.handler ?? null, status },
      restsOn: following.restsOn,
    },
  ];
}

function differences(
  { handler, status, parameters, allow }: Expectation,
  f: RoutingOutcome,
): readonly { expected: string; found: string }[] {
  const out: { expected: string; found: string }[] = [];
  const taker = f.leaf?.route.handler;
  const fate = taker === undefined ? `is answered ${f.status ?? f.outcome}` : `is handled by ${taker}`;
  if (handler !== undefined && taker !== handler) out.push({ expected: `be handled by ${handler}`, found: fate });
  if (status !== undefined && f.status !== status) out.push({ expected: `be answered ${status}`, found: fate });
  if (allow !== undefined && [...allow].sort().join() !== [...(f.allow ?? [])].sort().join()) {
    out.push({
      expected: `allow ${allow.join(', ')}`,
      found: f.allow === null ? 'has no Allow' : `allows ${f.allow.join(', ')}`,
    });
  }
  for (const [name, text] of Object.entries(parameters ?? {})) {
    const found = f.parameters.get(name)?.text;
    if (found !== text)
      out.push({
        expected: `have ${name} = "${text}"`,
        found: found === undefined ? `has no ${name}` : `has ${name} = "${found}"`,
      });
  }
  return out;
}
