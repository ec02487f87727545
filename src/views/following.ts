/** One followed request, for people and as JSON. */

import type { Followed } from '../core/checks/engine/follow-services.ts';
import type { RequestCheck } from '../core/contract/request/check-request.ts';
import { readAccept } from '../core/media/ranges.ts';
import type { Behind } from '../core/routes/follow/gateway.ts';
import type { RoutingOutcome } from '../core/routes/follow/outcome.ts';
import type { RouteShape } from '../core/routes/index/segment-tree.ts';
import { headerOf } from '../core/routes/request/requested-version.ts';
import { routeTitle } from '../core/routes/table/route.ts';
import { placeText } from './place-text.ts';
import type { Locate } from './rendered.ts';
import { type Paint, type Terminal, wrap } from './terminal.ts';
import { visible } from './visible.ts';

/** The JSON object of a followed request; `withOthers` asks all services behind a gateway. */
export function followingJson({ following: f, near, judged, passed }: Followed, locate: Locate, withOthers = true): object {
  return {
    request: f.request,
    outcome: f.outcome,
    status: f.status,
    route: f.leaf === undefined ? null : routeJson(f.leaf, locate),
    parameters: Object.fromEntries([...f.parameters].map(([name, { text, type }]) => [name, { text, type }])),
    allow: f.allow,
    version: f.version?.kind === 'version' ? f.version.id : null,
    responseType: f.responseType?.type ?? null,
    responseTypeByDefault: f.responseType?.byDefault ?? null,
    alsoMatched: f.alsoMatched.map(({ leaf, why }) => ({ handler: leaf.route.handler, path: leaf.route.path, why })),
    nearest: near.map(({ route, cause, message, target }) => ({ handler: route.handler, cause, message, target })),
    ...(passed === undefined ? {} : { service: passed.service ?? null }),
    ...(passed === undefined || !withOthers ? {} : { elsewhere: elsewhereJson(passed) }),
    why: f.why ?? null,
    notes: notesOf(f.request),
    restsOn: f.restsOn,
    judged: judged === undefined ? null : judgedJson(judged),
  };
}

function elsewhereJson({ others }: NonNullable<Followed['passed']>): readonly object[] {
  return others().map(({ service, following: { outcome, status, leaf } }) => ({
    service,
    outcome,
    status,
    handler: leaf?.route.handler ?? null,
  }));
}

/** What of the request's Accept could not be read as the standard has it. */
function notesOf(request: RoutingOutcome['request']): readonly string[] {
  const accept = headerOf(request, 'accept');
  return accept === undefined ? [] : readAccept(accept).notes;
}

/** The same as one line, in parts; what many requests share is encoded once. */
export function followingLine(followed: Followed, locate: Locate): readonly (string | Uint8Array)[] {
  const { following, near, judged } = followed;
  const { shared, parameters, request } = following;
  if (shared === undefined || near.length > 0 || judged !== undefined || followed.passed !== undefined)
    return [visible(JSON.stringify(followingJson(followed, locate, false)))];
  shared.written ??= partsOf(followed, locate);
  const [head, tail] = shared.written;
  let values = '';
  for (const [name, { text, type }] of parameters)
    values += `${values === '' ? '' : ','}${JSON.stringify(name)}:{"text":${JSON.stringify(text)},"type":${JSON.stringify(type)}}`;
  return [visible(`{"request":${requestText(request)}`), head, visible(values), tail];
}

/** Most requests have no headers and no body, and two texts are written sooner than an object. */
function requestText(request: RoutingOutcome['request']): string {
  const { method, target, headers, body } = request;
  for (const _ in headers) return JSON.stringify(request);
  if (body !== undefined) return JSON.stringify(request);
  return `{"method":${JSON.stringify(method)},"target":${JSON.stringify(target)},"headers":{}}`;
}

/** What stands before and behind the parameters. */
function partsOf(followed: Followed, locate: Locate): readonly [Uint8Array, Uint8Array] {
  const { request: _, parameters: __, ...rest } = followingJson(followed, locate) as Record<string, unknown>;
  const { outcome, status, route, ...behind } = rest;
  const head = `,${JSON.stringify({ outcome, status, route }).slice(1, -1)},"parameters":{`;
  const encoder = new TextEncoder();
  return [encoder.encode(visible(head)), encoder.encode(visible(`},${JSON.stringify(behind).slice(1)}`))];
}

function judgedJson({ operation, status, complaints }: RequestCheck): object {
  return {
    operation:
      operation === undefined ? null : { method: operation.method, path: operation.path, operationId: operation.id ?? null },
    status,
    complaints: complaints.map((c) => ({ ...c, suggestion: c.suggestion ?? null })),
  };
}

function routeJson({ route }: RouteShape, locate: Locate): object {
  const { handler, name, methods, path } = route;
  return { handler, name: name ?? null, methods, path, file: route.place.file, line: locate(route.place)?.line ?? null };
}

/** What becomes of the request, the answer first. */
export function followingText(followed: Followed, locate: Locate, terminal: Terminal): string {
  const { paint } = terminal;
  const rows = followingRows(followed, locate, paint);
  const lines = rows.map(([name, text]) => wrap(text, terminal, `  ${paint.dim(name.padEnd(13))}`, ' '.repeat(15)));
  return `${[wrap(headline(followed, paint), terminal), ...lines].join('\n')}\n`;
}

