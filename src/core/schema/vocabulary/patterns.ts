/** `pattern` and `patternProperties`: regular expressions of ECMA-262 with `u`, that may match anywhere in a text. */
import { RecentMap } from '../../base/memo.ts';
import { languageAhead } from '../../language/ahead.ts';
import { accepts, type Language, languageOf } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { match } from '../../language/matcher.ts';
import { parseRegex, parseTree, type RegexFlags } from '../../language/regex.ts';

/** So many patterns are remembered. */
const MAX_PATTERNS = 300;
const languages = new RecentMap<string, Language | 'none'>(MAX_PATTERNS);
const looseLanguages = new RecentMap<string, Language | 'none'>(MAX_PATTERNS);

/** The texts in which a pattern matches; undefined where it is not regular, not valid, or too large. */
export function patternLanguage(source: string): Language | undefined {
  return cachedLanguage(languages, source, {});
}

/** At least the texts in which a pattern matches, whatever it says of what stands around. */
export function patternOverapproximation(source: string): Language | undefined {
  return cachedLanguage(looseLanguages, source, { loose: true });
}

function cachedLanguage(cache: RecentMap<string, Language | 'none'>, source: string, flags: RegexFlags): Language | undefined {
  const found = cache.remember(source, () => {
    const made = decide(() => {
      const parsed = parseRegex(source, flags, false);
      if (parsed.ok) return languageOf(parsed.expression);
      return hasLookahead(source) ? languageAhead(parseTree(source)) : undefined;
    });
    return (made.decided ? made.value : undefined) ?? 'none';
  });
  return found === 'none' ? undefined : found;
}

/** Is it a pattern at all, which only could not be read as it stands? */
function hasLookahead(source: string): boolean {
  if (!/\(\?[=!]/u.test(source)) return false;
  try {
    parseTree(source);
    return true;
  } catch {
    return false;
  }
}

/** Does the pattern match somewhere in the text? Undefined where nobody can read it, or where that takes too many steps. */
export function matchesPattern(source: string, text: string): boolean | undefined {
  const language = patternLanguage(source);
  if (language !== undefined) return accepts(language, text);
  const found = match(source, text, { anywhere: true });
  return found === undefined ? undefined : found !== null;
}
