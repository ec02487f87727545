/** The most states an automaton may have while it is built; beyond that the question is undecided. */
export const MAX_STATES = 20_000;

/**
 * Thrown when a stated limit is reached. It is caught where a verdict is given, which then is "undecided" with this
 * sentence as its reason; it never reaches a person as an error.
 */
export class LimitReached extends Error {}

/**
 * How much work one run may do: every loop that can explode spends of it, so that no input keeps a run for longer than some
 * seconds, however many questions it is made of. One unit is about a step of an automaton, 50 to 200 ns.
 */
export const RUN_WORK = 10_000_000;

/** So much more for each byte that is read. */
export const WORK_FOR_A_BYTE = 60;

let left = Number.POSITIVE_INFINITY;
/** Made once: it may be thrown for each of many pairs. */
const USED_UP = new LimitReached('the work of one run, which is limited,');

/** Starts a run; without one there is no limit. */
export function startRun(work = RUN_WORK): void {
  left = work;
}

/** More work for an input of so many bytes: what is large may take longer. */
export function grant(bytes: number): void {
  left += bytes * WORK_FOR_A_BYTE;
}

/** Spends of the work of this run. Throws `LimitReached` where none is left. */
export function spend(units: number): void {
  left -= units;
  if (left < 0) throw USED_UP;
}

export type Decided<T> = { readonly decided: true; readonly value: T } | { readonly decided: false; readonly why: string };

/** Runs a computation that may reach a limit. */
export function decide<T>(compute: () => T): Decided<T> {
  try {
    return { decided: true, value: compute() };
  } catch (error) {
    if (error instanceof LimitReached) return { decided: false, why: error.message };
    throw error;
  }
}
