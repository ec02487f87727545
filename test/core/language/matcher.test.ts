/** Our own matching of regular expressions, against the language's engine on small texts. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { match } from '../../../src/core/language/matcher.ts';
import { runs } from '../../runs.ts';

const RUNS = runs(500);

const atom = fc.constantFrom('a', 'b', '.', '[ab]', '[^a]', '\\d', '\\w', '^', '$', '\\b', 'ab');
const { regex } = fc.letrec<{ regex: string; term: string }>((tie) => ({
  regex: fc.array(tie('term'), { minLength: 1, maxLength: 3 }).map((terms) => terms.join('')),
  term: fc.oneof(
    { weight: 5, arbitrary: atom },
    { weight: 2, arbitrary: tie('regex').map((r) => `(${r})`) },
    { weight: 1, arbitrary: fc.tuple(tie('regex'), tie('regex')).map(([a, b]) => `(?:${a}|${b})`) },
    {
      weight: 1,
      arbitrary: fc.tuple(fc.constantFrom('(?=', '(?!', '(?<=', '(?<!'), tie('regex')).map(([open, r]) => `${open}${r})`),
    },
    {
      weight: 2,
      arbitrary: fc
        .tuple(tie('regex'), fc.constantFrom('*', '+', '?', '*?', '+?', '{1,2}', '{2}'))
        .map(([r, count]) => `(${r})${count}`),
    },
  ),
}));
const text = fc.string({ unit: fc.constantFrom('a', 'b', '1', ' '), maxLength: 8 });

test('groups: any expression on any text -> what the engine of the language captures', () => {
  let met = 0;
  fc.assert(
    fc.property(regex, text, fc.boolean(), (source, subject, ignoreCase) => {
      const theirs = new RegExp(source, ignoreCase ? 'iu' : 'u').exec(subject);
      const ours = match(source, subject, { anywhere: true, ignoreCase });
      if (theirs === null) expect(ours).toBeNull();
      // What a group behind the place captured, that is read backwards, is left open.
      else if (/\(\?<[=!]/u.test(source)) expect(ours).not.toBeNull();
      else expect(ours?.map((g) => g.text)).toEqual(theirs.slice(1));
      met += theirs === null ? 0 : 1;
    }),
    { numRuns: RUNS },
  );
  expect(met).toBeGreaterThan(RUNS / 5);
});

test('backreferences and names are understood, and what would take too long is undecided', () => {
  expect(match('^(a|b)\\1$', 'bb')).toEqual([{ name: '0', text: 'b' }]);
  expect(match('^(?<lock>\\d+)/(x)$', '7/x')).toEqual([{ name: 'lock', text: '7' }]);
  expect(match('(', 'a')).toBeUndefined();
  expect(match('^(a+)+$', `${'a'.repeat(60)}!`)).toBeUndefined();
});
