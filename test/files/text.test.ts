/** Text that is no document: it is refused with a sentence and a place in it, never with anything else. */
import fc from 'fast-check';
import { dump, load } from 'js-yaml';
import { expect, test } from 'vitest';
import { InputFailure } from '../../src/files/problem.ts';
import { locate, parseSource } from '../../src/files/source.ts';
import { folder, runAll } from '../run.ts';
import { runs } from '../runs.ts';

const RUNS = runs(150);
const json = fc.letrec((tie) => ({
  any: fc.oneof(
    { maxDepth: 4 },
    fc.constantFrom<unknown>(
      7,
      -0.5,
      1e21,
      true,
      null,
      '',
      'elm',
      'a: b',
      '# no',
      '- x',
      '"q"',
      '𝔸',
      'two\nlines',
      '&x',
      '*x',
      '{',
    ),
    fc.array(tie('any'), { maxLength: 3 }),
    fc.dictionary(fc.constantFrom('locks', 'a/b', 'm~n', 'x y', '7', '"', '#'), tie('any'), {
      maxKeys: 3,
      noNullPrototype: true,
    }),
  ),
})).any as fc.Arbitrary<unknown>;
const objects = fc.dictionary(fc.constantFrom('locks', 'gates', 'a/b'), json, { minKeys: 1, maxKeys: 3, noNullPrototype: true });

function failureOf(parse: () => unknown): InputFailure | undefined {
  try {
    parse();
    return undefined;
  } catch (error) {
    if (error instanceof InputFailure) return error;
    throw error;
  }
}

test('whatever is cut out of a text or slips into it, what is said has a place in it', () => {
  let refused = 0;
  const slips = fc.record({
    at: fc.nat(),
    much: fc.nat(3),
    slip: fc.constantFrom('', '{', ']', '"', '\t', ':', '\u0000', '- ', ',,', '&a', '*a', '%', '\r'),
  });
  fc.assert(
    fc.property(objects, fc.boolean(), slips, (value, asJson, { at, much, slip }) => {
      const whole = asJson ? JSON.stringify(value, null, 2) : dump(value);
      const from = at % whole.length;
      const text = whole.slice(0, from) + slip + whole.slice(from + much);
      const failure = failureOf(() => parseSource('canal.yaml', text));
      if (failure === undefined) return;
      refused += 1;
      const lines = text.split(/\r\n|\r|\n/u);
      for (const { file, line, message } of failure.problems) {
        expect(file).toBe('canal.yaml');
        expect(message.length).toBeGreaterThan(10);
        if (line !== undefined) expect([text, line <= lines.length && line >= 1]).toEqual([text, true]);
      }
    }),
    { numRuns: RUNS },
  );
  expect(refused).toBeGreaterThan(RUNS / 5);
});

test('text and value are the same whichever way they are written, and a place is where its key stands', () => {
  fc.assert(
    fc.property(objects, fc.constantFrom('json', 'yaml', 'flow', 'dos'), (value, how) => {
      const written = {
        json: JSON.stringify(value),
        yaml: dump(value),
        flow: dump(value, { flowLevel: 1 }),
        dos: dump(value).replaceAll('\n', '\r\n'),
      };
      const source = parseSource('canal.yaml', written[how]);
      expect(source.value).toEqual(how === 'dos' ? load(written.dos) : JSON.parse(JSON.stringify(value)));
      for (const key of Object.keys(source.value as object)) {
        const pointer = `/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;
        const { line = 0, column = 0 } = locate(source, [pointer]).get(pointer) ?? {};
        // Columns are counted in characters.
        const rest = [...(written[how].split(/\r?\n/u)[line - 1] ?? '')].slice(column - 1).join('');
        expect([pointer, rest]).toEqual([pointer, expect.stringMatching(new RegExp(`^["']?${key}`, 'u'))]);
      }
    }),
    { numRuns: RUNS },
  );
});

/** A file | what is said of it. */
const FILES: readonly (readonly [string, string | Buffer, RegExp])[] = [
  ['empty', '', /^x\.openapi\.yaml:1:1: the file is empty; expected YAML or JSON\n$/u],
  ['nothing but a comment', '# canal\n', /^x\.openapi\.yaml:1:1: expected an OpenAPI document, which is a mapping\n$/u],
  ['a list', '[1, 2]', /^x\.openapi\.yaml:1:1: expected an OpenAPI document, which is a mapping\n$/u],
  ['no document', 'title: Canal\n', /expected an OpenAPI document: neither "openapi: 3\.x" nor "swagger: 2\.0" stands in it/u],
  [
    'other letters',
    Buffer.from([0x6f, 0x3a, 0x20, 0xe9, 0x0a]),
    /^x\.openapi\.yaml:1:4: this is not UTF-8 text; save the file as UTF-8\n$/u,
  ],
  [
    'two documents',
    'openapi: 3.1.0\n---\nopenapi: 3.1.0\n',
    /the file holds 2 YAML documents, and one was expected; split it up/u,
  ],
  [
    'a key twice',
    'openapi: 3.1.0\nopenapi: 3.0.0\n',
    /^x\.openapi\.yaml:2:\d+: this is not YAML or JSON: duplicated mapping key; fix it there\n$/u,
  ],
  [
    'too deep',
    `{"openapi":"3.1.0","x":${'['.repeat(5_000)}${']'.repeat(5_000)}}`,
    /nests deeper than \d+ levels, which is the limit/u,
  ],
  [
    'few lines that stand for very much',
    `openapi: 3.1.0\na: &a [x, x, x, x, x, x, x, x, x]\n${[...'bcdefghi'].map((k, i) => `${k}: &${k} [${Array(9).fill(`*${'abcdefgh'[i]}`).join(', ')}]`).join('\n')}\n`,
    /stands for more than \d+ values once its aliases are written out, which is the limit/u,
  ],
];

test('files that are no documents -> each is refused with a sentence, by every command', () => {
  const jobs = FILES.flatMap(([what, text, says]) => {
    const dir = folder({ 'x.openapi.yaml': text, 'y.openapi.yaml': 'openapi: 3.1.0\npaths: {}\n' });
    return [
      { dir, what, says, args: ['check', '--document', 'x.openapi.yaml'] },
      { dir, what, says, args: ['compare', 'y.openapi.yaml', 'x.openapi.yaml'] },
    ];
  });
  for (const [i, { status, out, err }] of runAll(jobs).entries()) {
    const { what, says, args } = jobs[i] as (typeof jobs)[number];
    expect([what, args[0], status, out, err]).toEqual([what, args[0], 2, '', expect.stringMatching(says)]);
  }
});
