import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { isDeclaredBy } from '../../media/media.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const patchFormat: Rule = {
  id: 'media/patch-format',
  level: 'note',
  messages: {
    plain: '{title}{more} accepts application/json, which does not say what a missing property or a null means',
    list: '{title} accepts application/json-patch+json, whose body is a list of operations (RFC 6902), and its schema is none',
    announced: '{other} announces {type} in Accept-Patch, which {title} does not accept',
    silent: '{title} accepts {type}, which the Accept-Patch of {other} does not announce',
  },
  advice: {
    name: 'Take application/merge-patch+json (RFC 7396) or application/json-patch+json (RFC 6902), and say so in Accept-Patch (RFC 5789).',
  },
  meta: {
    what: 'A PATCH whose format leaves open what it does.',
    why: 'One client sends null to remove a property, another leaves it out, and both are right.',
    example: 'PATCH /locks/{lockId} accepts application/json',
    fix: 'Name the patch format.',
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
      if (
        media?.schema === undefined ||
        toDisjuncts(media.schema, 4).some((k) => k.types === undefined || k.types.includes('array'))
      )
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
    return [...plain, ...wrong, ...announcedOf(context)];
  },
};

/** What answers of the same path announce (RFC 5789, 3.1), where they say it. */
function announcedOf(context: Context): readonly Found[] {
  const all = context.exchanges();
  return all
    .filter((e) => e.endpoint.method === 'PATCH' && e.takes.length > 0)
    .flatMap(({ endpoint, takes }): readonly Found[] => {
      const key = endpoint.path.keys.join('/');
      const siblings = context.endpoints().filter((e) => e.path.keys.join('/') === key);
      const [announcing] = siblings.flatMap((e) => listIn(e).map((types) => ({ types, by: e })));
      if (announcing === undefined) return [];
      const { types, by } = announcing;
      const found = (message: string, type: string): Found => ({
        level: 'warning',
        message,
        advice: 'name',
        data: { title: endpointTitle(endpoint), other: endpointTitle(by), type },
        at: endpointSpot(endpoint),
        related: [{ role: 'announced by', ...endpointSpot(by) }],
      });
      const wrong = types.find((t) => !isDeclaredBy(takes, t));
      const missing = takes.find((t) => !types.some((a) => isDeclaredBy([a], t)));
      return [
        ...(wrong === undefined ? [] : [found('announced', wrong)]),
        ...(missing === undefined ? [] : [found('silent', missing)]),
      ];
    });
}

/** The media types of a documented Accept-Patch header that is one certain text. */
function listIn({ operation }: Endpoint): readonly (readonly string[])[] {
  return (operation?.responses ?? []).flatMap(({ headers }) =>
    headers.flatMap((h) => {
      if (h.name.toLowerCase() !== 'accept-patch' || h.schema === undefined) return [];
      const [k] = toDisjuncts(h.schema, 1);
      const [text] = k?.enum ?? k?.examples ?? [];
      return typeof text === 'string' ? [text.split(',').map((t) => t.trim())] : [];
    }),
  );
}
