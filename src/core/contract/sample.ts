/** The smallest valid request of an operation. */
import type { Request } from '../routes/request.ts';
import { sampleOf } from '../schema/sample.ts';
import { type Contract, type Operation, operationTitle, type Parameter } from './model.ts';
import { separatorOf } from './typing.ts';

/** A request, or a sentence that says why none could be put together. */
function sampleRequest(operation: Operation, base: string): Request | string {
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
  const query = of('query').flatMap(([name, list]) =>
    list.map((text) => `${encodeURIComponent(name)}=${encodeURIComponent(text)}`),
  );
  const cookies = of('cookie').map(([name, [text]]) => `${name}=${text}`);
  const headers = Object.fromEntries([
    ...of('header').map(([name, [text]]) => [name, text as string]),
    ...(cookies.length > 0 ? [['Cookie', cookies.join('; ')]] : []),
    ...(body === undefined ? [] : [['Content-Type', body.type]]),
  ]);
  return {
    method: operation.method,
    target: base + path + (query.length > 0 ? `?${query.join('&')}` : ''),
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
    return encodeURIComponent((parameter === undefined ? undefined : textOf(parameter)) ?? '7');
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

function textsFor(parameter: Parameter): readonly string[] | undefined {
  const [example] = parameter.examples;
  const made =
    example !== undefined
      ? { value: example }
      : parameter.schema === undefined
        ? { value: '7' }
        : sampleOf(parameter.schema, 'request');
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
  const made = media.schema === undefined ? { value: {} } : sampleOf(media.schema, 'request');
  if (made === undefined) return `no body was found that its schema takes (${media.type})`;
  if (/[/+]json\b/iu.test(type)) return { type, text: JSON.stringify(made.value) };
  if (/^application\/x-www-form-urlencoded\b/iu.test(type) && typeof made.value === 'object' && made.value !== null) {
    return {
      type,
      text: new URLSearchParams(Object.entries(made.value).map(([k, v]): [string, string] => [k, String(v)])).toString(),
    };
  }
  return { type, text: typeof made.value === 'string' ? made.value : JSON.stringify(made.value) };
}
