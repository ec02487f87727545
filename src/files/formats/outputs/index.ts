/** What the commands write with `--format json`, described for the programs that read it. Nothing here runs with a command. */
import { check, compare, review } from './findings.ts';
import { imported, recorded, rehearse, settings } from './others.ts';
import { follow, media, methods, table, versions } from './routes.ts';

/** By command. */
export const OUTPUTS = {
  check,
  compare,
  follow,
  import: imported,
  media,
  methods,
  rehearse,
  review,
  settings,
  table,
  traffic: recorded,
  versions,
} as const;
