/** Path items and their operations. */
import { isMapping, type Mapping, sameJson, textOr } from '../../base/json.ts';
import {
  type At,
  addFlaw,
  child,
  extensibleAt,
  mappingAt,
  membersAt,
  placeOf,
  type Reader,
  resolveReference,
} from '../document/document.ts';
import { reportNearMisses } from '../document/near-keys.ts';
import type { Operation, Parameter, TextEquality } from '../model/contract.ts';
import { bodyAt, responsesAt, textsAt } from './bodies.ts';
import { compareObjectText } from './equal-text.ts';
import { oldBody, type Parameters, parametersAt } from './parameters.ts';
import { sameSchemes, securityAt } from './security.ts';
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

/** The operations of all items of `paths`, of `webhooks` or of a callback, whose name is put before. */
export function itemsAt(reader: Reader, at: At, of: 'paths' | 'webhooks' | 'expressions', before = ''): readonly Operation[] {
  const spelled = new Map<string, string>();
  return extensibleAt(reader, at, `a mapping of ${of}`).flatMap(([key, item]): readonly Operation[] => {
    const path = of !== 'paths' || key.startsWith('/') ? key : `/${key}`;
    if (path !== key) addFlaw(reader, item, `the path ${key} starts without a slash; write /${key}`);
    const bare = path.replaceAll(/\{[^}]*\}/gu, '{}');
    const twin = spelled.get(bare);
    if (of === 'paths' && twin !== undefined)
      addFlaw(reader, item, `the path ${key} is the same as ${twin}: names of parameters tell no paths apart`);
    spelled.set(bare, key);
    if (item.value === null) return [];
    const found = resolveReference(reader, item, 'a path item');
    return found === undefined ? [] : itemAt(reader, before + path, withSiblings(item, found));
  });
}

/** What stands beside a `$ref` of a path item holds too. */
function withSiblings(item: At, found: At<Mapping>): At<Mapping> {
  if (!isMapping(item.value) || Object.keys(item.value).length < 2 || item.value === found.value) return found;
  const { $ref: _, ...own } = item.value;
  return { ...found, value: { ...found.value, ...own } };
}

function itemAt(reader: Reader, path: string, item: At<Mapping>): readonly Operation[] {
  reportNearMisses(reader, item, ITEM_KEYS, ITEM_SET);
  const shared = new Shared(reader, item);
  const found: Operation[] = [];
  const add = (method: string, at: At): void => {
    if (at.value === undefined) return;
    const operation = mappingAt(reader, at.value === null ? { ...at, value: {} } : at, 'an operation');
    if (operation !== undefined) found.push(new ReadOperation(reader, method, path, operation, shared));
  };
  for (const [key, method] of METHOD_KEYS) if (key in item.value) add(method, child(item, key));
  const { additionalOperations: more } = item.value;
  if (more === undefined) return found;
  for (const [key, at] of membersAt(reader, child(item, 'additionalOperations'), 'a mapping of methods'))
    add(key.toUpperCase(), at);
  return found;
}

/** What all operations of a path have, read when one of them asks. */
class Shared {
  private readonly reader: Reader;
  private readonly item: At<Mapping>;
  private read: Parameters | undefined = undefined;
  private servers: { readonly bases: readonly string[] | undefined } | undefined = undefined;

  constructor(reader: Reader, item: At<Mapping>) {
    this.reader = reader;
    this.item = item;
  }

  parameters(): Parameters {
    this.read ??= parametersAt(this.reader, child(this.item, 'parameters'));
    return this.read;
  }
  alike({ reader, item }: Shared): TextEquality {
    const [x, y] = [child(this.item, 'parameters'), child(item, 'parameters')];
    return compareObjectText({ reader: this.reader, at: x }, { reader, at: y });
  }
  bases(): readonly string[] | undefined {
    this.servers ??= { bases: basesAt(this.reader, child(this.item, 'servers')) };
    return this.servers.bases;
  }
}

const METHOD_KEYS = METHODS.map((key) => [key, key.toUpperCase()] as const);
const ITEM_SET: ReadonlySet<string> = new Set(ITEM_KEYS);
const OPERATION_SET: ReadonlySet<string> = new Set(OPERATION_KEYS);

type Kept = {
  -readonly [K in 'tags' | 'parameters' | 'responses' | 'security' | 'callbacks']?: Operation[K];
} & { own?: Parameters; body?: readonly [Operation['body']]; bases?: readonly [Operation['bases']] };

/**
 * An operation of which nothing is read before it is asked for, because most commands ask for little. A class that keeps
 * what it found, because thousands of closures take longer to make than their document to parse.
 */
class ReadOperation implements Operation {
  readonly method: string;
  readonly path: string;
  private readonly reader: Reader;
  private readonly at: At<Mapping>;
  private readonly shared: Shared;
  private readonly kept: Kept = {};

  constructor(reader: Reader, method: string, path: string, at: At<Mapping>, shared: Shared) {
    this.reader = reader;
    this.method = method;
    this.path = path;
    this.at = at;
    this.shared = shared;
  }

