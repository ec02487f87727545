/** The settings that routes, groups and resources share. */
import type { Common } from './entries.ts';
import type { Conditions } from './route.ts';

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