/** What explains the answer, each by its name. */
export function followingRows(
  { following: f, near, judged, passed }: Followed,
  locate: Locate,
  paint: Paint,
): readonly (readonly [name: string, text: string])[] {
  const rows: (readonly [name: string, text: string])[] = [
    ...complaintRows(f, judged, paint),
    ...(f.leaf === undefined ? [] : routeRows(f, f.leaf, locate, paint)),
  ];
  if (f.version?.kind === 'version')
    rows.push(['version', f.version.byDefault ? `${f.version.id}, by default (versioning: in elm-gate.yaml)` : f.version.id]);
  if (f.responseType !== undefined) {
    const { type, byDefault } = f.responseType;
    rows.push(['answers', byDefault ? `${type}, the first declared, because no Accept was sent` : type]);
  }
  rows.push(...passedRows(passed, paint));
  for (const n of near)
    rows.push(['nearest', `${n.message}; ${paint.green(`${f.request.method} ${n.target}`)} is handled by ${n.route.handler}`]);
  for (const note of notesOf(f.request)) rows.push(['Accept', note]);
  if (f.allow !== null) rows.push(['Allow', f.allow.join(', ')]);
  for (const { leaf, why } of f.alsoMatched.slice(0, 5))
    rows.push(['also matched', `${routeTitle(leaf.route)} -> ${leaf.route.handler}, ${why}`]);
  if (f.alsoMatched.length > 5) rows.push(['', `and ${f.alsoMatched.length - 5} more`]);
  for (const r of f.restsOn.filter((x) => x.assumed))
    rows.push(['assumed', `${r.fact}: ${r.value} (set it under router: in the table)`]);
  return rows;
}

/** Which service the gateway passes it to, and what the others would have said. */
function passedRows(passed: Followed['passed'], paint: Paint): readonly (readonly [string, string])[] {
  if (passed === undefined) return [];
  const { service, behind, others } = passed;
  const by = behind === undefined ? '' : `, by ${[`mount ${behind.mount}`, ...conditionTexts(behind)].join(', ')}`;
  return [
    ...(service === undefined ? [] : [['service', `${paint.bold(service)}${by} (gateway: in elm-gate.yaml)`] as const]),
    ...others().map(({ service: other, following: f }) => {
      const says =
        f.leaf !== undefined && f.status === null
          ? `would handle it with ${f.leaf.route.handler}`
          : `would answer ${f.status ?? f.outcome}`;
      return ['elsewhere', `${other} ${says}`] as const;
    }),
  ];
}

function conditionTexts({ host, headers = {}, version }: Behind): readonly string[] {
  return [
    ...(host === undefined ? [] : [`host ${host}`]),
    ...Object.entries(headers).map(([name, value]) => `${name}: ${value}`),
    ...(version === undefined ? [] : [`version ${version}`]),
  ];
}

function complaintRows(
  f: RoutingOutcome,
  judged: RequestCheck | undefined,
  paint: Paint,
): readonly (readonly [string, string])[] {
  return (judged?.complaints ?? [])
    .filter((c) => f.status === null || c.status !== f.status)
    .map((c) => {
      const where = c.pointer === '' ? '' : ` at ${c.pointer}`;
      const status = c.status === 415 ? 415 : (judged?.status ?? c.status);
      const end = c.status === null ? paint.dim('ignored') : paint.red(String(status));
      return [c.in === 'body' ? 'body' : c.in, `${c.message}${where}: ${end}`];
    });
}

function routeRows(
  f: RoutingOutcome,
  { route }: RouteShape,
  locate: Locate,
  paint: Paint,
): readonly (readonly [string, string])[] {
  const place = placeText({ file: route.place.file, line: undefined, column: undefined, ...locate(route.place) });
  return [
    ['route', `${routeTitle(route)}  ${paint.cyan(place)}`],
    ...(route.name === undefined ? [] : [['name', route.name] as const]),
    ...[...f.parameters].map(
      ([name, { text, type }]) => ['parameter', `${name} = ${paint.green(JSON.stringify(text))}  ${paint.dim(type)}`] as const,
    ),
  ];
}

/** What becomes of it, in a sentence. */
export function headline({ following: f, judged }: Followed, paint: Paint): string {
  const asked = paint.bold(`${f.request.method} ${f.request.target}`);
  if (f.status !== null && f.leaf !== undefined) {
    return `${asked} reaches ${paint.bold(f.leaf.route.handler)} and is answered ${paint.red(paint.bold(String(f.status ?? 'with an error')))}: ${f.why}`;
  }
  if (f.leaf !== undefined) {
    const taken = `${asked} is handled by ${paint.green(paint.bold(f.leaf.route.handler))}`;
    const { status } = judged ?? { status: null };
    return status === null ? taken : `${taken}, which should answer ${paint.red(paint.bold(String(status)))}`;
  }
  if (f.status === null) return `${asked}: ${f.why ?? f.outcome}`;
  const why =
    f.why ??
    { 'not-found': 'no route matches', 'method-not-allowed': 'the path exists but does not support this method' }[
      f.outcome as string
    ] ??
    '';
  return `${asked} is answered ${paint.red(paint.bold(String(f.status)))}${why === '' ? '' : `: ${why}`}`;
}
