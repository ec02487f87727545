import { grouped } from '../../base/grouped.ts';
import { requestFor } from '../../compare/version-grid.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import type { Version, Versioned } from '../../contract/resources/api-versions.ts';
import { type Context, witnessOf } from '../engine/context.ts';
import { endpointSpot, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const dropped: Rule = {
  id: 'versions/dropped',
  level: 'warning',
  messages: {
    one: 'version {next} has no {title}, which version {id} serves and does not announce to end',
    many: 'version {next} lacks {count} of the {of} operations of version {id}, {title} among them, and none was announced to end',
  },
  advice: { retire: 'Serve it in version {next} too, or mark it deprecated with a sunset in version {id}.' },
  meta: {
    what: 'An operation that the next version lacks, and that was never retired.',
    why: 'Clients move to the next version and find that something is missing, without having been told.',
    example: '- within: /v1\n  routes: [GET /tolls/quote -> tolls.quote]      # not deprecated\n- within: /v2\n  routes: []',
    fix: 'Announce the end with deprecated: and sunset:, or serve it in the next version.',
  },
  check: (context) => {
    const { all: present } = context.presentVersions();
    const operations = grouped(context.versioned(), (v) => v.key).filter((members) => members.some((m) => m.by !== 'none'));
    return present.slice(0, -1).flatMap((version, i) => between(context, operations, version, present[i + 1] as Version));
  },
};

/** What the next version lacks: one finding for each path, and one for all where it lacks most. */
function between(
  context: Context,
  operations: readonly (readonly Versioned[])[],
  version: Version,
  next: Version,
): readonly Found[] {
  const old = operations.flatMap((members) => members.find((m) => m.ids.includes(version.id)) ?? []);
  const lacking = operations.flatMap((members): readonly Versioned[] => {
    const member = members.find((m) => m.ids.includes(version.id));
    // Who takes every method is followed by whoever takes one of them.
    const like = member?.endpoint.method === 'ANY' ? operations.flat().filter((m) => m.text === member.text) : members;
    const gone = member !== undefined && !like.some((m) => m.ids.includes(next.id));
    return gone && !isRetired(member.endpoint, version) ? [member] : [];
  });
  const most = lacking.length * 2 > old.length;
  // Read out of paths, it may be another API, or one that grows beside the first.
  if (most && context.versions().assumed) return [];
  return grouped(lacking, (m) => (most ? '' : m.text)).map(([first, ...others]): Found => {
    const { router } = context;
    const methods = [first, ...others].map((m) => m.endpoint.method);
    const title = `${most ? first.endpoint.method : methods.join('|')} ${first.text}`;
    return {
      message: most ? 'many' : 'one',
      advice: 'retire',
      data: { title, id: version.id, next: next.id, count: lacking.length, of: old.length },
      at: endpointSpot(first.endpoint),
      related: sameAs(others.map((o) => o.endpoint)),
      ...(router === undefined ? {} : { witness: witnessOf(router, requestFor(first, context.versions(), next.id)) }),
    };
  });
}

/** Somebody said until when it is served. */
function isRetired({ route, operation }: Endpoint, version: Version): boolean {
  return [route?.sunset, operation?.sunset, version.sunset].some((s) => s !== undefined);
}
