/** Holds a request against the operation that it is for: path, query, headers, cookies and body. */

import { suggest } from '../../base/nearest-word.ts';
import { accepts } from '../../language/language.ts';
import { takesType } from '../../media/media.ts';
import { type MediaRange, readContentType } from '../../media/ranges.ts';
import { parametersOf } from '../../paths/pattern.ts';
import { languageOfType } from '../../paths/types.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import type { Request } from '../../routes/request/request.ts';
import { headerOf } from '../../routes/request/requested-version.ts';
import type { Route } from '../../routes/table/route.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { Body, Operation, Parameter } from '../model/contract.ts';
import { successTypes } from '../pairing/media-types.ts';
import type { Pairing } from '../pairing/pair-operations.ts';
import { bodyComplaints } from './check-body.ts';
import type { RequestError } from './complaint.ts';
import { deserialize, readQueryObject, sentTexts } from './parse-values.ts';

/** How many ways of reading a schema are looked at. */
const MAX_WAYS = 8;

export interface RequestCheck {
  readonly operation: Operation | undefined;
  readonly complaints: readonly RequestError[];
  /** The status to expect; null where nothing is wrong. */
  readonly status: number | null;
}

/** Judges a request that a route took; undefined where neither a document nor the route says anything of it. */
export function checkRequest(following: RoutingOutcome, pairing: Pairing | undefined): RequestCheck | undefined {
  const { leaf, request } = following;
  if (leaf === undefined) return undefined;
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const operation = pairing?.documentedBy.get(leaf.route)?.find((d) => d.operation.method === method)?.operation;
  const query = request.target.includes('?') ? queryOf(request.target) : NO_QUERY;
  const own = handlerTypeErrors(leaf.route, query);
  if (operation === undefined) return own.length === 0 ? undefined : { operation, complaints: own, status: 400 };
  const complaints = [
    ...parameterComplaints(operation, following, query),
    ...queryNames(operation, query, leaf.route),
    ...own,
    ...acceptComplaint(operation, following),
    ...bodyOf(operation.body, following),
  ];
  const statuses = complaints.flatMap((c) => (c.status === null ? [] : [c.status === 400 ? refusalOf(operation) : c.status]));
  const settled = [415, 406].find((status) => statuses.includes(status));
  return { operation, complaints, status: settled ?? statuses[0] ?? null };
}

const NO_QUERY = new URLSearchParams();

function queryOf(target: string): URLSearchParams {
  return new URLSearchParams(target.split('#', 1)[0]?.split('?').slice(1).join('?') ?? '');
}

/** 422 where that is what the operation documents for a bad request. */
function refusalOf({ responses }: Operation): number {
  const has = (status: string): boolean => responses.some((r) => r.status === status);
  return has('422') && !has('400') ? 422 : 400;
}

/** Types of query parameters that the table declares. */
function handlerTypeErrors(route: Route, query: URLSearchParams): readonly RequestError[] {
  if (route.handlerTypes.size === 0) return [];
  const inPath = new Set(parametersOf(route.pattern).map((p) => p.name));
  return [...route.handlerTypes].flatMap(([name, type]): RequestError[] => {
    const text = query.get(name);
    if (inPath.has(name) || text === null || accepts(languageOfType(type), text)) return [];
    return [
      {
        in: 'query',
        name,
        pointer: '',
        message: `the handler wants ${type.name} for ${name}, found "${text}"`,
        suggestion: undefined,
        status: 400,
      },
    ];
  });
}

function parameterComplaints(operation: Operation, following: RoutingOutcome, query: URLSearchParams): readonly RequestError[] {
  const cookies = cookiesOf(following.request);
  return operation.parameters.flatMap((parameter): RequestError[] => {
    const complain = (message: string, pointer = '', suggestion?: string): RequestError => ({
      in: parameter.in,
      name: parameter.name,
      pointer,
      message,
      suggestion,
      status: 400,
    });
    const whole = parameter.in === 'query' && parameter.content === undefined && isObject(parameter);
    const texts = whole ? [] : textsOf(parameter, following, query, cookies);
    const object = whole ? readQueryObject(parameter, sentTexts(query)) : undefined;
    if (texts === undefined) return [];
    if (texts.length === 0 && object === undefined) {
      if (!parameter.required) return [];
      const near =
        parameter.in === 'query'
          ? suggest(
              parameter.name,
              [...query.keys()].filter((n) => !operation.parameters.some((p) => p.name === n)),
            )
          : undefined;
      return [complain(`the ${parameter.in} parameter ${parameter.name} is missing`, '', near)];
    }
    const read = object ?? (parameter.content === undefined ? deserialize(parameter, texts) : jsonOf(texts[0] as string));
    if (read === undefined || parameter.schema === undefined) return [];
    return validate(parameter.schema, read.value, 'request').map((m) =>
      complain(`${parameter.in} parameter ${parameter.name}: ${m.message}`, m.pointer),
    );
  });
}

