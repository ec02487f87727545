/** What this run printed, and what it was made from, where the same run would print the same again. */
import { MOST_PRINTED, type Repeatable } from '../files/kept-output.ts';
import type { Trace } from '../files/kept-results.ts';

let printed = '';
let madeFrom: { readonly trace: Trace; readonly isDiscovered: boolean } | undefined;

/** Another command line begins. */
export function startPrinting(): void {
  printed = '';
  madeFrom = undefined;
}

/** Something went to standard output; what is too long to be kept is not gathered. */
export function wasPrinted(text: string): void {
  if (printed.length <= MOST_PRINTED) printed += text;
}

/** All that goes to standard output is made from this. */
export function isMadeFrom(trace: Trace, isDiscovered: boolean): void {
  madeFrom = { trace, isDiscovered };
}

/** Undefined where the run failed, or what it printed depends on more than files. */
export function repeatable(): Repeatable | undefined {
  const { exitCode = 0 } = process;
  if (madeFrom === undefined || (exitCode !== 0 && exitCode !== 1)) return undefined;
  return { ...madeFrom, printed: { text: printed, status: exitCode } };
}
