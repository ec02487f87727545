/**
 * Regular languages, interned: two languages are equal exactly when they are the same object, so equality costs nothing
 * and relations between them are computed once per pair.
 */
import { InternTable, memoise, RecentMap } from '../base/memo.ts';
import { type Automaton, acceptsText, automatonKey, minimise } from './automaton.ts';
import { BOUNDARY } from './charset.ts';
import { automatonOf, type Membership, membershipOf } from './determinise.ts';
import { ANY, type Expression, repeat } from './expression.ts';
import { LimitReached } from './limits.ts';
import { product, type Relation, relate, unionOf } from './product.ts';

export interface Language {
  readonly id: number;
  /** The one text it holds, where it holds just one. */
  readonly word: string | undefined;
  /** Throws `LimitReached` where it would be too large. */
  readonly automaton: Automaton;
  /** What is known of it where its automaton would be too large. */
  readonly large?: Membership & { readonly expression: Expression };
}

const byKey = new InternTable<Language>();
const byWord = new InternTable<Language>();
const relations = new RecentMap<number, Relation>(100_000);
const combinations = new RecentMap<string, Language>(2_000);
/** Ids are packed two to a number as keys of `relations`. */
const MAX_LANGUAGES = 2 ** 26;
let lastId = 0;

/** The language of an expression, known as long as it is. Throws `LimitReached` where the automaton grows too large. */
export const languageOf: (expression: Expression) => Language = memoise((expression) => intern(automatonOf(expression)));

/** All texts but the empty one. */
const SOME_TEXT: Expression = repeat(ANY, 1);

export function someText(): Language {
  return languageOf(SOME_TEXT);
}

const largeLanguages = new InternTable<Language>();

/**
 * The same, but a language whose automaton would be too large still answers what holds a text, and is its own wherever the
 * same expression comes again; what needs its automaton throws `LimitReached` later.
 */
export function languageOrLarge(expression: Expression): Language {
  try {
    return languageOf(expression);
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    const key = JSON.stringify(expression);
    return largeLanguages.remember(key, () => largeLanguage(expression, error));
  }
}

function largeLanguage(expression: Expression, error: LimitReached): Language {
  const membership = membershipOf(expression);
  if (membership.shortest === undefined) return nothing();
  return {
    id: nextId(),
    word: undefined,
    large: { ...membership, expression },
    get automaton(): Automaton {
      throw error;
    },
  };
}

/** A language with an automaton that holds all of this one: its own, or without its counts. Throws `LimitReached`. */
export function upperBound(language: Language): Language {
  return language.large === undefined ? language : uncountedLanguage(language);
}

const uncountedLanguage = memoise(({ large }: Language) =>
  languageOf(uncounted((large as { expression: Expression }).expression)),
);

/** Every repetition of more than one without its bounds. */
function uncounted(expression: Expression): Expression {
  switch (expression.kind) {
    case 'sequence':
    case 'choice':
      return { kind: expression.kind, items: expression.items.map(uncounted) };
    case 'repeat':
      return repeat(uncounted(expression.item), Math.min(1, expression.min), expression.max > 1 ? Number.POSITIVE_INFINITY : 1);
    default:
      return expression;
  }
}

/** The language that holds one text. Its automaton is built when first asked for. */
export function wordLanguage(word: string): Language {
  const known = byWord.get(word);
  if (known !== undefined) return known;
  let automaton: Automaton | undefined;
  const made: Language = {
    id: nextId(),
    word,
    get automaton() {
      automaton ??= chain(word);
      return automaton;
    },
  };
  byWord.set(word, made);
  return made;
}

export function nothing(): Language {
  return intern({ accepts: [], edges: [] });
}

export function isEmpty(language: Language): boolean {
  return language.word === undefined && language.large === undefined && language.automaton.accepts.length === 0;
}

/** Does it hold this text? Linear in the text. */
export function accepts(language: Language, text: string): boolean {
  if (language.word !== undefined) return language.word === text;
  if (language.large !== undefined) return language.large.holds(text);
  return acceptsText(language.automaton, text);
}

