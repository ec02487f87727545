/** check --watch: the built program is left running while files change under it. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { folder, NODE, PROGRAM, table } from './run.ts';

test('check --watch: a change -> what is new, what is fixed, and what can not be read; Ctrl-C ends with the status of the last run', async () => {
  const [fine, wrong] = [
    table('GET /locks/closed -> a', 'GET /locks/{id} -> b'),
    table('GET /locks/{id} -> b', 'GET /locks/closed -> a'),
  ].map((text) => `${text}  - from: app\n`) as [string, string];
  const dir = folder({ 'canal.routes.yaml': fine, 'app/locks/route.ts': 'export function GET() {}' });
  const child = spawn(NODE, [PROGRAM, 'check', '--watch'], { cwd: dir, env: { ...process.env, NO_COLOR: '1' } });
  let out = '';
  child.stdout.on('data', (text: Buffer) => {
    out += text.toString();
  });
  /** Waits until this was printed behind what was there before. */
  const told = async (words: RegExp, change?: () => void): Promise<void> => {
    const from = out.length;
    change?.();
    for (let i = 0; i < 300 && !words.test(out.slice(change === undefined ? 0 : from)); i++)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(out.slice(change === undefined ? 0 : from)).toMatch(words);
  };
  const file = join(dir, 'canal.routes.yaml');
  await told(/Watching \d files; Ctrl-C ends it\./u);
  await told(/canal\.routes\.yaml changed: 1 new, 0 fixed\.[\s\S]*GET \/locks\/closed can never be reached/u, () =>
    writeFileSync(file, wrong),
  );
  await told(/canal\.routes\.yaml changed, and can't be read:\n {2}canal\.routes\.yaml:/u, () =>
    writeFileSync(file, 'routes: ['),
  );
  await told(/changed: 0 new, 1 fixed\.\s+fixed +canal\.routes\.yaml:\d+:5 error paths\/shadowed/u, () =>
    writeFileSync(file, fine),
  );
  await told(/can't be read/u, () => rmSync(file));
  await told(/1 new, 0 fixed/u, () => writeFileSync(file, wrong));
  // A file that nobody read yet, in a folder that was searched.
  mkdirSync(join(dir, 'app/locks/oldest'));
  await told(/app\/locks\/oldest\/route\.ts changed: 1 new, 0 fixed\.[\s\S]*GET \/locks\/oldest can never be reached/u, () =>
    writeFileSync(join(dir, 'app/locks/oldest/route.ts'), 'export function GET() {}'),
  );
  child.kill('SIGINT');
  expect(await once(child, 'exit')).toEqual([1, null]);
});
