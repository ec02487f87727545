/** The languages of what a route declares: its methods, its conditions, its path. */

import { lazy } from '../../base/lazy.ts';
import { RecentMap } from '../../base/memo.ts';
import { ANY_CHARACTER, BOUNDARY_TEXT, charSet, charsOf, unionSets } from '../../language/charset.ts';
import { choice, literal, oneOf, repeat, sequence } from '../../language/expression.ts';
import { accepts, type Language, languageOf, nothing, union, wordLanguage } from '../../language/language.ts';
import type { Compiler } from '../../paths/compile.ts';
import type { Piece, Shape } from '../../paths/pattern.ts';
import { ANY_METHOD, type Conditions } from '../table/route.ts';
import type { Facts } from '../table/router-facts.ts';

/** A method is a token (RFC 9110, 9.1); the usual ones are upper case. */
const TOKEN = unionSets(charSet([0x30, 0x39], [0x41, 0x5a], [0x61, 0x7a]), charsOf("!#$%&'*+-.^_`|~"));

export const everyMethod = lazy(() => languageOf(repeat(oneOf(TOKEN), 1)));

export const anything = lazy(() => languageOf(choice(repeat(oneOf(ANY_CHARACTER)), { kind: 'set', set: [0xd801, 0xd801] })));

/** The methods that a route takes, HEAD included where a GET route answers it, and left out where HEAD is looked up as GET. */
export function methodLanguage(methods: readonly string[], facts: Facts): Language {
  const cache = facts.head === 'declared' ? METHODS.declared : facts.head === 'is-get' ? METHODS.isGet : METHODS.answered;
  const cached = cache.get(methods);
  if (cached !== undefined) return cached;
  const made = makeMethodLanguage(methods, facts);
  cache.set(methods, made);
  return made;
}

/** By the list itself, which the routes of a table share. */
const METHODS = {
  declared: new WeakMap<readonly string[], Language>(),
  answered: new WeakMap<readonly string[], Language>(),
  isGet: new WeakMap<readonly string[], Language>(),
};

function makeMethodLanguage(methods: readonly string[], { head }: Facts): Language {
  if (methods.includes(ANY_METHOD)) return everyMethod();
  const own = head === 'is-get' ? methods.filter((m) => m !== 'HEAD') : methods;
  const withHead = head !== 'declared' && methods.includes('GET') ? [...own, 'HEAD'] : own;
  return withHead.length === 0 ? nothing() : union(withHead.map(wordLanguage));
}

/** Does a shape match a path of decoded segments? */
export function matchesPath(shape: Shape, segments: readonly string[], compiler: Compiler): boolean {
  for (let i = 0; i < shape.length; i++) {
    const piece = shape[i] as Piece;
    if (piece.kind === 'span') {
      return accepts(
        compiler.rest(shape, i),
        segments
          .slice(i)
          .map((s) => BOUNDARY_TEXT + s)
          .join(''),
      );
    }
    const segment = segments[i];
    if (segment === undefined || !compiler.test(piece)(segment)) return false;
  }
  return segments.length === shape.length;
}

/** The language of a condition's values; everything where there is none. */
export function conditionLanguage(conditions: Conditions, kind: 'host' | 'version' | 'takes' | 'returns'): Language {
  const wanted = conditions[kind];
  if (wanted === undefined) return anything();
  const texts = typeof wanted === 'string' ? [wanted] : wanted;
  return union(texts.map((text) => (kind === 'version' ? wordLanguage(text) : wildcardLanguage(text))));
}

/** `*` stands for any text: `image/*`, `*.canal.example`. */
const wildcards = new RecentMap<string, Language>(500);

function wildcardLanguage(text: string): Language {
  return wildcards.remember(text, () => makeWildcard(text));
}

function makeWildcard(text: string): Language {
  if (!text.includes('*')) return wordLanguage(text.toLowerCase());
  const parts = text
    .toLowerCase()
    .split('*')
    .map((t) => literal(t));
  const stars = parts.flatMap((p, i) => (i === 0 ? [p] : [repeat(oneOf(ANY_CHARACTER)), p]));
  return languageOf(sequence(...stars));
}
