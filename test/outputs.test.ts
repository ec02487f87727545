/** What the commands write as JSON is what schemas/output says. */
import { cpSync, readdirSync } from 'node:fs';
import { expect, test } from 'vitest';
import { undescribed } from './described.ts';
import { folder, runAll } from './run.ts';

test('every command with --format json -> as its published schema says; a key more or less is seen', () => {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  const lines: readonly (readonly string[])[] = [
    ['check'],
    ['table'],
    ['methods'],
    ['methods', '/v2/passages'],
    ['media'],
    ['versions'],
    ['settings'],
    ['compare', '1', '2'],
    ['compare', 'passage-desk.routes.yaml', 'toll-office.routes.yaml'],
    ['import', 'towpath-patrol.txt'],
    ['import', 'lamp-store'],
    ['follow', 'GET', '/v2/locks/7'],
    ['follow', 'DELETE', '/v2/locks'],
    ['follow', 'GET', '/locks/7'],
    ['follow', 'GET', '/v2/passages?date=soon', '-H', 'Accept: text/csv;q=x'],
  ];
  const ran = runAll(lines.map((args) => ({ dir, args: [...args, '--format', 'json'] })));
  for (const [i, { out, err }] of ran.entries()) {
    const [command] = lines[i] as [string];
    expect({ args: lines[i], err, wrong: undescribed(command, out).slice(0, 5) }).toEqual({ args: lines[i], err: '', wrong: [] });
  }
  const out = ran[0]?.out as string;
  const { tool: _, ...less } = JSON.parse(out);
  expect(undescribed('check', JSON.stringify(less))).not.toEqual([]);
  expect(undescribed('check', JSON.stringify({ ...JSON.parse(out), more: 1 }))).not.toEqual([]);
  // Rehearse, review and traffic are held to theirs in their own tests.
  const described = readdirSync('schemas/output').map((f) => f.replace('.schema.json', ''));
  expect(new Set([...lines.map(([command]) => command), 'rehearse', 'review', 'traffic'])).toEqual(new Set(described));
});
