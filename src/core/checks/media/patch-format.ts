import { flat } from '../../schema/flat.ts';
import { endpointSpot, endpointTitle, sameAs } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const patchFormat: Rule = {
  id: 'media/patch-format',
  level: 'note',
  messages: {
    plain: '{title}{more} takes application/json, which does not say what a missing property or a null means',
    list: '{title} takes application/json-patch+json, whose body is a list of operations (RFC 6902), and its schema is none',
  },
  advice: {
    name: 'Take application/merge-patch+json (RFC 7396) or application/json-patch+json (RFC 6902), and say so in Accept-Patch (RFC 5789).',
  },
  meta: {
    what: 'A PATCH whose format leaves open what it does.',
    why: 'One client sends null to remove a property, another leaves it out, and both are right.',
    example: 'PATCH /locks/{lockId} takes application/json',
    mend: 'Name the patch format.',
  },
  check: (context) => {
    const patches = context.exchanges().filter((e) => e.endpoint.method === 'PATCH');
    const [first, ...rest] = patches
      .filter((e) => e.takes.length > 0 && e.takes.every((t) => /^application\/json\b/iu.test(t)))
      .map((e) => e.endpoint);
    const plain: Found[] =
      first === undefined
        ? []
        : [
            {
              message: 'plain',
              advice: 'name',
              data: { title: endpointTitle(first), more: rest.length === 0 ? '' : ` and ${rest.length} more` },
              at: endpointSpot(first),
              related: sameAs(rest),
            },
          ];
    const wrong = patches.flatMap(({ endpoint }): Found[] => {
      const media = endpoint.operation?.body?.content.find((m) => /json-patch\+json/iu.test(m.type));
      if (media?.schema === undefined || flat(media.schema, 4).some((k) => k.types === undefined || k.types.includes('array')))
        return [];
      return [
        {
          level: 'warning',
          message: 'list',
          advice: 'name',
          data: { title: endpointTitle(endpoint) },
          at: endpointSpot(endpoint),
        },
      ];
    });
    return [...plain, ...wrong];
  },
};
