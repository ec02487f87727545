/** What a route table file says, entry by entry. */
import type { Place } from '../../base/place.ts';
import type { ColumnKind } from '../../listing/row.ts';
import type { Style } from '../../paths/pattern.ts';
import type { NamedTypes } from '../../paths/types.ts';
import type { CrudStep } from './route.ts';

/** What a route, a group and a resource may all say. */
export interface Common {
  readonly version?: string | readonly string[] | undefined;
  readonly host?: string | undefined;
  readonly takes?: readonly string[] | undefined;
  readonly returns?: readonly string[] | undefined;
  readonly headers?: Readonly<Record<string, string>> | undefined;
  readonly query?: Readonly<Record<string, string>> | undefined;
  readonly deprecated?: boolean | string | undefined;
  readonly sunset?: string | undefined;
  /** Types that the handler wants, by parameter. */
  readonly parameters?: Readonly<Record<string, string>> | undefined;
}

export interface RouteEntry extends Common {
  readonly route: string;
  readonly handler: string;
  readonly name?: string | undefined;
  readonly summary?: string | undefined;
}

export interface GroupEntry extends Common {
  readonly within: string;
  readonly names?: string | undefined;
  readonly handlers?: string | undefined;
  readonly routes: readonly Entry[];
  readonly unmatched?: 'continue' | 'end' | undefined;
}

export interface ResourceEntry extends Common {
  readonly resource: string;
  readonly item?: string | undefined;
  readonly handler?: string | undefined;
  readonly name?: string | undefined;
  readonly serves?: readonly CrudStep[] | undefined;
  readonly below?: readonly Entry[] | undefined;
}

/** Another table's entries, read already. */
export interface IncludeEntry extends Common {
  readonly include: string;
  readonly within?: string | undefined;
  readonly names?: string | undefined;
  readonly handlers?: string | undefined;
  readonly loaded?:
    | { readonly file: string; readonly style: Style; readonly types: NamedTypes; readonly entries: readonly Entry[] }
    | undefined;
}

/** Routes as they stand elsewhere: a listing, a CSV or JSON file, a folder, source code. */
export interface FromEntry extends Common {
  readonly from: string;
  readonly within?: string | undefined;
  readonly names?: string | undefined;
  readonly handlers?: string | undefined;
  readonly columns?: readonly ColumnKind[] | undefined;
  readonly row?: string | undefined;
  readonly skip?: string | undefined;
  readonly file?: string | undefined;
  readonly style?: Style | undefined;
  readonly types?: 'ignore' | 'keep' | undefined;
  readonly loaded?: { readonly style: Style; readonly rows: readonly LoadedRow[] } | undefined;
}

/** A row of a source, its path in one of our styles. */
export interface LoadedRow {
  /** Undefined where the source does not say them. */
  readonly methods: readonly string[] | undefined;
  readonly path: string;
  readonly handler: string;
  readonly name: string | undefined;
  readonly host: string | undefined;
  readonly place: Place;
}

export type Entry = string | RouteEntry | GroupEntry | ResourceEntry | IncludeEntry | FromEntry;

/** What an editor checks of `GET|POST /locks -> locks.list`; the handler may be left out. */
export const SHORT_FORM = /^\s*[A-Za-z*][A-Za-z*|,-]*\s+\S.*$/u;
