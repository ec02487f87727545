/** What is wrong with an input or a setting, as a sentence with its place. */

export interface Problem {
  readonly file: string;
  /** From 1; undefined where the whole file is meant. */
  readonly line?: number | undefined;
  readonly column?: number | undefined;
  /** What was found, what was expected, what to do. */
  readonly message: string;
}

/** The program can't run: exit status 2, every problem one line. */
export class InputFailure extends Error {
  readonly problems: readonly Problem[];
  constructor(problems: readonly Problem[]) {
    super(problems.map(problemLine).join('\n'));
    this.problems = problems;
  }
}

/** `passage-desk.routes.yaml:12:5: unknown key "handlr"; did you mean "handler"?` */
export function problemLine({ file, line, column, message }: Problem): string {
  const place = [file, line, column].filter((p) => p !== undefined && p !== '').join(':');
  return place === '' ? message : `${place}: ${message}`;
}

/** Fails with one problem. */
export function fail(file: string, message: string, line?: number, column?: number): never {
  throw new InputFailure([{ file, message, line, column }]);
}