function jsonOf(text: string): { readonly value: unknown } | undefined {
  try {
    return { value: JSON.parse(text) };
  } catch {
    return { value: text };
  }
}

/** The texts of a parameter; undefined where it can't be told which they are. */
function textsOf(
  parameter: Parameter,
  { request, parameters }: RoutingOutcome,
  query: URLSearchParams,
  cookies: ReadonlyMap<string, string>,
): readonly string[] | undefined {
  const one = (text: string | null | undefined): readonly string[] => (text === undefined || text === null ? [] : [text]);
  switch (parameter.in) {
    case 'path': {
      const found = parameters.get(parameter.name);
      return found === undefined ? undefined : [found.text];
    }
    case 'header': {
      const text = headerOf(request, parameter.name);
      // Between the items of a list there may be spaces (RFC 9110, 5.6.1).
      return one(isList(parameter) ? text?.trim().replaceAll(/[ \t]*,[ \t]*/gu, ',') : text);
    }
    case 'cookie':
      return one(cookies.get(parameter.name));
    case 'query':
      return query.getAll(parameter.name);
    default:
      return undefined;
  }
}

/** RFC 6265, 4.2.1. */
function cookiesOf(request: Request): ReadonlyMap<string, string> {
  const pairs = (headerOf(request, 'cookie') ?? '').split(';').map((p) => p.trim().split('='));
  return new Map(
    pairs.flatMap(([name, ...rest]) => (name === undefined || name === '' ? [] : [[name, rest.join('=')] as const])),
  );
}

/** Names in the query that the operation does not declare. Most servers pass over them, so that nothing happens. */
function queryNames(operation: Operation, query: URLSearchParams, route: Route): readonly RequestError[] {
  const declared = operation.parameters.filter((p) => p.in === 'query' || p.in === 'querystring');
  const free = declared.some((p) => p.in === 'querystring' || (p.style === 'form' && p.explode && isObject(p)));
  if (free) return [];
  const names = new Set([...query.keys()]);
  return [...names].flatMap((name): RequestError[] => {
    const [bare = ''] = name.split('[', 1);
    if (declared.some((p) => p.name === name || p.name === bare || p.name === `${bare}[]`)) return [];
    if (route.handlerTypes.has(name) || Object.hasOwn(route.conditions.query ?? {}, name)) return [];
    const near = suggest(
      name,
      declared.map((p) => p.name),
    );
    const hint = near === undefined ? '' : `; did you mean ${near}?`;
    return [
      {
        in: 'query',
        name,
        pointer: '',
        message: `the query parameter ${name} is not declared${hint}`,
        suggestion: near,
        status: null,
      },
    ];
  });
}

function isList({ schema }: Parameter): boolean {
  return schema !== undefined && toDisjuncts(schema, MAX_WAYS).some((k) => k.types?.includes('array') === true);
}

function isObject({ schema }: Parameter): boolean {
  const k = schema?.keywords();
  return typeof k === 'object' && (k.types?.includes('object') === true || k.properties.size > 0);
}

/** No documented answer is acceptable, in a router that then refuses. */
function acceptComplaint(operation: Operation, { outcome, request }: RoutingOutcome): readonly RequestError[] {
  if (outcome !== 'not-acceptable') return [];
  const types = successTypes(operation).join(' or ');
  const message = `Accept is ${headerOf(request, 'accept') ?? 'by the suffix'}, and the answer comes as ${types}`;
  return [{ in: 'header', name: 'Accept', pointer: '', message, suggestion: undefined, status: 406 }];
}

function bodyOf(body: Body | undefined, { outcome, request, leaf }: RoutingOutcome): readonly RequestError[] {
  const complain = (message: string, status: number, pointer = ''): RequestError => ({
    in: 'body',
    name: '',
    pointer,
    message,
    suggestion: undefined,
    status,
  });
  if (body === undefined) return [];
  if (request.body === undefined) return body.required ? [complain('the request has no body, and one is required', 400)] : [];
  const sent = headerOf(request, 'content-type');
  const types = body.content.map((m) => m.type);
  if (outcome === 'unsupported-media-type') {
    const how = sent === undefined ? 'has no Content-Type, which stands for bytes' : `is sent as ${sent}`;
    return [complain(`the body ${how}; expected ${types.join(' or ')}`, 415)];
  }
  const media = body.content.find((m) => takesType([m.type], sent ?? BYTES));
  if (media !== undefined) return bodyComplaints(media, readContentType(sent ?? BYTES) as MediaRange, request.body);
  // A type that the route takes and the document lacks says nothing; one that is ignored is read as the first.
  const [first] = leaf?.route.conditions.takes === undefined ? body.content : [];
  const range = first === undefined ? undefined : readContentType(first.type);
  return first === undefined || range === undefined ? [] : bodyComplaints(first, range, request.body);
}

/** What a body is that nothing is said of (RFC 9110, 8.3). */
const BYTES = 'application/octet-stream';