  get id() {
    const { operationId } = this.at.value;
    return typeof operationId === 'string' ? operationId : undefined;
  }
  get summary() {
    return textOr(this.at.value.summary, undefined);
  }
  get deprecated() {
    return this.at.value.deprecated === true;
  }
  get sunset() {
    return textOr(this.at.value['x-sunset'], undefined);
  }
  get place() {
    return placeOf(this.at);
  }
  get tags() {
    this.kept.tags ??= textsAt(this.reader, child(this.at, 'tags'), 'a list of tags');
    return this.kept.tags;
  }
  get parameters() {
    this.kept.parameters ??= merged(this.shared.parameters().parameters, this.own.parameters);
    return this.kept.parameters;
  }
  get body() {
    this.kept.body ??= [this.readBody()];
    return this.kept.body[0];
  }
  get responses() {
    this.kept.responses ??= responsesAt(this.reader, child(this.at, 'responses'), this.types('produces'));
    return this.kept.responses;
  }
  get security() {
    this.kept.security ??= securityAt(this.reader, child(this.secured, 'security'));
    return this.kept.security;
  }
  get saysSecurity(): boolean {
    return this.needs !== undefined;
  }
  get securityPlace() {
    const at = child(this.secured, 'security');
    return at.value === undefined ? { file: this.reader.root.file, pointer: '' } : placeOf(at);
  }
  get callbacks() {
    this.kept.callbacks ??= 'callbacks' in this.at.value ? callbacksAt(this.reader, child(this.at, 'callbacks')) : [];
    return this.kept.callbacks;
  }
  get bases() {
    this.kept.bases ??= [basesAt(this.reader, child(this.at, 'servers')) ?? this.shared.bases()];
    return this.kept.bases[0];
  }

  alike(other: Operation, part?: 'parameters' | 'security'): TextEquality {
    if (!(other instanceof ReadOperation) || this.reader.dialect !== other.reader.dialect) return 'unlike';
    if (part === 'security') return this.sameNeeds(other) ? 'same' : 'unlike';
    if (this.path !== other.path) return 'unlike';
    if (part === undefined && !(this.sameNeeds(other) && this.sameTypes(other))) return 'unlike';
    const [x, y] = part === undefined ? [this.at, other.at] : [child(this.at, part), child(other.at, part)];
    const own = compareObjectText({ reader: this.reader, at: x }, { reader: other.reader, at: y });
    const shared = own === 'unlike' ? own : this.shared.alike(other.shared);
    return shared === 'same' ? own : shared;
  }

  private sameNeeds({ needs, reader }: ReadOperation): boolean {
    return sameJson(this.needs, needs) && sameSchemes(this.reader, reader, needs);
  }

  /** What 2.0 says for all operations. */
  private sameTypes({ reader }: ReadOperation): boolean {
    const [a, b] = [this.reader.root.value, reader.root.value];
    return this.reader.dialect !== '2.0' || (sameJson(a.consumes, b.consumes) && sameJson(a.produces, b.produces));
  }

  private get own(): Parameters {
    if (this.kept.own === undefined) reportNearMisses(this.reader, this.at, OPERATION_KEYS, OPERATION_SET);
    this.kept.own ??= parametersAt(this.reader, child(this.at, 'parameters'));
    return this.kept.own;
  }

  /** Its security, as it is written. */
  private get needs(): unknown {
    const { security } = this.at.value;
    return security === undefined ? this.reader.root.value.security : security;
  }

  /** Where its security is said. */
  private get secured(): At<Mapping> {
    return this.at.value.security === undefined ? { ...this.reader.root, pointer: '' } : this.at;
  }

  private readBody(): Operation['body'] {
    if (this.reader.dialect !== '2.0') return bodyAt(this.reader, child(this.at, 'requestBody'));
    const { bodies } = this.own;
    return oldBody(this.reader, bodies.length > 0 ? bodies : this.shared.parameters().bodies, this.types('consumes'));
  }

  /** The media types that 2.0 names for an operation, or for all of them. */
  private types(key: 'consumes' | 'produces'): readonly string[] {
    if (this.reader.dialect !== '2.0') return [];
    const at: At = key in this.at.value ? this.at : { ...this.reader.root, pointer: '' };
    return textsAt(this.reader, child(at, key), 'a list of media types');
  }
}

function callbacksAt(reader: Reader, at: At): readonly Operation[] {
  return membersAt(reader, at, 'a mapping of callbacks').flatMap(([name, item]) => {
    const found = resolveReference(reader, item, 'a callback');
    // Many may be sent to the same place.
    return found === undefined ? [] : itemsAt(reader, found, 'expressions', `${name} `);
  });
}

function merged(shared: readonly Parameter[], own: readonly Parameter[]): readonly Parameter[] {
  const same = (a: Parameter, b: Parameter): boolean =>
    a.in === b.in && (a.in === 'header' ? a.name.toLowerCase() === b.name.toLowerCase() : a.name === b.name);
  return [...shared.filter((s) => !own.some((o) => same(s, o))), ...own];
}
