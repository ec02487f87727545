/** One followed request, for people and as JSON. */
import type { Following } from '../core/routes/following.ts';
import { routeTitle } from '../core/routes/route.ts';
import type { Leaf } from '../core/routes/tree.ts';
import { placeText } from './findings-text.ts';
import type { Locate } from './rendered.ts';
import { type Terminal, wrap } from './terminal.ts';

/** The JSON object of a followed request. */
export function followingJson(f: Following, locate: Locate): object {
  return {
    request: f.request,
    outcome: f.outcome,
    status: f.status,
    route: f.leaf === undefined ? null : routeJson(f.leaf, locate),
    parameters: Object.fromEntries([...f.parameters].map(([name, { text, type }]) => [name, { text, type }])),
    allow: f.allow,
    version: null,
    responseType: null,
    alsoMatched: f.alsoMatched.map(({ leaf, why }) => ({ handler: leaf.route.handler, path: leaf.route.path, why })),
    nearest: [],
    why: f.why ?? null,
    restsOn: f.restsOn,
  };
}

function routeJson({ route }: Leaf, locate: Locate): object {
  const { handler, name, methods, path } = route;
  return { handler, name: name ?? null, methods, path, file: route.place.file, line: locate(route.place)?.line ?? null };
}

/** What becomes of the request, the answer first. */
export function followingText(f: Following, locate: Locate, terminal: Terminal): string {
  const { paint } = terminal;
  const label = (name: string): string => `  ${paint.dim(name.padEnd(13))}`;
  const line = (name: string, text: string): string => wrap(text, terminal, label(name), ' '.repeat(15));
  const lines = [wrap(headline(f, terminal), terminal)];
  if (f.leaf !== undefined) {
    const { route } = f.leaf;
    lines.push(
      line(
        'route',
        `${routeTitle(route)}  ${paint.cyan(placeText({ file: route.place.file, line: undefined, column: undefined, ...locate(route.place) }))}`,
      ),
    );
    if (route.name !== undefined) lines.push(line('name', route.name));
    for (const [name, { text, type }] of f.parameters)
      lines.push(line('parameter', `${name} = ${paint.green(JSON.stringify(text))}  ${paint.dim(type)}`));
  }
  if (f.allow !== null) lines.push(line('Allow', f.allow.join(', ')));
  for (const { leaf, why } of f.alsoMatched.slice(0, 5))
    lines.push(line('also matched', `${routeTitle(leaf.route)} -> ${leaf.route.handler}, ${why}`));
  if (f.alsoMatched.length > 5) lines.push(line('', `and ${f.alsoMatched.length - 5} more`));
  for (const r of f.restsOn.filter((x) => x.assumed))
    lines.push(line('assumed', `${r.fact}: ${r.value} (router: in the table says otherwise)`));
  return `${lines.join('\n')}\n`;
}

function headline(f: Following, { paint }: Terminal): string {
  const asked = paint.bold(`${f.request.method} ${f.request.target}`);
  if (f.leaf !== undefined) return `${asked} is taken by ${paint.green(paint.bold(f.leaf.route.handler))}`;
  if (f.status === null) return `${asked}: ${f.why ?? f.outcome}`;
  const why =
    f.why ??
    { 'not-found': 'no route matches', 'method-not-allowed': 'the path exists, the method does not' }[f.outcome as string] ??
    '';
  return `${asked} is answered ${paint.red(paint.bold(String(f.status)))}${why === '' ? '' : `: ${why}`}`;
}
