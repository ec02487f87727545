/** Which versions of the API an endpoint belongs to, and which endpoints are one operation in several versions. */

import type { Place } from '../../base/place.ts';
import { accepts } from '../../language/language.ts';
import { literalText, type Piece } from '../../paths/pattern.ts';
import { languageOfType } from '../../paths/types.ts';
import { namedSelector, type Versioning } from '../../routes/request/requested-version.ts';
import type { Contract } from '../model/contract.ts';
import type { Endpoint } from '../pairing/endpoints.ts';

/** A version as the settings declare it, or as it was met. */
export interface Version {
  readonly id: string;
  readonly deprecated: boolean | string | undefined;
  readonly sunset: string | undefined;
  readonly place: Place | undefined;
}

export interface Versions {
  /** In the order in which they came. */
  readonly all: readonly Version[];
  readonly versioning: Versioning | undefined;
  /** No settings declare them: they were read out of paths and routes. */
  readonly assumed: boolean;
}

/** An endpoint with the versions that it belongs to; all of them where it names none. */
export interface Versioned {
  readonly endpoint: Endpoint;
  readonly ids: readonly string[];
  /** Where its versions stand: in its path, among its route's conditions, in the document's version, or nowhere. */
  readonly by: 'path' | 'parameter' | 'condition' | 'document' | 'none';
  /** Equal for one operation in all versions: its method and path without what tells versions apart. */
  readonly key: string;
  /** The path without its version, as people write it. */
  readonly text: string;
}

/** `v2`, `v1.3`, `2027-03-14`. */
const WRITTEN = /^(?:v\d+(?:\.\d+)*|\d{4}-\d\d-\d\d)$/u;

/** The versions of a service: those of the settings, else those that paths and routes name. */
export function versionsOf(
  declared: readonly Version[],
  versioning: Versioning | undefined,
  endpoints: readonly Endpoint[],
): Versions {
  if (declared.length > 0) return { all: declared, versioning, assumed: false };
  const met = new Set<string>();
  for (const { shape, route } of endpoints) {
    for (const id of route?.conditions.version ?? []) met.add(id);
    for (const piece of shape) {
      const text = literalText(piece);
      if (text !== undefined && WRITTEN.test(text)) met.add(text.replace(/^v(?=\d)/u, ''));
    }
  }
  const all = [...met].sort(inTime).map((id) => ({ id, deprecated: undefined, sunset: undefined, place: undefined }));
  return { all, versioning, assumed: true };
}

/** `9` before `10`, `1.9` before `1.10`. */
function inTime(a: string, b: string): number {
  const [x, y] = [a, b].map((id) => id.split(/[.-]/u).map(Number));
  for (let i = 0; i < Math.max(x?.length ?? 0, y?.length ?? 0); i++) {
    const step = (x?.[i] ?? 0) - (y?.[i] ?? 0);
    if (Number.isNaN(step)) break;
    if (step !== 0) return step;
  }
  return a < b ? -1 : 1;
}

/** Where an endpoint's path names one of these versions: by which segment, and which. */
export function versionSegment(
  { shape }: Endpoint,
  ids: readonly string[],
): { readonly at: number; readonly ids: readonly string[] } | undefined {
  for (const [at, piece] of shape.entries()) {
    const text = literalText(piece);
    const named = ids.filter((id) => text === id || text === `v${id}` || text === `V${id}`);
    if (
      named.length > 0 &&
      (text?.startsWith('v') === true || text?.startsWith('V') === true || WRITTEN.test(text ?? '') || at < 2)
    )
      return { at, ids: named };
    const taken = ids.filter((id) => takesVersion(piece, id));
    if (taken.length > 0) return { at, ids: taken };
  }
  return undefined;
}

/** A parameter that stands for the version, such as `{version:v[12]}`. */
function takesVersion(piece: Piece, id: string): boolean {
  const [part, ...others] = piece.parts;
  if (part?.kind !== 'parameter' || others.length > 0 || !/^(?:api)?[_-]?version$/iu.test(part.name ?? '')) return false;
  const language = languageOfType(part.type);
  return [id, `v${id}`].some((text) => accepts(language, text));
}

/** Puts every endpoint into its versions. O(endpoints times versions). */
export function versioned(
  endpoints: readonly Endpoint[],
  versions: Versions,
  contractOf: (endpoint: Endpoint) => Contract | undefined,
  hasSeveral: boolean,
): readonly Versioned[] {
  const ids = versions.all.map((v) => v.id);
  if (ids.length === 0) return endpoints.map((endpoint) => ({ endpoint, ids, by: 'none', key: '', text: endpoint.path.text }));
  return endpoints.map((endpoint): Versioned => {
    const { route, path, shape, method } = endpoint;
    const segment = versionSegment(endpoint, ids);
    const keys = path.keys.filter((_, i) => i !== segment?.at);
    const text = `/${path.text
      .split('/')
      .slice(1)
      .filter((_, i) => i !== segment?.at)
      .join('/')}`;
    const base = {
      endpoint,
      key: `${method} ${keys.join('/')}`,
      text: segment === undefined || shape.length !== path.text.split('/').length - 1 ? path.text : text,
    };
    const condition = route?.conditions.version;
    if (segment !== undefined) {
      const by = literalText(shape[segment.at] as Piece) === undefined ? 'parameter' : 'path';
      const both = condition === undefined || by === 'path' ? segment.ids : segment.ids.filter((id) => condition.includes(id));
      return { ...base, ids: both, by };
    }
    if (condition !== undefined) return { ...base, ids: ids.filter((id) => condition.includes(id)), by: 'condition' };
    const own = documentVersion(endpoint, versions, contractOf(endpoint), hasSeveral);
    if (own !== undefined) return { ...base, ids: own, by: 'document' };
    return { ...base, ids, by: 'none' };
  });
}

/** Without the versions that none of these names; all where none is named, because then every one serves all. */
export function presentOf(versions: Versions, all: readonly Versioned[]): Versions {
  const named = versions.all.filter((v) => all.some((m) => m.by !== 'none' && m.ids.includes(v.id)));
  return named.length === 0 ? versions : { ...versions, all: named };
}

/** What the document says where the route says nothing: the values of the selector's parameter, or the document's own version. */
function documentVersion(
  { operation, route }: Endpoint,
  { all, versioning }: Versions,
  contract: Contract | undefined,
  hasSeveral: boolean,
): readonly string[] | undefined {
  if (operation === undefined || versioning === undefined) return undefined;
  const named = namedSelector(versioning);
  if (named.selector === 'path') return undefined;
  const ids = all.map((v) => v.id);
  const place = named.selector === 'query' ? 'query' : 'header';
  const parameter = operation.parameters.find((p) => p.in === place && p.name.toLowerCase() === named.name.toLowerCase());
  const k = parameter?.schema?.keywords();
  if (typeof k === 'object' && k.enum !== undefined) return ids.filter((id) => k.enum?.some((v) => String(v) === id));
  if (route !== undefined) return undefined;
  const whole = (contract?.version ?? '').replace(/^v/u, '');
  // A document counts its own editions; only where there are several is 1.4.0 the one of version 1.
  const own = ids.filter((id) => whole === id || (hasSeveral && whole.startsWith(`${id}.`)));
  return own.length > 0 ? own : undefined;
}
