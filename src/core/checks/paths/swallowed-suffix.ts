import { swallowedSuffixes } from '../../routes/findings/strays.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { restsOn } from '../../routes/table/router-facts.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const swallowedSuffix: Rule = {
  id: 'paths/swallowed-suffix',
  level: 'warning',
  messages: { takes: '{route} handles {target} with {parameter} = "7{suffix}", while {meant} means {suffix} as a format' },
  advice: { type: 'Give {parameter} a type without a dot, or choose formats only by Accept.' },
  meta: {
    what: 'An item route whose parameter matches a suffix that means a format elsewhere in the service.',
    why: 'A client that has learned to write .json gets 404 or 500 for the items, because no item has that id.',
    example:
      '- GET /stoppages.{format} -> stoppages.export\n- GET /stoppages/{stoppageId} -> stoppages.read    # matches 7.json as an id',
    fix: 'Type the parameter, serve the suffix everywhere, or nowhere.',
  },
  check: (context) => {
    const { router } = context;
    if (router === undefined) return [];
    return swallowedSuffixes(router, context.paths()).map(({ route, suffix, parameter, witness, meant }) => ({
      message: 'takes',
      advice: 'type',
      data: { route: routeTitle(route), target: witness.target, parameter, suffix, meant },
      at: spotOf(route),
      witness: witnessOf(router, witness),
      restsOn: restsOn(router.facts, 'suffix'),
    }));
  },
};
