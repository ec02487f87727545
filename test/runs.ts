/**
 * How much random tests draw, and from where on. `SEED=n` moves every one of them, `SCALE=n` draws so many times as much:
 * `npm test` takes 1, `npm run judge` as many as an hour has room for.
 */
export const SEED = Number(process.env.SEED ?? 20_261_123);
export const SCALE = Number(process.env.SCALE ?? 1);

/** A count of draws, or the least number of them that has to show something: both grow alike, so a floor stays a ratio. */
export function runs(base: number): number {
  return Math.max(1, Math.round(base * SCALE));
}
