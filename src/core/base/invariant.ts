/** Fails on our own bugs; never used for input, settings or findings. */
export function invariant(condition: unknown, message: string): asserts condition {
  if (!condition) throw new Error(`this is a bug in elm-gate: ${message}`);
}
