/** Path items and their operations. */
import { isMapping, kindOf, type Mapping, textOr } from '../json.ts';
import { once } from '../once.ts';
import { bodyAt, responsesAt, textsAt } from './contents.ts';
import { noteNear } from './misspelt.ts';
import type { Operation, Parameter, SecurityNeed } from './model.ts';
import { oldBody, type Parameters, parametersAt } from './parameters.ts';
import { type At, child, extensibleAt, flaw, listAt, mappingAt, membersAt, placeOf, type Reader, resolved } from './reader.ts';
import { basesAt } from './servers.ts';

const METHODS = ['get', 'put', 'post', 'delete', 'options', 'head', 'patch', 'trace', 'query'] as const;
const ITEM_KEYS = [...METHODS, '$ref', 'summary', 'description', 'servers', 'parameters', 'additionalOperations'] as const;
const OPERATION_KEYS = [
  'tags',
  'summary',
  'description',
  'externalDocs',
  'operationId',
  'parameters',
  'requestBody',
  'responses',
  'callbacks',
  'deprecated',
  'security',
  'servers',
  'consumes',
  'produces',
  'schemes',
] as const;

/** The operations of all items of `paths` or `webhooks`. */
export function itemsAt(reader: Reader, at: At, of: 'paths' | 'webhooks'): readonly Operation[] {
  const spelled = new Map<string, string>();
  return extensibleAt(reader, at, `a mapping of ${of}`).flatMap(([key, item]): readonly Operation[] => {
    const path = of === 'webhooks' || key.startsWith('/') ? key : `/${key}`;
    if (path !== key) flaw(reader, item, `the path ${key} starts without a slash; write /${key}`);
    const bare = path.replaceAll(/\{[^}]*\}/gu, '{}');
    const twin = spelled.get(bare);
    if (of === 'paths' && twin !== undefined)
      flaw(reader, item, `the path ${key} is the same as ${twin}: names of parameters tell no paths apart`);
    spelled.set(bare, key);
    if (item.value === null) return [];
    const found = resolved(reader, item, 'a path item');
    return found === undefined ? [] : itemAt(reader, path, withSiblings(item, found));
  });
}

/** What stands beside a `$ref` of a path item holds too. */
function withSiblings(item: At, found: At<Mapping>): At<Mapping> {
  if (!isMapping(item.value) || Object.keys(item.value).length < 2 || item.value === found.value) return found;
  const { $ref: _, ...own } = item.value;
  return { ...found, value: { ...found.value, ...own } };
}

function itemAt(reader: Reader, path: string, item: At<Mapping>): readonly Operation[] {
  noteNear(reader, item, ITEM_KEYS, ITEM_SET);
  const shared: Shared = {
    parameters: once(() => parametersAt(reader, child(item, 'parameters'))),
    bases: once(() => basesAt(reader, child(item, 'servers'))),
  };
  const usual = METHODS.flatMap((m) => (m in item.value ? [[m.toUpperCase(), child(item, m)] as const] : []));
  const more = membersAt(reader, child(item, 'additionalOperations'), 'a mapping of methods');
  return [...usual, ...more].flatMap(([method, at]): Operation[] => {
    if (at.value === undefined) return [];
    const operation = mappingAt(reader, at.value === null ? { ...at, value: {} } : at, 'an operation');
    return operation === undefined ? [] : [operationAt(reader, method.toUpperCase(), path, operation, shared)];
  });
}

/** What all operations of a path have, read when one of them asks. */
interface Shared {
  readonly parameters: () => Parameters;
  readonly bases: () => readonly string[] | undefined;
}

const ITEM_SET: ReadonlySet<string> = new Set(ITEM_KEYS);
const OPERATION_SET: ReadonlySet<string> = new Set(OPERATION_KEYS);

/** Everything but method, path and id is read when it is asked for, because most commands ask for little. */
function operationAt(reader: Reader, method: string, path: string, at: At<Mapping>, shared: Shared): Operation {
  const { value } = at;
  const root: At = { ...reader.root, pointer: '' };
  const own = once(() => {
    noteNear(reader, at, OPERATION_KEYS, OPERATION_SET);
    return parametersAt(reader, child(at, 'parameters'));
  });
  const types = (key: 'consumes' | 'produces'): readonly string[] =>
    reader.dialect === '2.0' ? textsAt(reader, key in value ? child(at, key) : child(root, key), 'a list of media types') : [];
  const body = once(() => {
    if (reader.dialect !== '2.0') return bodyAt(reader, child(at, 'requestBody'));
    const { bodies } = own();
    return oldBody(reader, bodies.length > 0 ? bodies : shared.parameters().bodies, types('consumes'));
  });
  const parameters = once(() => merged(shared.parameters().parameters, own().parameters));
  const responses = once(() => responsesAt(reader, child(at, 'responses'), types('produces')));
  const security = once(() => securityAt(reader, child(value.security === undefined ? root : at, 'security')));
  const tags = once(() => textsAt(reader, child(at, 'tags'), 'a list of tags'));
  const bases = once(() => basesAt(reader, child(at, 'servers')) ?? shared.bases());
  return new LazyOperation(
    {
      method,
      path,
      id: typeof value.operationId === 'string' ? value.operationId : undefined,
      summary: textOr(value.summary, undefined),
      deprecated: value.deprecated === true,
      sunset: textOr(value['x-sunset'], undefined),
      place: placeOf(at),
    },
    { tags, parameters, body, responses, security, bases },
  );
}

type Told = Pick<Operation, 'method' | 'path' | 'id' | 'summary' | 'deprecated' | 'sunset' | 'place'>;
type Asked = { readonly [K in Exclude<keyof Operation, keyof Told>]: () => Operation[K] };

/** A class, because thousands of objects with accessors of their own take longer to make than their document to parse. */
class LazyOperation implements Operation {
  readonly method: string;
  readonly path: string;
  readonly id: string | undefined;
  readonly summary: string | undefined;
  readonly deprecated: boolean;
  readonly sunset: string | undefined;
  readonly place: Operation['place'];
  readonly #asked: Asked;

  constructor(told: Told, asked: Asked) {
    this.method = told.method;
    this.path = told.path;
    this.id = told.id;
    this.summary = told.summary;
    this.deprecated = told.deprecated;
    this.sunset = told.sunset;
    this.place = told.place;
    this.#asked = asked;
  }

  get tags() {
    return this.#asked.tags();
  }
  get parameters() {
    return this.#asked.parameters();
  }
  get body() {
    return this.#asked.body();
  }
  get responses() {
    return this.#asked.responses();
  }
  get security() {
    return this.#asked.security();
  }
  get bases() {
    return this.#asked.bases();
  }
}

function merged(shared: readonly Parameter[], own: readonly Parameter[]): readonly Parameter[] {
  const same = (a: Parameter, b: Parameter): boolean =>
    a.in === b.in && (a.in === 'header' ? a.name.toLowerCase() === b.name.toLowerCase() : a.name === b.name);
  return [...shared.filter((s) => !own.some((o) => same(s, o))), ...own];
}

function securityAt(reader: Reader, at: At): readonly SecurityNeed[] {
  return listAt(reader, at, 'a list of security requirements').flatMap((item): SecurityNeed[] => {
    if (!isMapping(item.value)) return flaw(reader, item, `expected a security requirement, found ${kindOf(item.value)}`) ?? [];
    const entries = Object.entries(item.value).map(([name, scopes]) => [name, Array.isArray(scopes) ? scopes.map(String) : []]);
    return [Object.fromEntries(entries) as SecurityNeed];
  });
}
