/** What is written for other programs: valid by their standards, whatever stands in the input. */
import { cpSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { create } from 'xmlbuilder2';
import { junit } from '../src/views/formats/junit.ts';
import { markdownReport } from '../src/views/formats/markdown-report.ts';
import { sarif } from '../src/views/formats/sarif.ts';
import type { Item, ItemReport } from '../src/views/items.ts';
import { folder, run } from './run.ts';
import { runs } from './runs.ts';

const ajv = new Ajv({ strict: false, allErrors: true, unicodeRegExp: false });
addFormats.default(ajv);
const isSarif = ajv.compile(JSON.parse(readFileSync('test/standards/sarif-2.1.0.schema.json', 'utf8')));

test('check: three formats in one run -> three files, each with every finding', () => {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  const files = ['--format', 'sarif', '--output', 'g.sarif', '--format', 'junit', '--output', 'g.xml', '--format', 'json'];
  const { out, status } = run(dir, ['check', ...files, '--output', 'g.json', '--format', 'markdown']);
  const [log, json] = ['g.sarif', 'g.json'].map((f) => JSON.parse(readFileSync(join(dir, f), 'utf8')));
  expect([status, isSarif(log), isSarif.errors]).toEqual([1, true, null]);
  const { results } = log.runs[0];
  const prints = results.map((r: { partialFingerprints: object }) => Object.values(r.partialFingerprints)[0]);
  expect(prints).toEqual(json.findings.map((f: { fingerprint: string }) => f.fingerprint));
  expect(new Set(prints).size).toBe(prints.length);
  expect(readFileSync(join(dir, 'g.xml'), 'utf8').match(/<testcase /gu)?.length).toBe(results.length);
  expect(out).toContain(`| error | ${json.summary.error} |`);
});

test('formats: two to standard output, or more files than formats -> a sentence and status 2', () => {
  const dir = folder({ 'canal.routes.yaml': 'routeTable: 1\nroutes:\n  - GET /locks -> locks.list\n' });
  for (const [args, words] of [
    [['--format', 'sarif', '--format', 'json'], "can't both go to standard output"],
    [['--output', 'a', '--output', 'b'], '--output was given 2 times'],
    [['--format', 'sarif', '--output', 'a', '--format', 'json', '--output', 'a'], 'the same file'],
  ] as const)
    expect(run(dir, ['check', ...args])).toMatchObject({ status: 2, out: '', err: expect.stringContaining(words) });
});

const text = fc.oneof(
  fc.string({ unit: 'binary' }),
  fc.constantFrom(
    '<img onerror=x>',
    ']]>',
    '&amp;',
    '\u0000\u001b[31m',
    '\ud800',
    '</details>',
    '[a](http://x)',
    '\n# x',
    '`',
    '--',
  ),
);
const place = fc.record({
  file: text,
  line: fc.option(fc.integer({ min: 1 }), { nil: undefined }),
  column: fc.constant(1),
  pointer: text,
  what: text,
});
const item: fc.Arbitrary<Item> = fc.record({
  ...{ rule: text, group: text, message: text, witness: text, advice: text, level: fc.constantFrom('error', 'warning', 'note') },
  at: fc.option(place, { nil: undefined }),
  related: fc.array(
    place.chain((p) => text.map((role) => ({ ...p, role }))),
    { maxLength: 2 },
  ),
  fingerprint: fc.constant('0123456789abcdef'),
});

test('formats: any text -> SARIF by its schema, XML that is well formed, Markdown without markup of the input', () => {
  fc.assert(
    fc.property(fc.array(item, { maxLength: 4 }), (items) => {
      const report: ItemReport = {
        command: 'check',
        version: '1.0.0',
        items,
        summary: ['Nothing.'],
        failOn: 'warning',
        known: 0,
      };
      expect([isSarif(JSON.parse(sarif(report))), isSarif.errors]).toEqual([true, null]);
      const xml = junit(report);
      const codes = [...xml].map((char) => char.codePointAt(0) as number);
      expect(
        codes.filter((n) => (n < 32 && n !== 9 && n !== 10) || (n >= 0xd800 && n < 0xe000) || n === 0xfffe || n === 0xffff),
      ).toEqual([]);
      const { testsuites } = create(xml).toObject() as { testsuites: Record<string, string> };
      expect(Number(testsuites['@tests'])).toBe(Math.max(1, items.length));
      expect(markdownReport(report).replaceAll(/<\/?(?:details(?: open)?|summary)>|<br>/gu, '')).not.toMatch(/<[a-z/!]/iu);
    }),
    { numRuns: runs(150) },
  );
});

test('markdown: thousands of findings -> at most 60,000 characters, and how many causes are left', () => {
  const items = Array.from({ length: 4_000 }, (_, i): Item => {
    const message = 'a lock that is too long to be told in one line, '.repeat(8);
    return {
      rule: `paths/r${i}`,
      level: 'error',
      group: 'canal',
      message,
      witness: '',
      advice: '',
      at: undefined,
      related: [],
      fingerprint: undefined,
    };
  });
  const out = markdownReport({ command: 'check', version: '1', items, summary: [], failOn: 'error', known: 0 });
  expect([out.length <= 60_000, /And [\d,]+ causes more/u.test(out)]).toEqual([true, true]);
});
