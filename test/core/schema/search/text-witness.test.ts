/** Patterns that are no languages - look-around, backreferences - against the engine, on every short text. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { accepts } from '../../../../src/core/language/language.ts';
import { isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { patternLanguage } from '../../../../src/core/schema/vocabulary/patterns.ts';
import { runs } from '../../../runs.ts';
import { schemaFrom } from '../../schemas.ts';

const LETTERS = ['a', 'B', '7', '-'];
const TEXTS = ['', ...LETTERS];
for (const text of TEXTS) if (text.length > 0 && text.length < 4) for (const letter of LETTERS) TEXTS.push(text + letter);

const part = fc.constantFrom('a', 'B', '7', '[a-z]', '[^-]', '.', '(?:a|B7)', '-?', '\\w*', '\\d+');
const around = fc.oneof(
  fc
    .tuple(fc.constantFrom('?=', '?!', '?<=', '?<!'), fc.constantFrom('a', '.*7', 'B$', '.*[a-z]', '-'))
    .map(([k, p]) => `(${k}${p})`),
  fc.constantFrom('(?:(.)\\1)', '\\b', '\\B'),
);
const pattern = fc
  .tuple(
    fc.constantFrom('', '^'),
    fc.array(fc.oneof(part, part, around), { minLength: 1, maxLength: 3 }),
    fc.constantFrom('', '$'),
  )
  .map(([from, parts, to]) => from + parts.join('') + to);
const texts = fc.record(
  { pattern, minLength: fc.nat(3), maxLength: fc.integer({ min: 1, max: 4 }) },
  { requiredKeys: ['pattern'] },
);

test('what nobody can read as a language is decided where texts show it, and never wrongly', () => {
  const found = { contained: 0, counterexample: 0, undecided: 0 };
  fc.assert(
    fc.property(texts, texts, (a, b) => {
      const verdict = isSubschema(schemaFrom({ type: 'string', ...a }), schemaFrom({ type: 'string', ...b }), 'response');
      const holds = (s: typeof b, text: string): boolean =>
        new RegExp(s.pattern, 'u').test(text) && text.length >= (s.minLength ?? 0) && text.length <= (s.maxLength ?? Infinity);
      const shows = (text: string): boolean => holds(a, text) && !holds(b, text);
      if (verdict.kind === 'counterexample')
        expect([verdict.witness, shows(verdict.witness as string)]).toEqual([verdict.witness, true]);
      if (verdict.kind === 'contained') expect(TEXTS.filter(shows)).toEqual([]);
      found[verdict.kind] += 1;
    }),
    { numRuns: runs(800) },
  );
  expect(found.counterexample).toBeGreaterThan(runs(400));
  expect(found.undecided).toBeLessThan(runs(180));
});

/** Parts that look ahead, in groups and alternatives, repeated a few times. */
const ahead = fc.letrec<{ part: string }>((tie) => ({
  part: fc.oneof(
    { maxDepth: 2 },
    part,
    fc.tuple(fc.constantFrom('?=', '?!'), fc.constantFrom('a', '.*7', 'B$', '^a', '-|7')).map(([k, p]) => `(${k}${p})`),
    fc.constantFrom('^', '$'),
    fc.array(tie('part'), { minLength: 1, maxLength: 3 }).map((parts) => parts.join('')),
    fc.tuple(tie('part'), tie('part')).map(([a, b]) => `(?:${a}|${b})`),
    fc.tuple(tie('part'), fc.constantFrom('?', '{2}', '{0,2}')).map(([a, times]) => `(?:${a})${times}`),
  ),
})).part;

test('a pattern that looks ahead is the language of the texts in which it is found', () => {
  let found = 0;
  fc.assert(
    fc.property(ahead, (source) => {
      const language = patternLanguage(source);
      const engine = new RegExp(source, 'u');
      expect([source, TEXTS.filter((t) => language !== undefined && accepts(language, t))]).toEqual([
        source,
        TEXTS.filter((t) => engine.test(t)),
      ]);
      if (/\(\?[=!]/u.test(source)) found += 1;
    }),
    { numRuns: runs(1_000) },
  );
  expect(found).toBeGreaterThan(runs(200));
});
