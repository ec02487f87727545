import { requestFor } from '../../compare/editions.ts';
import type { Endpoint } from '../../contract/endpoints.ts';
import type { Version, Versioned } from '../../contract/versions.ts';
import { type Context, witnessOf } from '../context.ts';
import { endpointSpot, grouped } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const dropped: Rule = {
  id: 'versions/dropped',
  level: 'warning',
  messages: {
    gone: 'version {next} has no {title}, which version {id} serves and does not announce to end',
  },
  advice: { retire: 'Serve it in version {next} too, or mark it deprecated with a sunset in version {id}.' },
  meta: {
    what: 'An operation that the next version lacks, and that was never retired.',
    why: 'Clients move to the next version and find that something is missing, without having been told.',
    example: '- within: /v1\n  routes: [GET /tolls/quote -> tolls.quote]      # not deprecated\n- within: /v2\n  routes: []',
    mend: 'Announce the end with deprecated: and sunset:, or serve it in the next version.',
  },
  check: (context) => {
    const { all } = context.versions();
    if (all.length < 2) return [];
    return grouped(context.versioned(), (v) => v.key).flatMap((members) => {
      if (members.every((m) => m.by === 'none')) return [];
      return all.slice(0, -1).flatMap((version, i) => missing(context, members, version, all[i + 1] as Version));
    });
  },
};

function missing(context: Context, members: readonly Versioned[], version: Version, next: Version): readonly Found[] {
  const member = members.find((m) => m.ids.includes(version.id));
  if (member === undefined || members.some((m) => m.ids.includes(next.id)) || isRetired(member.endpoint, version)) return [];
  const { router } = context;
  return [
    {
      message: 'gone',
      advice: 'retire',
      data: { title: `${member.endpoint.method} ${member.text}`, id: version.id, next: next.id },
      at: endpointSpot(member.endpoint),
      ...(router === undefined ? {} : { witness: witnessOf(router, requestFor(member, context.versions(), next.id)) }),
    },
  ];
}

/** Somebody said until when it is served. */
function isRetired({ route, operation }: Endpoint, version: Version): boolean {
  return [route?.sunset, operation?.sunset, version.sunset].some((s) => s !== undefined);
}
