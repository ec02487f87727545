import { type Duplicate, renamed } from '../../routes/findings/duplicates.ts';
import type { Router } from '../../routes/index/router.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { isTree, orderFacts, restsOn } from '../../routes/table/router-facts.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const duplicate: Rule = {
  id: 'paths/duplicate',
  level: 'error',
  messages: {
    twice: '{route} is declared twice: {other} matches the same requests',
    refused: '{route} is declared twice, and this router does not start then: {other} matches the same requests',
    shape: '{route} and {other} differ in the names of their parameters alone, and this router does not start then',
  },
  advice: {
    remove: 'Take one of the two out, or change the method or path that was copied.',
    rename: 'Call the parameter the same in both.',
  },
  meta: {
    what: 'Two routes that match exactly the same requests, whatever their parameters are called.',
    why: 'Only one of the two handlers ever runs; which one depends on the router. Mostly one was copied and its method or path forgotten.',
    example: '- GET /tolls/{tollId} -> tolls.read\n- GET /tolls/{id} -> tolls.quote           # the same requests',
    fix: 'Remove one, or correct the method or path of the copy.',
  },
  check: (context) => {
    const { router } = context;
    return router === undefined ? [] : [...context.duplicates().map((t) => report(router, t)), ...sameShape(router)];
  },
};

function report(router: Router, { route, other, witness }: Duplicate): Found {
  const refused = router.facts.duplicates === 'refused';
  return {
    message: refused ? 'refused' : 'twice',
    advice: 'remove',
    data: { route: routeTitle(route), other: routeTitle(other) },
    at: spotOf(route),
    related: [{ role: 'matches the same', ...spotOf(other) }],
    witness: witnessOf(router, witness),
    restsOn: [...orderFacts(router.facts), ...(refused ? restsOn(router.facts, 'duplicates') : [])],
  };
}

/** Routers that do not start when two patterns differ in the names of their parameters alone. */
function sameShape(router: Router): readonly Found[] {
  const { sameShape: fact, trees } = router.facts;
  if (fact !== 'refused' && fact !== 'refused-per-method') return [];
  const perMethod = fact === 'refused-per-method' || (isTree(router.facts) && trees === 'per-method');
  return renamed(router, perMethod).map(({ route, other, witness }) => ({
    message: 'shape',
    advice: 'rename',
    data: { route: routeTitle(route), other: routeTitle(other) },
    at: spotOf(route),
    related: [{ role: 'calls them differently', ...spotOf(other) }],
    witness: witnessOf(router, witness),
    restsOn: restsOn(router.facts, 'sameShape'),
  }));
}
