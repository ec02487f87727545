import type { Shadow, Undecided } from '../../routes/findings/shadow.ts';
import type { Router } from '../../routes/index/router.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { orderFacts, restsOn } from '../../routes/table/router-facts.ts';
import { type Context, spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const shadowed: Rule = {
  id: 'paths/shadowed',
  level: 'error',
  messages: {
    never: '{route} can never be reached',
    together: '{route} can never be reached: {count} routes together handle all of its requests',
    removed: '{route} is never reached by {example}: the router removes the slash at the end of every path first',
    head: '{route} can never be reached: this router looks up every HEAD request as GET',
    length: '{route} can never be reached: every value of a parameter is longer than this router accepts (longestValue)',
    methods: '{route} is never reached by {methods}; its other methods are',
    undecided: 'undecided whether {route} can be reached: {why}',
  },
  advice: {
    above: 'Declare it before {handler}, or give {other} a pattern that leaves {example} out.',
    below: 'Declare it after {handler}, or give {other} a pattern that leaves {example} out.',
    narrow:
      'Give {other} a pattern that leaves {example} out, or remove this route from the table; declaring it elsewhere changes nothing.',
    head: 'Take it out; the GET route of the path answers HEAD.',
    length: 'Let the type of the parameter be shorter, or longestValue longer.',
    manyBelow: 'Declare it after these routes, or remove it from the table.',
    manyNarrow: 'Take it out of the table, or one of these routes; declaring it elsewhere changes nothing.',
    slash: 'Write the pattern without the slash at its end.',
    many: 'Declare it before these routes, or remove it from the table.',
    simplify: 'Write the pattern in a simpler way, or split the route.',
  },
  meta: {
    what: 'A route all of whose requests are handled by routes that go before it.',
    why: 'Its handler never runs. Nobody notices until somebody asks why, because the requests are answered, by another handler.',
    example:
      '- GET /locks/{lockId} -> locks.read\n- GET /locks/closed -> locks.closed      # never reached: {lockId} matches "closed"',
    fix: 'Declare the special route before the general one, or narrow the general one with a type.',
  },
  check: (context) => {
    // A copy of an earlier route is told of as such.
    const isLast = context.router?.facts.precedence === 'last-declared';
    const copies = new Set(context.duplicates().map((d) => (isLast ? d.other : d.route)));
    return context.shadows().flatMap((shadow) => (copies.has(shadow.route) ? [] : report(context, shadow)));
  },
};

function report(context: Context, shadow: Shadow | Undecided): readonly Found[] {
  const route = routeTitle(shadow.route);
  if ('why' in shadow) {
    return [
      {
        level: 'warning',
        message: 'undecided',
        advice: 'simplify',
        data: { route, why: shadow.why },
        at: spotOf(shadow.route),
        undecided: shadow.why,
      },
    ];
  }
  const { by } = shadow;
  const router = context.router as Router;
  const witness = witnessOf(router, shadow.witness);
  const [first] = by;
  const kind =
    shadow.router === 'slash'
      ? 'removed'
      : shadow.router !== undefined
        ? shadow.router
        : !shadow.whole
          ? 'methods'
          : by.length > 1
            ? 'together'
            : 'never';
  const data = {
    route,
    count: by.length,
    methods: shadow.methods.join(', '),
    handler: witness.takenBy ?? first?.handler ?? '',
    other: first?.path ?? '',
    example: witness.request.target,
  };
  return [
    {
      message: kind,
      advice: adviceOf(router, shadow),
      data,
      at: spotOf(shadow.route),
      related: by.map((r) => ({ role: 'shadowed by', ...spotOf(r) })),
      witness,
      restsOn: shadow.router === undefined ? orderFacts(router.facts) : restsOn(router.facts, DECIDED_BY[shadow.router]),
    },
  ];
}

/** The fact that keeps requests away where no other route does. */
const DECIDED_BY = { slash: 'trailingSlash', head: 'head', length: 'tooLong' } as const;

/** What helps under this precedence. */
function adviceOf({ facts }: Router, { router, by }: Shadow): string {
  if (router !== undefined) return router;
  const isMany = by.length > 1;
  if (facts.precedence === 'first-declared') return isMany ? 'many' : 'above';
  if (facts.precedence === 'last-declared') return isMany ? 'manyBelow' : 'below';
  return isMany ? 'manyNarrow' : 'narrow';
}
