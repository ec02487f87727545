/** The nearest known name to a misspelt one. */
import leven from 'leven';

/** How many letters have to be changed, put in or taken out of one to get the other (Levenshtein). */
export function distance(a: string, b: string): number {
  return leven(a, b);
}

/** The known name nearest to the one found, if any is near enough to have been meant. */
export function suggest(found: string, known: readonly string[]): string | undefined {
  const bare = (name: string): string => name.toLowerCase().replaceAll(/[-_\s]/gu, '');
  let best: string | undefined;
  let least = Math.max(found.length < 3 ? 1 : 2, Math.floor(found.length * 0.4)) + 1;
  for (const name of known) {
    const distance = bare(name) === bare(found) ? 0 : leven(found.toLowerCase(), name.toLowerCase());
    // Two letters of three or four changed is another word, unless it starts alike.
    if (distance > 1 && found.length < 5 && name[0] !== found[0]) continue;
    // Nothing is left of a name that changed in every letter.
    if (distance > 0 && distance >= found.length) continue;
    if (distance < least) {
      least = distance;
      best = name;
    }
  }
  return best;
}
