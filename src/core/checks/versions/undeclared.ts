import { grouped } from '../../base/grouped.ts';
import { literalText } from '../../paths/pattern.ts';
import type { Route } from '../../routes/table/route.ts';
import { type Context, spotOf } from '../engine/context.ts';
import { routeWitness } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const undeclaredVersion: Rule = {
  id: 'versions/undeclared',
  level: 'error',
  messages: {
    condition: '{title}{more} is for version {id}, which the settings do not declare; there are {known}',
    path: '{title}{more} has version {id} in its path, which the settings do not declare; there are {known}',
  },
  advice: { declare: 'Declare version {id} under versioning:, or correct the route.' },
  meta: {
    what: 'A route for a version that nobody declared.',
    why: 'Clients that ask for it are told that there is no such version, and nobody learns when it ends.',
    example:
      '# elm-gate.yaml\nversioning: { selector: path, versions: [{ id: "1" }, { id: "2" }] }\n# routes\n- GET /v3/locks -> locks.list',
    fix: 'Declare the version, or name one that is declared.',
  },
  check: (context) => {
    const { all, assumed } = context.versions();
    if (assumed) return [];
    const ids = all.map((v) => v.id);
    const strays = (context.router?.table.routes ?? []).flatMap((route) => namedBy(route, ids).map((s) => ({ route, ...s })));
    return grouped(strays, (s) => `${s.by} ${s.id}`).map(([first, ...others]) => found(context, first, others, ids));
  },
};

interface Stray {
  readonly route: Route;
  readonly by: 'condition' | 'path';
  readonly id: string;
}

/** The undeclared versions that a route names. */
function namedBy({ conditions, pattern, isBarrier }: Route, ids: readonly string[]): readonly Omit<Stray, 'route'>[] {
  if (isBarrier) return [];
  const named = (conditions.version ?? []).filter((id) => !ids.includes(id)).map((id) => ({ by: 'condition' as const, id }));
  const [shape = []] = pattern.shapes;
  const written = shape.slice(0, 3).flatMap((piece) => {
    const id = /^v(\d+(?:\.\d+)*)$/iu.exec(literalText(piece) ?? '')?.[1];
    return id === undefined || ids.includes(id) || named.some((n) => n.id === id) ? [] : [{ by: 'path' as const, id }];
  });
  return [...named, ...written];
}

function found(context: Context, first: Stray, others: readonly Stray[], ids: readonly string[]): Found {
  const { route, by, id } = first;
  const witness = routeWitness(context, route);
  return {
    message: by,
    advice: 'declare',
    data: { title: route.path, more: others.length === 0 ? '' : ` (and ${others.length} more)`, id, known: ids.join(', ') },
    at: spotOf(route),
    related: others.map((o) => ({ role: 'the same', ...spotOf(o.route) })),
    ...(witness === undefined ? {} : { witness }),
  };
}
