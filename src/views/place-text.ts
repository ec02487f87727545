/** Places in words: file, line and column, as editors and terminals open them. */

/** Where a finding stands. */
export interface Located {
  readonly file: string;
  readonly line: number | undefined;
  readonly column: number | undefined;
  readonly pointer: string;
  readonly what: string;
}

export function placeText({ file, line, column }: Pick<Located, 'file' | 'line' | 'column'>): string {
  return line === undefined ? file : `${file}:${line}:${column}`;
}

/** A related place: file and line, which editors and terminals open. */
export function nearPlace({ file, line }: Located): string {
  return line === undefined ? file : `${file}:${line}`;
}