/** What is in both. */
export function intersect(a: Language, b: Language): Language {
  if (a === b) return a;
  return combined('&', a, b, (x, y) => x && y);
}

/** What is in `a` and not in `b`. */
export function subtract(a: Language, b: Language): Language {
  return combined('-', a, b, (x, y) => x && !y);
}

/** What is in any of them. Cost: states of the joint automaton, which is a tree for plain words. */
export function union(languages: readonly Language[]): Language {
  const distinct = [...new Set(languages)].sort((a, b) => a.id - b.id);
  if (distinct.length === 1) return distinct[0] as Language;
  return memo(`|${distinct.map((l) => l.id).join(',')}`, () => intern(minimise(unionOf(distinct.map((l) => l.automaton)))));
}

/** How the sets lie to each other. One walk over the product of the automata, remembered by pair. */
export function relation(a: Language, b: Language): Relation {
  if (a === b) return 'equal';
  if (a.word !== undefined && b.word !== undefined) return 'disjoint';
  if (a.word !== undefined) return accepts(b, a.word) ? 'subset' : 'disjoint';
  if (b.word !== undefined) return accepts(a, b.word) ? 'superset' : 'disjoint';
  const key = a.id * MAX_LANGUAGES + b.id;
  let known = relations.get(key);
  if (known === undefined) {
    known = a.large !== undefined || b.large !== undefined ? bounded(a, b) : relate(a.automaton, b.automaton);
    relations.set(key, known);
  }
  return known;
}

/** What the upper bounds tell of two languages, one of which is large. Throws `LimitReached` where they don't. */
function bounded(a: Language, b: Language): Relation {
  const found = relate(upperBound(a).automaton, upperBound(b).automaton);
  if (found === 'disjoint') return 'disjoint';
  if (a.large !== undefined && b.large === undefined && found === 'subset') return 'subset';
  if (b.large !== undefined && a.large === undefined && found === 'superset') return 'superset';
  throw new LimitReached('two patterns that count what they repeat are too large to be compared');
}

/** Is every text of `a` in `b`? */
export function isSubset(a: Language, b: Language): boolean {
  const r = relation(a, b);
  return r === 'equal' || r === 'subset' || isEmpty(a);
}

export function disjoint(a: Language, b: Language): boolean {
  return relation(a, b) === 'disjoint';
}

export function symbolsOf(text: string): number[] {
  const out: number[] = [];
  for (const char of text) out.push(char.codePointAt(0) as number);
  return out;
}

function combined(sign: string, a: Language, b: Language, keep: (x: boolean, y: boolean) => boolean): Language {
  return memo(`${a.id}${sign}${b.id}`, () => intern(minimise(product(a.automaton, b.automaton, keep))));
}

function memo(key: string, compute: () => Language): Language {
  return combinations.remember(key, compute);
}

function intern(automaton: Automaton): Language {
  const word = onlyWord(automaton);
  if (word !== undefined) return wordLanguage(word);
  const key = automatonKey(automaton);
  const known = byKey.get(key);
  if (known !== undefined) return known;
  const made: Language = { id: nextId(), word: undefined, automaton };
  byKey.set(key, made);
  return made;
}

function nextId(): number {
  lastId += 1;
  return lastId;
}

function chain(word: string): Automaton {
  const symbols = symbolsOf(word);
  return {
    accepts: [...symbols.map(() => false), true],
    edges: [...symbols.map((symbol, i) => [symbol, symbol, i + 1]), []],
  };
}

function onlyWord({ accepts: ends, edges }: Automaton): string | undefined {
  if (ends.length === 0) return undefined;
  const codes: number[] = [];
  for (let s = 0; s < ends.length; s++) {
    const out = edges[s] as readonly number[];
    if (ends[s]) return out.length === 0 ? String.fromCodePoint(...codes) : undefined;
    if (out.length !== 3 || out[0] !== out[1] || out[0] === BOUNDARY) return undefined;
    codes.push(out[0] as number);
  }
  return undefined;
}
