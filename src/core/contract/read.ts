/**
 * Reads an OpenAPI document into the contract model. What is malformed becomes a flaw with its place, and the rest goes
 * on; only a value that is no OpenAPI document at all is refused.
 */
import { below, type Place, pointerKeys } from '../place.ts';
import { type Contract, type DocumentFlaw, METHODS, type Operation, type Parameter } from './model.ts';

type Mapping = Readonly<Record<string, unknown>>;

export type ReadResult = { readonly ok: true; readonly contract: Contract } | { readonly ok: false; readonly message: string };

interface Reader {
  readonly root: Mapping;
  readonly file: string;
  readonly flaws: DocumentFlaw[];
}

/** Reads a parsed document. O(size of its paths). */
export function readContract(value: unknown, file: string): ReadResult {
  if (!isMapping(value)) return { ok: false, message: 'expected an OpenAPI document, which is a mapping' };
  const edition = editionOf(value);
  if (edition === undefined)
    return { ok: false, message: 'expected an OpenAPI document: neither "openapi: 3.x" nor "swagger: 2.0" stands in it' };
  const reader: Reader = { root: value, file, flaws: [] };
  const info = isMapping(value.info) ? value.info : {};
  const contract: Contract = {
    edition,
    title: textOr(info.title, file),
    version: typeof info.version === 'string' ? info.version : undefined,
    bases: basesOf(reader, edition),
    operations: readPaths(reader),
    flaws: reader.flaws,
    place: { file, pointer: '' },
  };
  return { ok: true, contract };
}

function editionOf(value: Mapping): string | undefined {
  const version = value.openapi ?? value.swagger;
  const [edition] = /^[23]\.\d/u.exec(String(version ?? '')) ?? [];
  return edition;
}

function basesOf(reader: Reader, edition: string): readonly string[] {
  if (edition === '2.0') return [trimmed(textOr(reader.root.basePath, ''))];
  const { servers } = reader.root;
  if (servers === undefined) return [''];
  if (!Array.isArray(servers)) {
    flaw(reader, '/servers', `expected a list of servers, found ${kindOf(servers)}`);
    return [''];
  }
  const bases = servers.flatMap((server, i) => {
    if (isMapping(server) && typeof server.url === 'string') return [pathOfUrl(withVariables(server.url, server.variables))];
    flaw(reader, below('/servers', i), 'expected a server with a url');
    return [];
  });
  return bases.length === 0 ? [''] : [...new Set(bases)];
}

function withVariables(url: string, variables: unknown): string {
  return url.replace(/\{([^{}]+)\}/gu, (whole, name: string) => {
    const variable = isMapping(variables) ? variables[name] : undefined;
    return isMapping(variable) && variable.default !== undefined ? String(variable.default) : whole;
  });
}

function pathOfUrl(url: string): string {
  const path = url.replace(/^[a-z][a-z0-9+.-]*:/iu, '').replace(/^\/\/[^/?#]*/u, '');
  const bare = path.split(/[?#]/u, 1)[0] as string;
  return trimmed(bare === '' || bare.startsWith('/') ? bare : `/${bare}`);
}

function trimmed(path: string): string {
  return path.replace(/\/+$/u, '');
}

function readPaths(reader: Reader): Operation[] {
  const { paths } = reader.root;
  if (paths === undefined || paths === null) return [];
  if (!isMapping(paths)) {
    flaw(reader, '/paths', `expected a mapping of paths, found ${kindOf(paths)}`);
    return [];
  }
  return Object.entries(paths).flatMap(([path, item]) => {
    if (path.startsWith('x-')) return [];
    const at = below('/paths', path);
    if (!path.startsWith('/')) flaw(reader, at, `the path ${path} starts without a slash; write /${path}`);
    const resolved = resolve(reader, item, at);
    if (resolved === undefined) return [];
    return readItem(reader, path.startsWith('/') ? path : `/${path}`, resolved.value, at);
  });
}

function readItem(reader: Reader, path: string, item: Mapping, at: string): Operation[] {
  const shared = readParameters(reader, item.parameters, below(at, 'parameters'));
  return METHODS.flatMap((method): Operation[] => {
    const operation = item[method];
    if (operation === undefined) return [];
    const pointer = below(at, method);
    if (!isMapping(operation)) {
      flaw(reader, pointer, `expected an operation, found ${kindOf(operation)}`);
      return [];
    }
    const own = readParameters(reader, operation.parameters, below(pointer, 'parameters'));
    const inherited = shared.filter((s) => !own.some((o) => o.name === s.name && o.in === s.in));
    return [
      {
        method: method.toUpperCase(),
        path,
        id: typeof operation.operationId === 'string' ? operation.operationId : undefined,
        parameters: [...inherited, ...own],
        deprecated: operation.deprecated === true,
        place: { file: reader.file, pointer },
      },
    ];
  });
}

const PARAMETER_PLACES: readonly unknown[] = ['path', 'query', 'header', 'cookie'];

function readParameters(reader: Reader, list: unknown, at: string): Parameter[] {
  if (list === undefined || list === null) return [];
  if (!Array.isArray(list)) {
    flaw(reader, at, `expected a list of parameters, found ${kindOf(list)}`);
    return [];
  }
  return list.flatMap((item, i): Parameter[] => {
    const found = resolve(reader, item, below(at, i));
    if (found === undefined) return [];
    const { value, place } = found;
    if (value.in === 'body' || value.in === 'formData') return [];
    if (typeof value.name !== 'string' || !PARAMETER_PLACES.includes(value.in)) {
      flaw(reader, below(at, i), 'expected a parameter with a name, and in: path, query, header or cookie');
      return [];
    }
    return [{ name: value.name, in: value.in as Parameter['in'], required: value.required === true, place }];
  });
}

/** Follows references within the file, to one another too. Anything that leads nowhere is a flaw. */
function resolve(reader: Reader, value: unknown, at: string): { value: Mapping; place: Place } | undefined {
  let current = value;
  let pointer = at;
  const seen = new Set<string>();
  while (isMapping(current) && typeof current.$ref === 'string') {
    const ref = current.$ref;
    if (!ref.startsWith('#'))
      return flaw(reader, pointer, `the reference ${ref} leads to another file, which is not read; the rest of the document is`);
    if (seen.has(ref)) return flaw(reader, at, `the reference ${ref} leads back to itself`);
    seen.add(ref);
    pointer = decodeURIComponent(ref.slice(1));
    current = pointerKeys(pointer).reduce<unknown>(
      (v, key) => (typeof v === 'object' && v !== null ? (v as Mapping)[key] : undefined),
      reader.root,
    );
    if (current === undefined) return flaw(reader, at, `the reference ${ref} leads nowhere; check its spelling`);
  }
  if (!isMapping(current)) return flaw(reader, at, `expected a mapping, found ${kindOf(current)}`);
  return { value: current, place: { file: reader.file, pointer } };
}

function flaw(reader: Reader, pointer: string, message: string): undefined {
  reader.flaws.push({ message, place: { file: reader.file, pointer } });
  return undefined;
}

function isMapping(value: unknown): value is Mapping {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function kindOf(value: unknown): string {
  if (value === null || value === undefined) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'object' ? 'a mapping' : JSON.stringify(value).slice(0, 60);
}

function textOr(value: unknown, otherwise: string): string {
  return typeof value === 'string' ? value : otherwise;
}
