/** What is printed for people, on narrow and wide terminals, with colours and without. */
import { resolve } from 'node:path';
import { expect, test } from 'vitest';
import { widthOf } from '../src/views/terminal.ts';
import { runAll } from './run.ts';

const COMMANDS = [
  ['check'],
  ['table'],
  ['methods'],
  ['media'],
  ['versions', '--today', '2027-03-14'],
  ['compare', '1', '2', '--all'],
  ['follow', 'GET', '/v2/locks/7'],
  ['follow', 'GET', '/v2/lcoks/7'],
  ['explain', 'versions/response-widened'],
  [],
];
const LABEL = 22;
const WIDTHS = [80, 100, 133, 160];

test('no line is wider than the terminal, and colours change nothing but colour', () => {
  const jobs = WIDTHS.flatMap((width) =>
    COMMANDS.flatMap((args) =>
      ['', '1'].map((colour) => ({
        dir: resolve('demo'),
        args,
        width,
        env: { COLUMNS: String(width), FORCE_COLOR: colour, NO_COLOR: colour === '' ? '1' : '' },
      })),
    ),
  );
  const ran = runAll(jobs);
  const wide: string[] = [];
  for (const [i, { args, width }] of jobs.entries()) {
    const { out } = ran[i] as (typeof ran)[number];
    // A word that is too long stands behind nothing but the label of its line.
    for (const line of out.split('\n'))
      if (widthOf(line) > width && line.lastIndexOf(' ') > LABEL) wide.push(`${width} ${args.join(' ')}: ${line}`);
    const plain = (ran[i - (i % 2)] as (typeof ran)[number]).out;
    // biome-ignore lint/suspicious/noControlCharactersInRegex: an escape is what starts a colour
    const bare = out.replaceAll(/\u001b\[[0-9;]*m/gu, '').replaceAll(/ +$/gmu, '');
    expect(bare, args.join(' ')).toBe(plain);
    if (i % 2 === 0) expect(out).not.toContain('\u001b');
  }
  expect(wide).toEqual([]);
});
