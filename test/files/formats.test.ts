import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { RULES } from '../../src/core/checks/index.ts';
import { CHANGE_RULES } from '../../src/core/compare/changes/rules/index.ts';
import { jsonSchemas } from '../../src/files/formats/schemas.ts';
import { knownText } from '../../src/files/known.ts';
import { locate, parseSource } from '../../src/files/source.ts';
import { rulesMarkdown } from '../../src/views/rules.ts';
import { runs } from '../runs.ts';

test('the JSON Schemas in schemas/ are those of the formats, and take the demo', () => {
  const ajv = new Ajv2020({ strict: false, validateFormats: false });
  const entry = { rule: 'paths/shadowed', at: 'GET /locks', message: 'never', reason: 'soon', until: '2027-06-30' };
  const files: Readonly<Record<string, string>> = {
    'route-table.schema.json': readFileSync('demo/passage-desk.routes.yaml', 'utf8'),
    'settings.schema.json': readFileSync('demo/elm-gate.yaml', 'utf8'),
    'known-findings.schema.json': knownText(new Map([['0123456789abcdef', entry]])),
  };
  for (const [name, schema] of Object.entries(jsonSchemas())) {
    expect(JSON.parse(readFileSync(`schemas/${name}`, 'utf8')), `schemas/${name} is stale: npm run docs`).toEqual(
      JSON.parse(JSON.stringify(schema)),
    );
    const file = files[name];
    // Those of outputs take what the commands write: outputs.test.ts.
    if (file === undefined && name.startsWith('output/')) continue;
    const validate = ajv.compile(schema);
    expect(validate(load(file as string)), JSON.stringify(validate.errors)).toBe(true);
    expect(validate({ routeTable: 2, services: 7 })).toBe(false);
  }
});

test('the picture in docs/architecture.md is made from the imports', async () => {
  const { withPicture } = await import('../../scripts/picture.mjs');
  const page = readFileSync('docs/architecture.md', 'utf8');
  expect(page, 'docs/architecture.md is stale: npm run docs').toBe(withPicture(page, 'src'));
  expect(page).toContain('checks["core/checks"] --> ');
});

test('docs/rules.md is made from the rules', () => {
  expect(readFileSync('docs/rules.md', 'utf8'), 'docs/rules.md is stale: npm run docs').toBe(rulesMarkdown(RULES, CHANGE_RULES));
});

test('places are found by pointer: keys, items, quotes, flow style, aliases, characters beyond the BMP', () => {
  const text =
    '\ufeff# canal\nlocks: &l\n  - {id: 7, "na/me~": 𝔸lm}\n  -   deep:\n        x: 1\nagain: *l\n"q": [ "a" , b]\n'.slice(1);
  const source = parseSource('x.yaml', text);
  const at = (pointer: string) => {
    const { line, column } = locate(source, [pointer]).get(pointer) ?? {};
    return `${line}:${column}`;
  };
  expect(['/locks/0', '/locks/0/na~1me~0', '/locks/1/deep/x', '/again', '/again/0/id', '/q/1', '/nowhere', ''].map(at)).toEqual([
    '3:5',
    '3:13',
    '5:9',
    '6:1',
    '6:1',
    '7:14',
    '2:1',
    '2:1',
  ]);
  expect(locate(parseSource('x.json', '{\n\t"a": [1,\n\t\t{"b": 2}]}'), ['/a/1/b']).get('/a/1/b')).toEqual({
    line: 3,
    column: 4,
  });
});

test('places in JSON are those that YAML finds in the same text, however it is indented', () => {
  const values = fc.letrec((tie) => ({
    any: fc.oneof(
      { maxDepth: 4, depthSize: 'medium' },
      fc.constantFrom<unknown>(7, true, null, 'elm', '"\\', 'a\n'),
      fc.array(tie('any'), { maxLength: 3 }),
      fc.dictionary(fc.constantFrom('a', 'b', 'gates', '404', '200', 'q"\\'), tie('any'), { noNullPrototype: true }),
    ),
  })).any;
  const pointers = (value: unknown, at = ''): readonly string[] =>
    typeof value !== 'object' || value === null
      ? [at]
      : [at, ...Object.entries(value).flatMap(([key, item]) => pointers(item, `${at}/${key}`))];
  fc.assert(
    fc.property(values, fc.constantFrom(0, 1, 4), fc.array(fc.nat(12)), fc.boolean(), (value, indent, margins, ragged) => {
      const lines = JSON.stringify(value, null, indent).split('\n');
      const text = ragged
        ? lines.map((l, i) => ' '.repeat(margins[i % (margins.length + 1)] ?? 0) + l.trim()).join('\n')
        : lines.join('\n');
      const source = parseSource('x.json', text);
      for (const list of [pointers(value), ...pointers(value).map((p) => [p])])
        expect(locate(source, list)).toEqual(locate({ ...source, json: false }, list));
    }),
    { numRuns: runs(500) },
  );
});
