/** Routes as a source names them, before they are read as patterns. */

export interface SourceRow {
  /** From 1, where the row starts. */
  readonly line: number;
  /** Where it stands in a file of values (RFC 6901). */
  readonly pointer?: string | undefined;
  readonly column?: number | undefined;
  /** The file, where a source is several. */
  readonly file?: string | undefined;
  /** Upper case, as listed; undefined where the source does not say them. */
  readonly methods: readonly string[] | undefined;
  readonly path: string;
  readonly handler?: string | undefined;
  readonly name?: string | undefined;
  readonly host?: string | undefined;
}

/** A line that was not read as a route, and why. */
export interface SkippedRow {
  readonly line: number;
  readonly text: string;
  readonly why: string;
  /** It is known to be no route, as surely as others are. */
  readonly isSure?: boolean;
}

/** What was understood of a source. */
export interface SourceReading {
  readonly rows: readonly SourceRow[];
  /** Lines that may have been meant as routes; headings, rules and sums are not among them. */
  readonly skipped: readonly SkippedRow[];
  /** What the list looks like: `columns`, `tree`, `records`, `log lines`, `CSV`, `JSON`, … */
  readonly look: string;
  /** What each column was taken for, where there are columns. */
  readonly columns?: readonly string[];
}

/** What a column can be said to hold. */
export const COLUMN_KINDS = ['method', 'path', 'name', 'handler', 'host', 'ignore'] as const;
export type ColumnKind = (typeof COLUMN_KINDS)[number];

export interface ReadingOptions {
  /** The columns in their order, where they are not to be found by themselves. */
  readonly columns?: readonly ColumnKind[] | undefined;
}
