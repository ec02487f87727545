import { orderFacts, restsOn } from '../../routes/facts.ts';
import { routeTitle } from '../../routes/route.ts';
import type { Router } from '../../routes/router.ts';
import type { Shadow, Undecided } from '../../routes/shadow.ts';
import { type Context, spotOf, witnessOf } from '../context.ts';
import type { Found, Rule } from '../finding.ts';

export const shadowed: Rule = {
  id: 'paths/shadowed',
  level: 'error',
  messages: {
    never: '{route} can never be reached',
    together: '{route} can never be reached: {count} routes take all of its requests between them',
    removed: '{route} can never be reached: the router takes the slash off the end of every path first',
    methods: '{route} is never reached by {methods}; its other methods are',
    undecided: 'undecided whether {route} can be reached: {why}',
  },
  advice: {
    above: 'Declare it before {handler}, or give {other} a pattern that leaves {example} out.',
    slash: 'Write the pattern without the slash at its end.',
    many: 'Declare it before these routes, or take it out of the table.',
    simplify: 'Write the pattern in a simpler way, or split the route.',
  },
  meta: {
    what: 'A route all of whose requests are taken by the routes before it.',
    why: 'Its handler never runs. Nobody notices until somebody asks why, because the requests are answered, by another handler.',
    example:
      '- GET /locks/{lockId} -> locks.read\n- GET /locks/closed -> locks.closed      # never reached: {lockId} takes "closed"',
    mend: 'Declare the special route before the general one, or narrow the general one with a type.',
  },
  check: (context) => {
    // A copy of an earlier route is told of as such.
    const copies = new Set(context.duplicates().map((d) => d.route));
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
  const kind = !shadow.whole ? 'methods' : first === undefined ? 'removed' : by.length > 1 ? 'together' : 'never';
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
      advice: kind === 'removed' ? 'slash' : by.length > 1 ? 'many' : 'above',
      data,
      at: spotOf(shadow.route),
      related: by.map((r) => ({ role: 'takes its requests', ...spotOf(r) })),
      witness,
      restsOn: first === undefined ? restsOn(router.facts, 'trailingSlash') : orderFacts(router.facts),
    },
  ];
}
