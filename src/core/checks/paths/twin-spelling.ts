import { exampleFor } from '../../routes/examples/example-request.ts';
import { confusablePaths } from '../../routes/findings/near-duplicates.ts';
import { restsOn } from '../../routes/table/router-facts.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const twinSpelling: Rule = {
  id: 'paths/twin-spelling',
  level: 'warning',
  messages: {
    slash: '{path} and {other} differ in a slash alone, and this router tells them apart',
    case: '{path} and {other} differ in letter case alone, and this router tells them apart',
    plural: '{path} and {other} differ in a plural alone{more}',
  },
  advice: { one: 'Keep one spelling, and redirect the other if clients use it.' },
  meta: {
    what: 'Two paths that differ in a trailing slash, letter case or a plural alone.',
    why: 'People type the one for the other, and get 404, another handler, or a resource that is nearly the right one.',
    example: '- GET /basins -> basins.list\n- GET /basins/ -> basins.index               # one slash more, and another handler',
    fix: 'Decide on one spelling for a resource and keep to it.',
  },
  check: ({ router, service }) => {
    if (router === undefined) return [];
    return confusablePaths(router).flatMap(({ route, other, by }) => {
      const [leaf] = router.leavesOf(route);
      if (leaf === undefined) return [];
      return [
        {
          ...(by === 'plural' ? { level: 'note' as const } : {}),
          ...(by === 'plural' && service.tableIsDocument ? { together: route.place.file } : {}),
          message: by,
          advice: 'one',
          data: { path: route.path, other: other.path },
          at: spotOf(route),
          related: [{ role: 'its twin', ...spotOf(other) }],
          witness: witnessOf(router, exampleFor(router, leaf, route.methods[0] as string)),
          restsOn: by === 'plural' ? [] : restsOn(router.facts, by === 'slash' ? 'trailingSlash' : 'letterCase'),
        },
      ];
    });
  },
};
