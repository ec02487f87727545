/** Every example that --help prints is run, on the demo and what the examples name. */
import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { COMMANDS } from '../src/commands/index.ts';
import { folder, runAll } from './run.ts';

/** They ask people, run until they are ended, or want a service; their own tests run them. */
const ELSEWHERE = new Set(['demo', 'init', 'rehearse']);

interface Example {
  readonly command: string;
}

/** The words of a shell line; quotes keep words together. */
function wordsOf(line: string): readonly string[] {
  return [...line.matchAll(/"((?:[^"\\]|\\.)*)"|'([^']*)'|(\S+)/gu)].map(([, double, single, bare]) => {
    if (double !== undefined) return double.replaceAll(/\\([\\"$`])/gu, '$1');
    return single ?? bare ?? '';
  });
}

const EXAMPLES = Object.entries(COMMANDS).flatMap(([id, command]) =>
  ELSEWHERE.has(id)
    ? []
    : ((command.examples ?? []) as readonly Example[]).map(({ command: line }) =>
        line.replaceAll('<%= config.bin %>', '').replaceAll('<%= command.id %>', id).trim(),
      ),
);

test('every example of --help runs: none of them is misused', () => {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  cpSync(join(dir, 'passage-desk.v2.openapi.yaml'), join(dir, 'passage-desk.openapi.yaml'));
  cpSync(join(dir, 'passage-desk.v2.openapi.yaml'), join(dir, 'openapi.yaml'));
  cpSync(join(dir, 'towpath-patrol.txt'), join(dir, 'routes.txt'));
  mkdirSync(join(dir, 'src'));
  writeFileSync(join(dir, 'src/routes.ts'), "router.get('/locks', locks.list)\n");
  writeFileSync(join(dir, 'passage.json'), '{}');
  writeFileSync(join(dir, 'requests.jsonl'), '{"req":{"method":"GET","url":"/v2/locks"},"res":{"code":200}}\n');
  const git = (...args: string[]): unknown =>
    execFileSync('git', ['-c', 'user.name=keeper', '-c', 'user.email=keeper@canal.example', ...args], {
      cwd: dir,
      stdio: 'ignore',
    });
  git('init', '-q', '-b', 'main');
  git('add', '.');
  git('commit', '-qm', 'start');
  git('tag', 'v1.4.0');
  const lines = EXAMPLES.filter(
    (line) => !line.includes('--watch') && !line.includes(' - ') && !line.endsWith(' -') && !line.includes(' | '),
  );
  const ran = runAll(lines.map((line) => ({ dir, args: wordsOf(line) })));
  const wrong = ran.flatMap(({ status, err }, i) => (status === 2 ? [[lines[i], err.slice(0, 300)]] : []));
  expect(wrong).toEqual([]);
  expect(lines.length).toBeGreaterThan(30);
});
