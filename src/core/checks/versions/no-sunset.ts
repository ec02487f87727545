import { grouped } from '../../base/grouped.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const noSunset: Rule = {
  id: 'versions/no-sunset',
  level: 'note',
  messages: {
    version: 'version {id} is deprecated, and nobody is told until when it is served',
    route: '{title}{more} is deprecated, and nobody is told until when it is served',
  },
  advice: { name: 'Name the day with sunset: (RFC 8594), and send it.' },
  meta: {
    what: 'Something deprecated without a day on which it ends.',
    why: 'Clients that do not know when something ends do not move away from it.',
    example: 'versions:\n  - { id: "1", deprecated: 2027-01-31 }\n  - { id: "2" }',
    fix: 'Add sunset:.',
  },
  check: (context) => [...ofVersions(context), ...ofRoutes(context)],
};

function ofVersions({ versions, service }: Context): readonly Found[] {
  if (service.versionsAt === undefined) return [];
  return versions().all.flatMap(({ id, deprecated, sunset, place }): Found[] => {
    if (deprecated === undefined || deprecated === false || sunset !== undefined || place === undefined) return [];
    return [{ message: 'version', advice: 'name', data: { id }, at: { place, what: `version ${id}` } }];
  });
}

function ofRoutes(context: Context): readonly Found[] {
  const ended = new Set(
    context.versions().all.flatMap((v) => (v.sunset !== undefined || (v.deprecated ?? false) !== false ? [v.id] : [])),
  );
  const open = context
    .versioned()
    .filter((v) => isDeprecated(v.endpoint) && !(v.by !== 'none' && v.ids.length > 0 && v.ids.every((id) => ended.has(id))));
  return grouped(open, ({ endpoint: { route } }) => route?.origin.groups.join() ?? '').map(([{ endpoint }, ...others]) => ({
    message: 'route',
    advice: 'name',
    data: { title: `${endpoint.method} ${endpoint.path.text}`, more: others.length === 0 ? '' : ` (and ${others.length} more)` },
    at: endpointSpot(endpoint),
    related: sameAs(others.map((o) => o.endpoint)),
  }));
}

function isDeprecated({ route, operation }: Endpoint): boolean {
  const said = (route?.deprecated ?? false) !== false || operation?.deprecated === true;
  return said && route?.sunset === undefined && operation?.sunset === undefined;
}
