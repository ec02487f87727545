/** Who may call an operation, and with which credentials (3.1, 4.8.27 and 4.8.30). */

import { isMapping, kindOf, type Mapping, textOr } from '../../base/json.ts';
import { KeyedMemo } from '../../base/memo.ts';
import { type At, addFlaw, child, listAt, placeOf, type Reader, resolveReference } from '../document/document.ts';
import type { Scheme, SecurityNeed } from '../model/contract.ts';

export function securityAt(reader: Reader, at: At): readonly SecurityNeed[] {
  return listAt(reader, at, 'a list of security requirements').flatMap((item): SecurityNeed[] => {
    if (!isMapping(item.value))
      return addFlaw(reader, item, `expected a security requirement, found ${kindOf(item.value)}`) ?? [];
    return [
      Object.entries(item.value).map(([name, scopes]) => ({
        name,
        scopes: Array.isArray(scopes) ? scopes.map(String) : [],
        scheme: schemeOf(reader, name),
      })),
    ];
  });
}

/** Are all schemes that are named here the same in two documents? */
export function sameSchemes(a: Reader, b: Reader, needs: unknown): boolean {
  const names = Array.isArray(needs) ? needs.flatMap((need) => (isMapping(need) ? Object.keys(need) : [])) : [];
  return names.every((name) => {
    const [x, y] = [schemeOf(a, name), schemeOf(b, name)];
    return x.credentials === y.credentials && x.sources.join('\n') === y.sources.join('\n');
  });
}

const schemeCache = new KeyedMemo<Reader, string, Scheme>();

/** What is not declared is known by its name alone. */
function schemeOf(reader: Reader, name: string): Scheme {
  const root: At = { value: reader.root.value, file: reader.root.file, pointer: '' };
  const at = reader.dialect === '2.0' ? child(root, 'securityDefinitions') : child(child(root, 'components'), 'securitySchemes');
  return schemeCache.remember(reader, name, () => schemeAt(reader, child(at, name), name));
}

function schemeAt(reader: Reader, at: At, name: string): Scheme {
  const found = at.value === undefined ? undefined : resolveReference(reader, at, 'a security scheme');
  const { type, in: where = 'header', name: key = '', scheme = '', openIdConnectUrl = '' } = found?.value ?? {};
  const place = placeOf(at);
  const plain = (credentials: string): Scheme => ({ credentials, sources: [], place });
  switch (type) {
    case 'apiKey':
      return plain(`key in ${String(where)} ${where === 'header' ? headerName(String(key)) : String(key)}`);
    case 'basic':
      return plain('HTTP basic');
    case 'http':
      return plain(`HTTP ${String(scheme).toLowerCase()}`);
    case 'oauth2':
      return { credentials: 'OAuth 2.0 token', sources: flowsOf(found?.value ?? {}), place };
    case 'openIdConnect':
      return { credentials: 'OpenID Connect token', sources: [String(openIdConnectUrl)], place };
    case 'mutualTLS':
      return plain('TLS certificate');
    default:
      return plain(`scheme ${name}`);
  }
}

/** As most people write it: its letter case says nothing (RFC 9110, 5.1). */
function headerName(name: string): string {
  return name.toLowerCase().replaceAll(/\b[a-z]/gu, (letter) => letter.toUpperCase());
}

/** The names that 2.0 has for two of the flows. */
const OLD_FLOWS: Readonly<Record<string, string>> = { application: 'clientCredentials', accessCode: 'authorizationCode' };

function flowsOf(scheme: Mapping): readonly string[] {
  const { flow, flows } = scheme;
  const written = isMapping(flows) ? Object.entries(flows) : [[OLD_FLOWS[String(flow)] ?? String(flow), scheme] as const];
  return written
    .filter(([name, f]) => !name.startsWith('x-') && isMapping(f))
    .map(([name, f]) => {
      const { authorizationUrl, tokenUrl } = f as Mapping;
      return [name, textOr(authorizationUrl, ''), textOr(tokenUrl, '')].filter((t) => t !== '').join(' ');
    })
    .sort();
}
