import fc from 'fast-check';
import { expect, test } from 'vitest';
import { partition } from '../../../src/core/language/classify.ts';
import { example, shortest } from '../../../src/core/language/example.ts';
import {
  accepts,
  intersect,
  isEmpty,
  type Language,
  languageOf,
  relation,
  subtract,
  union,
} from '../../../src/core/language/language.ts';
import { parseRegex } from '../../../src/core/language/regex.ts';
import { runs } from '../../runs.ts';

/** Regular expressions as text, over few letters so that they meet; classes, counts, anchors, lazy and greedy. */
const atom = fc.constantFrom('a', 'b', 'c', '.', '[ab]', '[^a]', '\\d', '\\w', '\\u0061', '7', '-', '\\.', 'é', '𝔸');
const regexText: fc.Arbitrary<string> = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4, withCrossShrink: true },
    atom,
    fc.tuple(tie('node'), fc.constantFrom('*', '+', '?', '*?', '{2}', '{0,2}', '{1,}')).map(([n, q]) => `(?:${n})${q}`),
    fc.tuple(tie('node'), tie('node')).map(([a, b]) => a + b),
    fc.tuple(tie('node'), tie('node')).map(([a, b]) => `(${a}|${b})`),
    fc.tuple(tie('node'), fc.constantFrom('^', '$')).map(([n, edge]) => (edge === '^' ? `(?:^|${n})` : `(?:${n}|$)`)),
  ),
})).node;
const word = fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'A', '7', '-', '.', 'é', '𝔸', '\n'), maxLength: 6 });

function language(source: string, whole = true, ignoreCase = false): Language {
  const parsed = parseRegex(source, { ignoreCase }, whole);
  if (!parsed.ok) throw new Error(parsed.error.message);
  return languageOf(parsed.expression);
}

test('a regular expression holds the texts that the engine of JavaScript matches', () => {
  fc.assert(
    fc.property(
      regexText,
      fc.array(word, { minLength: 1, maxLength: 12 }),
      fc.boolean(),
      fc.boolean(),
      (source, words, whole, ignoreCase) => {
        const judge = new RegExp(whole ? `^(?:${source})$` : source, ignoreCase ? 'iu' : 'u');
        const l = language(source, whole, ignoreCase);
        for (const w of words) expect(accepts(l, w), `/${source}/ on ${JSON.stringify(w)}`).toBe(judge.test(w));
      },
    ),
    { numRuns: runs(700) },
  );
});

/** Which pairs of states some text tells apart, by filling a table. */
function told({ accepts, edges }: Language['automaton']): number {
  const cuts = [...new Set(edges.flatMap((e) => e.flatMap((n, i) => (i % 3 === 0 ? [n] : i % 3 === 1 ? [n + 1] : []))))];
  const next = (s: number, c: number): number => {
    const out = edges[s] ?? [];
    for (let i = 0; i < out.length; i += 3)
      if ((out[i] as number) <= c && c <= (out[i + 1] as number)) return out[i + 2] as number;
    return -1;
  };
  const apart = new Set<string>();
  const differ = (p: number, q: number): boolean => (p < 0 || q < 0 ? p !== q : apart.has(`${Math.min(p, q)},${Math.max(p, q)}`));
  for (let before = -1; before !== apart.size; ) {
    before = apart.size;
    for (let p = 0; p < accepts.length; p++)
      for (let q = p + 1; q < accepts.length; q++)
        if (accepts[p] !== accepts[q] || cuts.some((c) => differ(next(p, c), next(q, c)))) apart.add(`${p},${q}`);
  }
  return apart.size;
}

test('an automaton is the smallest of its language', () => {
  fc.assert(
    fc.property(regexText, regexText, (x, y) => {
      const [a, b] = [language(x), language(y)];
      for (const l of [a, union([a, b]), intersect(a, b), subtract(a, b)]) {
        const n = l.automaton.accepts.length;
        if (n > 1 && n < 40) expect(told(l.automaton)).toBe((n * (n - 1)) / 2);
      }
      // The same language is the same object, however it came about.
      expect(intersect(a, b)).toBe(intersect(b, a));
      expect(subtract(a, subtract(a, b))).toBe(intersect(a, b));
      expect(union([subtract(a, b), intersect(a, b)])).toBe(a);
    }),
    { numRuns: runs(300) },
  );
});

