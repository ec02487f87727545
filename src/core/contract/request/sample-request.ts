/** The smallest valid request of an operation. */

import { isMapping } from '../../base/json.ts';
import { percentEncoded } from '../../base/percent.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { sampleOf } from '../../schema/search/sample.ts';
import { findInhabitant } from '../../schema/search/witness.ts';
import { type Contract, type Operation, operationTitle, type Parameter } from '../model/contract.ts';
import { fullPath } from '../pairing/full-path.ts';
import { separatorOf } from '../pairing/parameter-types.ts';

/** A request, or a sentence that says why none could be put together. */
export function sampleRequest(operation: Operation, base: string): Request | string {
  const texts = new Map<Parameter, readonly string[]>();
  for (const parameter of operation.parameters) {
    if (!parameter.required) continue;
    const made = textsFor(parameter);
    if (made === undefined) return `no value was found for the ${parameter.in} parameter ${parameter.name}`;
    texts.set(parameter, made);
  }
  const body = bodyFor(operation);
  if (typeof body === 'string') return body;
  const of = (where: Parameter['in']): [string, readonly string[]][] =>
    [...texts].flatMap(([p, t]) => (p.in === where ? [[p.name, t]] : []));
  const path = filled(operation, (p) => texts.get(p)?.[0]);
  const query = [...texts]
    .flatMap(([p, list]) => (p.in === 'query' ? queryPairs(p, list) : []))
    .map(([name, text]) => `${percentEncoded(name)}=${percentEncoded(text)}`);
  const cookies = of('cookie').map(([name, [text]]) => `${name}=${text}`);
  const headers = Object.fromEntries([
    ...of('header').map(([name, [text]]) => [name, text as string]),
    ...(cookies.length > 0 ? [['Cookie', cookies.join('; ')]] : []),
    ...(body === undefined ? [] : [['Content-Type', body.type]]),
  ]);
  return {
    method: operation.method,
    target: fullPath(base, path) + (query.length > 0 ? `?${query.join('&')}` : ''),
    headers,
    ...(body === undefined ? {} : { body: body.text }),
  };
}

/** The path of an operation with a usual value for each parameter. */
export function samplePath(operation: Operation): string {
  return filled(operation, (p) => textsFor(p)?.[0]);
}

function filled({ path, parameters }: Operation, textOf: (parameter: Parameter) => string | undefined): string {
  return path.replaceAll(/\{([^{}/]+)\}/gu, (_, name: string) => {
    const parameter = parameters.find((p) => p.in === 'path' && p.name === name);
    return percentEncoded((parameter === undefined ? undefined : textOf(parameter)) ?? '7');
  });
}

/** The samples of all operations, or of those with this method and path (as the document or a client writes it). */
export function samplesOf(
  contracts: readonly Contract[],
  method: string | undefined,
  path: string | undefined,
): readonly { readonly title: string; readonly request: Request | string }[] {
  return contracts.flatMap((contract) =>
    contract.operations
      .map((operation) => ({ operation, base: (operation.bases ?? contract.bases)[0] ?? '' }))
      .filter(({ operation }) => method === undefined || operation.method === method)
      .filter(({ operation, base }) => path === undefined || operation.path === path || base + operation.path === path)
      .map(({ operation, base }) => ({ title: operationTitle(operation), request: sampleRequest(operation, base) })),
  );
}

/** The names and texts of a query parameter: an object is written in several ways (3.1, 4.8.12.6). */
function queryPairs(parameter: Parameter, texts: readonly string[]): readonly (readonly [string, string])[] {
  const { name, style, explode, content } = parameter;
  const value = valueFor(parameter)?.value;
  if (content !== undefined || !isMapping(value)) return texts.map((text) => [name, text]);
  const members = Object.entries(value).map(([key, v]) => [key, isMapping(v) ? JSON.stringify(v) : String(v)] as const);
  if (style === 'deepObject') return members.map(([key, text]) => [`${name}[${key}]`, text]);
  return explode ? members : [[name, members.flat().join(',')]];
}

/** An example, or the smallest value; a list that has to be sent has an item, or nothing of it would be. */
function valueFor(parameter: Parameter): { readonly value: unknown } | undefined {
  const [example] = parameter.examples;
  if (example !== undefined) return { value: example };
  if (parameter.schema === undefined) return { value: '7' };
  const made = smallestOf(parameter.schema);
  if (made === undefined || !Array.isArray(made.value) || made.value.length > 0 || parameter.in !== 'query') return made;
  const items = toDisjuncts(parameter.schema, 1)[0]?.items;
  const item = items === undefined ? { value: '7' } : smallestOf(items);
  return item === undefined ? made : { value: [item.value] };
}

/** The sample of a schema; where putting one together fails, what an exact search finds. */
function smallestOf(schema: Schema): { readonly value: unknown } | undefined {
  const made = sampleOf(schema, 'request');
  if (made !== undefined) return made;
  const found = findInhabitant(schema, 'request');
  return found.kind === 'witness' ? { value: found.value } : undefined;
}

function textsFor(parameter: Parameter): readonly string[] | undefined {
  const made = valueFor(parameter);
  if (made === undefined) return undefined;
  const { value } = made;
  if (parameter.content !== undefined) return [JSON.stringify(value)];
  const separator = separatorOf(parameter);
  if (Array.isArray(value)) return separator === undefined ? value.map(String) : [value.map(String).join(separator)];
  return [typeof value === 'object' && value !== null ? JSON.stringify(value) : String(value)];
}

/** The first JSON body, or the first of any kind; only where one is required. */
function bodyFor({ body }: Operation): { readonly type: string; readonly text: string } | string | undefined {
  if (body === undefined || !body.required) return undefined;
  const media = body.content.find((m) => /[/+]json\b/iu.test(m.type)) ?? body.content[0];
  if (media === undefined) return undefined;
  const type = media.type.includes('*') ? 'application/json' : media.type;
  const made = media.schema === undefined ? { value: {} } : smallestOf(media.schema);
  if (made === undefined) return `no body was found that its schema takes (${media.type})`;
  if (/[/+]json\b/iu.test(type)) return { type, text: JSON.stringify(made.value) };
  if (/^application\/x-www-form-urlencoded\b/iu.test(type) && typeof made.value === 'object' && made.value !== null) {
    return {
      type,
      text: new URLSearchParams(Object.entries(made.value).flatMap(formPairs)).toString(),
    };
  }
  return { type, text: typeof made.value === 'string' ? made.value : JSON.stringify(made.value) };
}

/** A list is sent item by item. */
function formPairs([name, value]: readonly [string, unknown]): [string, string][] {
  const text = (v: unknown): string => (typeof v === 'object' && v !== null ? JSON.stringify(v) : String(v));
  return Array.isArray(value) ? value.map((v) => [name, text(v)]) : [[name, text(value)]];
}
