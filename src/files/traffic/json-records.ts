/** Records in JSON: one a line, under our own keys or those that are named, and HAR 1.2. */
import type { Recorded } from '../../core/traffic/tally.ts';
import type { Sink } from './sink.ts';

/** What a record may have, and by which keys it is found: `request.url` is a key within another. */
export const FIELDS = {
  method: ['method'],
  target: ['target', 'url', 'path', 'uri'],
  status: ['status'],
  host: ['host', 'authority'],
  client: ['client', 'userAgent', 'user_agent'],
  time: ['time', 'at', 'timestamp'],
  headers: ['headers'],
  body: ['body'],
} as const;
export type Field = keyof typeof FIELDS;

/** Where each field stands, each as the keys that lead to it. */
export type FieldPaths = Partial<Readonly<Record<Field, readonly string[]>>>;

type Mapping = Readonly<Record<string, unknown>>;

function isMapping(value: unknown): value is Mapping {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function valueAt(record: Mapping, keys: readonly string[]): unknown {
  const [first = ''] = keys;
  if (keys.length === 1) return Object.hasOwn(record, first) ? record[first] : undefined;
  // A key with dots in it may be one key.
  const whole = keys.join('.');
  if (Object.hasOwn(record, whole)) return record[whole];
  return keys.reduce<unknown>((value, key) => (isMapping(value) && Object.hasOwn(value, key) ? value[key] : undefined), record);
}

/** One line of JSON Lines. */
export function jsonLine(line: string, paths: FieldPaths, sink: Sink, file: string, number: number): void {
  const why = readLine(line, paths, sink);
  if (why !== undefined) sink.refuse(why, file, number);
}

/** Why it is no record; undefined where it is one. */
function readLine(line: string, paths: FieldPaths, sink: Sink): string | undefined {
  let own: unknown;
  try {
    own = JSON.parse(line);
  } catch {
    return 'no JSON';
  }
  if (!isMapping(own)) return 'no JSON object';
  const record = own;
  const field = (name: Field): unknown => {
    const path = paths[name];
    if (path !== undefined) return valueAt(record, path);
    for (const key of FIELDS[name]) if (Object.hasOwn(record, key) && record[key] !== undefined) return record[key];
    return undefined;
  };
  const [method, target] = [field('method'), field('target')];
  if (typeof method !== 'string' || typeof target !== 'string')
    return `no ${typeof method === 'string' ? 'target' : 'method'} in the record`;
  const headers = headersOf(field('headers'));
  const host = field('host');
  const body = field('body');
  addRecord(sink, {
    method,
    target,
    status: field('status'),
    headers: { ...(typeof host === 'string' ? { Host: host } : {}), ...headers },
    hasHeaders: headers !== undefined,
    body: body === undefined || typeof body === 'string' ? body : JSON.stringify(body),
    client: field('client'),
    time: field('time'),
  });
  return undefined;
}

interface Raw {
  readonly method: string;
  readonly target: string;
  readonly status: unknown;
  readonly headers: Readonly<Record<string, string>>;
  readonly hasHeaders: boolean;
  readonly body: string | undefined;
  readonly client: unknown;
  readonly time: unknown;
}

function addRecord(sink: Sink, { method, target, status, headers, hasHeaders, body, client, time }: Raw): void {
  const code = Number(status);
  const known = Number.isInteger(code) && code >= 100 && code <= 999 ? code : undefined;
  const agent = typeof client === 'string' ? client : (headerIn(headers, 'user-agent') ?? '');
  const request = { method: method.toUpperCase(), target, headers, ...(body === undefined ? {} : { body }) };
  // Who asks and with which credentials makes no other request.
  const told = Object.entries(headers).filter(([name]) => !/^(?:user-agent|cookie|authorization|date|.*-id)$/iu.test(name));
  const key = `${request.method} ${target} ${known} ${hasHeaders} ${JSON.stringify(told)} ${body ?? ''}`;
  const record: Recorded = { request, status: known, hasHeaders, hasBody: body !== undefined };
  sink.add(key, agent, secondsOf(time), () => record);
}

function headerIn(headers: Readonly<Record<string, string>>, name: string): string | undefined {
  return Object.entries(headers).find(([n]) => n.toLowerCase() === name)?.[1];
}

/** As an object, or as a list of names and values. */
function headersOf(value: unknown): Readonly<Record<string, string>> | undefined {
  if (Array.isArray(value))
    return Object.fromEntries(
      value.flatMap((h) => (isMapping(h) && typeof h.name === 'string' ? [[h.name, String(h.value ?? '')]] : [])),
    );
  if (!isMapping(value)) return undefined;
  return Object.fromEntries(Object.entries(value).map(([name, v]) => [name, Array.isArray(v) ? v.join(', ') : String(v)]));
}

/** Seconds since 1970 of a date, or of a number of seconds or milliseconds; 0 where it is none. */
function secondsOf(time: unknown): number {
  if (typeof time === 'number') return time > 1e11 ? Math.floor(time / 1000) : Math.floor(time);
  if (typeof time !== 'string') return 0;
  const parsed = Date.parse(time);
  return Number.isNaN(parsed) ? 0 : Math.floor(parsed / 1000);
}

/** A HAR: `log.entries`, each with a request and a response. What is no entry is counted by its number. */
export function harEntries(value: unknown, sink: Sink, file: string): void {
  const log = isMapping(value) && isMapping(value.log) ? value.log : undefined;
  const entries = Array.isArray(log?.entries) ? log.entries : [];
  for (const [i, entry] of entries.entries()) {
    const request = isMapping(entry) && isMapping(entry.request) ? entry.request : undefined;
    if (!isMapping(entry) || typeof request?.method !== 'string' || typeof request.url !== 'string') {
      sink.refuse('an entry without a request', file, i + 1);
      continue;
    }
    const posted = isMapping(request.postData) ? request.postData : undefined;
    const response = isMapping(entry.response) ? entry.response : undefined;
    // A pseudo-header of HTTP/2 is part of the target.
    const headers = Object.entries(headersOf(request.headers) ?? {}).filter(([name]) => !name.startsWith(':'));
    addRecord(sink, {
      method: request.method,
      target: request.url,
      status: response?.status === 0 ? undefined : response?.status,
      headers: Object.fromEntries(headers),
      hasHeaders: headers.length > 0,
      body: typeof posted?.text === 'string' ? posted.text : undefined,
      client: undefined,
      time: entry.startedDateTime,
    });
  }
}
