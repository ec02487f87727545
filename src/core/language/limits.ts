/** The most states an automaton may have while it is built; beyond that the question is undecided. */
export const MAX_STATES = 20_000;

/**
 * Thrown when a stated limit is reached. It is caught where a verdict is given, which then is "undecided" with this
 * sentence as its reason; it never reaches a person as an error.
 */
export class LimitReached extends Error {}

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
