/** Files that were damaged: every run ends with a status of its own and sentences, and what is whole is still looked at. */
import { cpSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { type Blow, blows, junk, struck } from './damage.ts';
import { runAll } from './run.ts';
import { runs, SEED } from './runs.ts';

const FIRST = SEED + 6;
const FILES = readdirSync('demo').filter((name) => name.endsWith('.yaml'));
const COMMANDS = [
  ['check'],
  ['check', '--format', 'json'],
  ['table'],
  ['methods'],
  ['media'],
  ['versions'],
  ['versions', '--format', 'json'],
  ['follow', 'GET', '/v2/locks/7'],
  ['compare', 'passage-desk.v1.openapi.yaml', 'passage-desk.v2.openapi.yaml', '--all'],
  ['compare', 'passage-desk.v2.openapi.yaml', 'passage-desk.v1.openapi.yaml', '--format', 'json'],
];

/** Lines that are gone, stand twice, or elsewhere; letters that slipped in; an end that was cut off. */
const slips = fc.tuple(fc.constantFrom('gone', 'twice', 'deeper', 'slip', 'cut', 'word'), fc.nat(), fc.nat(), junk);
function slipped(text: string, [how, where, other, what]: readonly [string, number, number, unknown]): string {
  const lines = text.split('\n');
  const at = where % lines.length;
  const line = lines[at] ?? '';
  if (how === 'cut') return text.slice(0, where % text.length);
  if (how === 'gone') lines.splice(at, 1);
  if (how === 'twice') lines.splice(other % lines.length, 0, line);
  if (how === 'deeper') lines[at] = `  ${line}`;
  if (how === 'slip')
    lines[at] = line.slice(0, other % (line.length + 1)) + '\t{*&"\u0001:]'[where % 8] + line.slice(other % (line.length + 1));
  if (how === 'word') lines[at] = line.replace(/(?<=[:-] ).*/u, () => JSON.stringify(what) ?? '');
  return lines.join('\n');
}

const damage = fc.tuple(fc.constantFrom(...FILES), fc.oneof(blows, slips));
const OURS = /mistake of its own|\n\s+at |node:internal|undefined|\[object|NaN/u;

test('whatever is wrong with a file, every command ends with a sentence or a result', () => {
  const hits = fc.sample(damage, { numRuns: runs(6), seed: FIRST });
  const jobs = hits.flatMap(([name, how]) => {
    const dir = mkdtempSync(join(tmpdir(), 'elm-gate-damaged-'));
    cpSync('demo', dir, { recursive: true });
    const text = readFileSync(join('demo', name), 'utf8');
    const hurt =
      typeof how[0] === 'string'
        ? slipped(text, how as never)
        : JSON.stringify((how as readonly Blow[]).reduce(struck, load(text)), null, 1);
    writeFileSync(join(dir, name), hurt ?? '');
    return COMMANDS.map((args) => ({ dir, args, name, how }));
  });
  const wrong = runAll(jobs).flatMap(({ status, out, err }, i) => {
    const { dir, args, name, how } = jobs[i] as (typeof jobs)[number];
    const isFine =
      !OURS.test(err) &&
      // What can't go on says why; what can has something to show.
      (status === 2 ? /^[^\n]*\b(?:yaml|json)\b/u.test(err) : (status === 0 || status === 1) && out.trim() !== '') &&
      (status === 2 || !args.includes('json') || JSON.parse(out) !== undefined);
    return isFine
      ? []
      : [{ dir, args: args.join(' '), name, how: JSON.stringify(how).slice(0, 200), status, err: err.slice(0, 300) }];
  });
  expect(wrong).toEqual([]);
});
