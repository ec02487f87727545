/** The paths below which a service is reached. */
import { isMapping, type Mapping } from '../../base/json.ts';
import { type At, addFlaw, child, listAt, mappingAt, type Reader } from '../document/document.ts';

/** The paths of a list of servers, each variable in all of its values; undefined where no list stands. */
export function basesAt(reader: Reader, at: At): readonly string[] | undefined {
  if (at.value === undefined || at.value === null) return undefined;
  const bases = listAt(reader, at, 'a list of servers').flatMap((item) => {
    const server = mappingAt(reader, item, 'a server with a url');
    if (typeof server?.value.url !== 'string') return addFlaw(reader, item, 'expected a server with a url') ?? [];
    return urlsOf(server.value.url, child(server, 'variables').value).map(pathOfUrl);
  });
  return bases.length === 0 ? undefined : [...new Set(bases)];
}

/** Where a document says that it is served, as `https://host`; relative addresses name no host. */
export function hostsOf({ servers, host, schemes }: Mapping): readonly string[] {
  if (typeof host === 'string' && host !== '') {
    const named = Array.isArray(schemes) ? schemes.filter((s) => typeof s === 'string') : [];
    return (named.length === 0 ? ['https'] : named).map((scheme) => `${scheme}://${host}`.toLowerCase());
  }
  const all = (Array.isArray(servers) ? servers : []).flatMap((server) =>
    isMapping(server) && typeof server.url === 'string' ? urlsOf(server.url, server.variables) : [],
  );
  return [...new Set(all.flatMap((url) => /^[a-z][a-z0-9+.-]*:\/\/[^/?#]+/iu.exec(url)?.[0].toLowerCase() ?? []))];
}

/** The most spellings of one server's url that are looked at. */
const MAX_SPELLINGS = 50;

/** The url with its default values first, then with every other value that a variable may have. */
function urlsOf(url: string, variables: unknown): readonly string[] {
  let all = [''];
  for (const piece of url.split(/(\{[^{}]+\})/u)) {
    const variable = piece.startsWith('{') && isMapping(variables) ? variables[piece.slice(1, -1)] : undefined;
    const values = isMapping(variable) ? [variable.default, ...(Array.isArray(variable.enum) ? variable.enum : [])] : [];
    const texts = [...new Set(values.filter((v) => v !== undefined).map(String))];
    all = (texts.length === 0 ? [piece] : texts).flatMap((text) => all.map((head) => head + text)).slice(0, MAX_SPELLINGS);
  }
  return all;
}

function pathOfUrl(url: string): string {
  const path = url.replace(/^[a-z][a-z0-9+.-]*:/iu, '').replace(/^\/\/[^/?#]*/u, '');
  const bare = path.split(/[?#]/u, 1)[0] as string;
  return trimmed(bare === '' || bare.startsWith('/') ? bare : `/${bare}`);
}

/** Without slashes at its end. */
export function trimmed(path: string): string {
  return path.replace(/\/+$/u, '');
}
