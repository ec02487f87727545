import { operationTitle } from '../../contract/model/contract.ts';
import type { Documented } from '../../contract/pairing/pair-operations.ts';
import { type Context, spotOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

/** This share of a document's operations has to follow a convention before the others are held to it. */
const VISIBLE = 0.75;
/** And at least this many. */
const FEWEST = 4;

export const names: Rule = {
  id: 'methods/names',
  level: 'note',
  messages: {
    differs:
      '{operation} is called {id} in the document and goes to {handler}; {follow} of {of} others are called like their {what}',
  },
  advice: { rename: 'Rename one side; if the route was copied, its handler may be the wrong one.' },
  meta: {
    what: 'An operationId that is unlike its handler or route name, where nearly all others are like theirs.',
    why: 'A copied route that kept its old handler looks like this.',
    example: '- DELETE /passages/{passageId} -> passages.read          # operationId: passages.delete',
    fix: 'See whether the right handler is called, then make the names agree.',
  },
  check: (context) => (['handler', 'name'] as const).flatMap((what) => unlike(context, what)).slice(0, MOST),
};

const MOST = 50;

/** The operations that break a convention which the document visibly has. */
function unlike(context: Context, what: 'handler' | 'name'): readonly Found[] {
  const named = (context.pairing()?.operations ?? []).filter(
    (d) => d.operation.id !== undefined && d.routes.some((r) => r[what] !== undefined),
  );
  const follows = (d: Documented): boolean => d.routes.some((r) => bare(r[what] ?? '') === bare(d.operation.id ?? ''));
  const good = named.filter(follows).length;
  if (good < FEWEST || good < named.length * VISIBLE) return [];
  return named
    .filter((d) => !follows(d))
    .flatMap(({ operation, routes }): Found[] => {
      const [route] = routes;
      if (route === undefined) return [];
      return [
        {
          message: 'differs',
          advice: 'rename',
          data: {
            operation: operationTitle(operation),
            id: operation.id ?? '',
            handler: route[what] ?? '',
            follow: good,
            of: named.length - 1,
            what,
          },
          at: spotOf(route),
          related: [{ role: 'documented', place: operation.place, what: operationTitle(operation) }],
        },
      ];
    });
}

/** `locks.read`, `locksRead` and `locks_read` are one name; a version in front of it is none of it. */
function bare(name: string): string {
  return name
    .replace(/^v\d+[._-]/iu, '')
    .replaceAll(/[^\p{L}\p{N}]/gu, '')
    .toLowerCase();
}
