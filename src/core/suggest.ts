/** The nearest known name to a misspelt one. */
import leven from 'leven';

/** The known name nearest to the one found, if any is near enough to have been meant. */
export function suggest(found: string, known: readonly string[]): string | undefined {
  const bare = (name: string): string => name.toLowerCase().replaceAll(/[-_\s]/gu, '');
  let best: string | undefined;
  let least = Math.max(1, Math.floor(found.length * 0.4)) + 1;
  for (const name of known) {
    const distance = bare(name) === bare(found) ? 0 : leven(found.toLowerCase(), name.toLowerCase());
    if (distance < least) {
      least = distance;
      best = name;
    }
  }
  return best;
}
