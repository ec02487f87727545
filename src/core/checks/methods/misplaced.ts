import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const misplaced: Rule = {
  id: 'methods/misplaced',
  level: 'note',
  messages: {
    collection: "{title} is an item's method on the path of the collection: it speaks of every {parameter} at once{more}",
    item: '{title} creates on the path of an item that has its key already{more}',
  },
  advice: {
    move: 'Move it to {better}, where the key is part of the path.',
  },
  meta: {
    what: "An item's method on a collection's path, or a create on an item's.",
    why: 'A DELETE that forgets the key deletes everything; a POST on an item leaves open what its key will be.',
    example: '- DELETE /passages -> passages.delete      # the key comes in the body',
    fix: 'Put the method where its path says what it touches.',
  },
  check: (context) => misplacedOf(context),
};

const OF_ITEM: readonly string[] = ['PUT', 'PATCH', 'DELETE'];

function misplacedOf(context: Context): readonly Found[] {
  return context.resources().flatMap((resource) =>
    resource.members.flatMap(({ endpoint, role, step }): Found[] => {
      const { item, path, kind } = resource;
      const onCollection =
        role === 'collection' && kind === 'collection' && item !== undefined && OF_ITEM.includes(endpoint.method);
      const onItem = role === 'item' && endpoint.method === 'POST' && step === undefined;
      if (!onCollection && !onItem) return [];
      const witness = witnessFor(context, endpoint);
      return [
        {
          message: onCollection ? 'collection' : 'item',
          together: `${endpoint.method} ${onCollection} ${endpointSpot(endpoint).place.file}`,
          advice: 'move',
          data: {
            title: endpointTitle(endpoint),
            parameter: item?.parameter ?? 'item',
            better: `${endpoint.method} ${onCollection ? item?.text : path.text}`,
          },
          at: endpointSpot(endpoint),
          ...(witness === undefined ? {} : { witness }),
        },
      ];
    }),
  );
}