test('long counts are made small in time', () => {
  const counted = language('[a-z0-9]{1,900}');
  expect(intersect(counted, language('[a-z]+'))).toBe(language('[a-z]{1,900}'));
  expect(example(subtract(counted, language('[a-z0-9]{1,899}')))?.length).toBe(900);
});

/** Every text over two letters, up to a length that tells small automata apart. */
const ALL = Array.from({ length: 7 }, (_, n) => n).flatMap((n) =>
  Array.from({ length: 2 ** n }, (_, i) => (n === 0 ? '' : i.toString(2).padStart(n, '0'))),
);
const bits = regexText.map((s) =>
  s.replaceAll(/[abcé𝔸A.-]|\\[dw.]|\\u0061|7/gu, (m) => (/[aé7.]/u.test(m) ? '0' : '1')).replaceAll(/\[\^?[01]+\]/gu, '[01]'),
);

test('combination, emptiness, relation and examples agree with enumeration', () => {
  fc.assert(
    fc.property(bits, bits, (x, y) => {
      const [a, b] = [language(x), language(y)];
      const inA = ALL.filter((w) => accepts(a, w));
      const inB = ALL.filter((w) => accepts(b, w));
      const both = ALL.filter((w) => accepts(intersect(a, b), w));
      expect(both).toEqual(inA.filter((w) => inB.includes(w)));
      expect(ALL.filter((w) => accepts(subtract(a, b), w))).toEqual(inA.filter((w) => !inB.includes(w)));
      expect(ALL.filter((w) => accepts(union([a, b]), w))).toEqual(ALL.filter((w) => inA.includes(w) || inB.includes(w)));
      const [onlyA, onlyB] = [!isEmpty(subtract(a, b)), !isEmpty(subtract(b, a))];
      const meets = !isEmpty(intersect(a, b));
      expect(relation(a, b)).toBe(
        !meets && (onlyA || onlyB) ? 'disjoint' : onlyA ? (onlyB ? 'overlapping' : 'superset') : onlyB ? 'subset' : 'equal',
      );
      if (isEmpty(a)) expect(example(a)).toBeUndefined();
      else {
        expect(accepts(a, example(a) as string)).toBe(true);
        if (inA.length > 0) expect(shortest(a.automaton).length).toBe((inA[0] as string).length);
      }
    }),
    { numRuns: runs(600) },
  );
});

test('classes cut a language exactly, each with an example of its own', () => {
  fc.assert(
    fc.property(bits, fc.array(bits, { maxLength: 4 }), (x, ys) => {
      const target = language(x);
      fc.pre(!isEmpty(target));
      const others = ys.map((y) => language(y));
      const signature = (w: string): string => others.flatMap((o, i) => (accepts(o, w) ? [i] : [])).join(',');
      const classes = partition(target, others);
      for (const c of classes) {
        expect(accepts(target, c.text)).toBe(true);
        expect(signature(c.text)).toBe(c.members.join(','));
      }
      const found = new Set(classes.map((c) => c.members.join(',')));
      for (const w of ALL) if (accepts(target, w)) expect(found.has(signature(w))).toBe(true);
    }),
    { numRuns: runs(400) },
  );
});

test('what is not regular is refused with its place, and a limit is named', () => {
  const error = (source: string) => {
    const parsed = parseRegex(source, {}, true);
    return parsed.ok ? undefined : { at: source.slice(parsed.error.start, parsed.error.end), message: parsed.error.message };
  };
  expect(error('ab(?=c)d')).toEqual({ at: '(?=c)', message: expect.stringContaining('look-around') });
  expect(error('(a)\\1')).toEqual({ at: '\\1', message: expect.stringContaining('backreference') });
  expect(error('a{50000}')).toEqual({ at: 'a{50000}', message: expect.stringContaining('5000 is the limit') });
  expect(error('a(b')).toMatchObject({ message: expect.stringContaining("can't be read") });
});
