/** Settings that extend others, levels of a path, and what `settings` says of them. */
import { expect, test } from 'vitest';
import { folder, run, table } from './run.ts';

const TABLE = table(
  'GET /v1/locks/{id} -> a',
  'GET /v1/locks/closed -> b',
  'GET /v2/locks/{id} -> c',
  'GET /v2/locks/closed -> d',
);
const rulesOf = (dir: string): readonly string[] =>
  JSON.parse(run(dir, ['check', '--rule', 'paths/shadowed', '--format', 'json']).out).findings.map(
    (f: { level: string; at: { what: string } }) => `${f.level} ${f.at.what}`,
  );

test('levelsBelow and extends: the longest path, and the file itself before those it extends', () => {
  const dir = folder({
    'canal.routes.yaml': TABLE,
    'elm-gate.yaml': 'extends: [team.yaml]\nlevels: { paths/shadowed: warning }\nlevelsBelow: { /v1: { paths/shadowed: off } }\n',
    'team.yaml':
      'extends: all.yaml\nlevels: { paths/shadowed: error, types/clash: note }\nservices: [{ name: other, routes: nowhere.yaml }]\n',
    'all.yaml': 'failOn: warning\nlevels: { types/clash: off }\nlevelsBelow: { /v2/locks/closed: { paths/shadowed: note } }\n',
  });
  expect(rulesOf(dir)).toEqual(['note GET /v2/locks/closed -> d']);
  const rows = JSON.parse(run(dir, ['settings', '--format', 'json']).out).settings as {
    key: string;
    value: unknown;
    from: string;
  }[];
  expect(rows.map(({ key, value, from }) => `${key} = ${typeof value === 'string' ? value : '...'} (${from})`)).toEqual([
    'levels types/clash = note (team.yaml:2)',
    'levels paths/shadowed = warning (elm-gate.yaml:2)',
    'levelsBelow /v2/locks/closed = ... (all.yaml:3)',
    'levelsBelow /v1 = ... (elm-gate.yaml:3)',
    'failOn = warning (all.yaml:1)',
    'methods = ... (default)',
  ]);
  expect(run(dir, ['settings']).out).toMatch(/levels paths\/shadowed +warning +elm-gate\.yaml:2\n/u);
});

test.each([
  [
    'a circle',
    { 'elm-gate.yaml': 'extends: b.yaml\n', 'b.yaml': 'extends: elm-gate.yaml\n' },
    'extend themselves: elm-gate.yaml -> b.yaml -> elm-gate.yaml',
  ],
  [
    'no file',
    { 'elm-gate.yaml': 'failOn: error\nextends: [nowhere.yaml]\n' },
    'elm-gate.yaml:2:11: there is no file "nowhere.yaml"',
  ],
  [
    'a rule in another file',
    { 'elm-gate.yaml': 'extends: b.yaml\n', 'b.yaml': 'levels: { paths/shadow: off }\n' },
    'b.yaml:1:11: unknown rule "paths/shadow"',
  ],
  ['a rule below a path', { 'elm-gate.yaml': 'levelsBelow: { /v1: { paths/shadow: off } }\n' }, 'unknown rule "paths/shadow"'],
  ['a file outside', { 'elm-gate.yaml': 'extends: ../../../../../../../etc/hosts\n' }, 'lies outside'],
] as const)('extends %s -> a sentence in its place, status 2', (_, files, words) => {
  const dir = folder({ 'canal.routes.yaml': TABLE, ...files });
  expect(run(dir, ['check'])).toMatchObject({ status: 2, out: '', err: expect.stringContaining(words) });
});
