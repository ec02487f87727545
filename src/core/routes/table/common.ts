/** The settings that routes, groups and resources share. */
import type { Place } from '../../base/place.ts';
import { type NamedTypes, type ParameterType, parseType } from '../../paths/types.ts';
import type { Common } from './entries.ts';
import type { Conditions, Flaw } from './route.ts';

const COMMON_KEYS = ['version', 'host', 'takes', 'returns', 'headers', 'query', 'deprecated', 'sunset', 'parameters'] as const;

/** An entry without what is its own. */
export function commonOf(entry: Common): Common {
  return Object.fromEntries(COMMON_KEYS.filter((k) => entry[k] !== undefined).map((k) => [k, entry[k]]));
}

/** What a request has to satisfy besides its method and path. */
export function conditionsOf(common: Common): Conditions {
  const { version, host, takes, returns, headers, query } = common;
  return {
    ...(version === undefined ? {} : { version: typeof version === 'string' ? [version] : version }),
    ...(host === undefined ? {} : { host }),
    ...(takes === undefined ? {} : { takes }),
    ...(returns === undefined ? {} : { returns }),
    ...(headers === undefined ? {} : { headers }),
    ...(query === undefined ? {} : { query }),
  };
}

const NO_WANTS: ReadonlyMap<string, ParameterType> = new Map();

/** The types under `parameters:`; one that is unknown is a flaw of the route. */
export function wantsOf(
  common: Common,
  types: NamedTypes,
  place: Place,
  route: string,
  flaws: Flaw[],
): ReadonlyMap<string, ParameterType> {
  if (common.parameters === undefined) return NO_WANTS;
  return new Map(
    Object.entries(common.parameters).flatMap(([name, source]) => {
      const result = parseType(source, types);
      if (result.ok) return [[name, result.type]];
      flaws.push({
        kind: 'pattern',
        route,
        pattern: source,
        error: { message: result.message, start: 0, end: source.length },
        place,
      });
      return [];
    }),
  );
}
