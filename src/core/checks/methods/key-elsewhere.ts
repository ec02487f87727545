import { normalisedName } from '../../base/bare-name.ts';
import type { Path } from '../../contract/pairing/endpoints.ts';
import { propertiesOf, sentSchema } from '../../contract/resources/lifecycle.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const keyElsewhere: Rule = {
  id: 'methods/key-elsewhere',
  level: 'warning',
  messages: {
    body: '{title} reads {key} from the body, where its siblings read it from the path',
    query: '{title} reads {key} from the query, where its siblings read it from the path',
    both: '{title} reads {key} from the path and requires it in the body too{more}',
    twice: '{title} reads {key} from the path and requires it in the query too{more}',
  },
  advice: {
    path: 'Take the key from the path alone; two keys in one request can differ.',
  },
  meta: {
    what: "An item's key that comes from the body or the query where siblings have it in the path, or from both at once.",
    why: 'Clients have to know for each method where the key goes, and two keys in one request can contradict each other.',
    example: 'PUT /passages with { passageId, … } beside GET /passages/{passageId}',
    fix: "Use the item's path for every method.",
  },
  check: (context) => keysElsewhere(context),
};

function keysElsewhere(context: Context): readonly Found[] {
  return context.resources().flatMap(({ path, item, members }) => {
    const name = item?.parameter ?? tailBehind(context, path);
    if (name === undefined) return [];
    return members.flatMap(({ endpoint, role }): Found[] => {
      const { operation, method } = endpoint;
      if (operation === undefined || !['PUT', 'PATCH', 'DELETE'].includes(method) || (role !== 'collection' && role !== 'item'))
        return [];
      const sent = sentSchema(operation);
      const key = [...(propertiesOf(sent)?.keys() ?? [])].find((p) => normalisedName(p) === normalisedName(name));
      const asked = operation.parameters.find((p) => p.in === 'query' && normalisedName(p.name) === normalisedName(name));
      const wanted =
        key !== undefined &&
        sent !== undefined &&
        toDisjuncts(sent, 4).every((k) => k.required.includes(key)) &&
        !serverMade(sent, key);
      const onItem = wanted ? 'both' : asked?.required === true ? 'twice' : undefined;
      const onCollection =
        key !== undefined && sent !== undefined && !serverMade(sent, key) ? 'body' : asked !== undefined ? 'query' : undefined;
      const message = role === 'item' ? onItem : onCollection;
      if (message === undefined) return [];
      return [
        {
          level: role === 'item' ? 'note' : 'warning',
          ...(role === 'item' ? { together: `${message} ${endpointSpot(endpoint).place.file}` } : {}),
          message,
          advice: 'path',
          data: { title: endpointTitle(endpoint), key: key ?? name },
          at: endpointSpot(endpoint),
        },
      ];
    });
  });
}

/** The tail right behind a path, whose values may be keys. */
function tailBehind(context: Context, { keys }: Path): string | undefined {
  const behind = context.endpoints().map((e) => e.path);
  return behind.find((p) => p.tail !== undefined && p.keys.slice(0, -1).join('/') === keys.join('/'))?.tail;
}

function serverMade(schema: NonNullable<ReturnType<typeof sentSchema>>, key: string): boolean {
  const k = propertiesOf(schema)?.get(key)?.keywords();
  return typeof k === 'object' && k.readOnly;
}
