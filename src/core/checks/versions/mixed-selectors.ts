import { grouped } from '../../base/grouped.ts';
import type { Versioned } from '../../contract/resources/api-versions.ts';
import type { Route } from '../../routes/table/route.ts';
import { spotOf } from '../engine/context.ts';
import { routeWitness } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const mixedSelectors: Rule = {
  id: 'versions/mixed-selectors',
  level: 'warning',
  messages: {
    path: '{title}{more} has its version in the path, and requests name theirs in the {selector} {name}',
    condition: '{title}{more} is for version {ids}, and its path, where requests name theirs, says none',
    both: '{title}{more} is for version {ids}, and its path says {other}',
  },
  advice: {
    one: 'Let all routes tell their versions in one way.',
    agree: 'Let the path and version: name the same.',
  },
  meta: {
    what: 'Routes that tell their versions in different ways.',
    why: 'A client that does for one route what it does for another gets the wrong version, or none.',
    example: '# versioning: { selector: header, name: Desk-Version }\n- GET /locks -> locks.list\n- GET /v1/tolls -> tolls.list',
    fix: 'Choose one selector.',
  },
  check: (context) => {
    const { versioning, assumed } = context.versions();
    if (versioning === undefined || assumed) return [];
    const several = (versioning.also ?? []).length > 0;
    const mixed = several ? [] : context.versioned().flatMap((v) => mixedBy(v, versioning.selector));
    return grouped(mixed, (m) => `${m.message} ${m.ids} ${m.other}`).map(([first, ...others]): Found => {
      const witness = routeWitness(context, first.route);
      return {
        message: first.message,
        advice: first.message === 'both' ? 'agree' : 'one',
        data: {
          title: first.route.path,
          more: others.length === 0 ? '' : ` (and ${others.length} more)`,
          ids: first.ids,
          other: first.other,
          selector: versioning.selector === 'media-type' ? 'media type parameter' : versioning.selector,
          name: versioning.name,
        },
        at: spotOf(first.route),
        related: others.map((o) => ({ role: 'the same', ...spotOf(o.route) })),
        ...(witness === undefined ? {} : { witness }),
      };
    });
  },
};

interface Mixed {
  readonly route: Route;
  readonly message: 'path' | 'condition' | 'both';
  readonly ids: string;
  readonly other: string;
}

function mixedBy({ endpoint: { route }, by, ids }: Versioned, selector: string): readonly Mixed[] {
  if (route === undefined) return [];
  const condition = route.conditions.version;
  const inPath = by === 'path' || by === 'parameter';
  if (inPath && selector !== 'path') return [{ route, message: 'path', ids: '', other: '' }];
  if (condition !== undefined && selector === 'path' && !inPath && ids.length > 0)
    return [{ route, message: 'condition', ids: condition.join(', '), other: '' }];
  if (by === 'path' && condition !== undefined && !ids.some((id) => condition.includes(id)))
    return [{ route, message: 'both', ids: condition.join(', '), other: ids.join(', ') }];
  return [];
}
