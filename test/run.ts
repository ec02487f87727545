/** Drives the built program on files in a temporary folder. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';

export const PROGRAM = resolve('bin/elm-gate.js');

export interface Ran {
  readonly status: number | null;
  readonly out: string;
  readonly err: string;
}

/** A new folder with these files. */
export function folder(files: Readonly<Record<string, string | Buffer>> = {}): string {
  const dir = mkdtempSync(join(tmpdir(), 'elm-gate-test-'));
  for (const [name, text] of Object.entries(files)) {
    mkdirSync(dirname(join(dir, name)), { recursive: true });
    writeFileSync(join(dir, name), text);
  }
  return dir;
}

/** Runs the program; it has a minute and a gigabyte. */
export function run(cwd: string, args: readonly string[], env: NodeJS.ProcessEnv = {}, input = ''): Ran {
  const { NO_COLOR: _, FORCE_COLOR: __, ...clean } = process.env;
  const result = spawnSync(process.execPath, ['--max-old-space-size=900', PROGRAM, ...args], {
    cwd,
    encoding: 'utf8',
    input,
    timeout: 60_000,
    env: { ...clean, ...env },
    maxBuffer: 1 << 28,
  });
  return { status: result.status, out: result.stdout, err: result.stderr };
}

/** A table with these entries. */
export function table(...routes: readonly string[]): string {
  return `routeTable: 1\nservice: canal\nroutes:\n${routes.map((r) => `  - ${r}\n`).join('')}`;
}
