/** Drives the built program on files in a temporary folder. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';

export const PROGRAM = resolve('bin/elm-gate.js');
/** The Node.js that runs the program: this one, or another that is tested. */
export const NODE = process.env.ELM_GATE_NODE ?? process.execPath;

export interface Ran {
  readonly status: number | null;
  readonly out: string;
  readonly err: string;
  /** In milliseconds, where many were run in one process. */
  readonly took?: number;
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
  const result = spawnSync(NODE, ['--max-old-space-size=900', PROGRAM, ...args], {
    cwd,
    encoding: 'utf8',
    input,
    timeout: 60_000,
    env: { ...clean, ...env },
    maxBuffer: 1 << 28,
  });
  return { status: result.status, out: result.stdout, err: result.stderr };
}

/** A command line, and what is set in the environment from it on. */
export interface Job {
  readonly dir: string;
  readonly args: readonly string[];
  readonly env?: Readonly<Record<string, string>>;
}

/** Runs many command lines one after another in one process, which has ten minutes: its start is paid once. */
export function runAll(jobs: readonly Job[]): readonly Required<Ran>[] {
  const input = JSON.stringify(jobs);
  const options = { encoding: 'utf8', input, timeout: 600_000, maxBuffer: 1 << 30 } as const;
  const { stdout, stderr, signal } = spawnSync(NODE, ['--no-warnings', '--input-type=module', '-e', DRIVER], options);
  if (stdout === '') throw new Error(`the runs did not end (${signal}): ${stderr}`);
  return JSON.parse(stdout) as readonly Required<Ran>[];
}

const DRIVER = `
import { readFileSync } from 'node:fs';
const { main } = (await import(${JSON.stringify(pathToFileURL(resolve('dist/start.cjs')).href)})).default;
const ran = [];
const [out, err] = [process.stdout.write.bind(process.stdout), process.stderr.write.bind(process.stderr)];
for (const { dir, args, env = {} } of JSON.parse(readFileSync(0, 'utf8'))) {
  const one = { status: 0, out: '', err: '', took: performance.now() };
  process.stdout.write = (text) => { one.out += text; return true; };
  process.stderr.write = (text) => { one.err += text; return true; };
  process.chdir(dir);
  Object.assign(process.env, env);
  process.exitCode = 0;
  await main(args, ${JSON.stringify(resolve('.'))});
  one.status = process.exitCode;
  one.took = performance.now() - one.took;
  ran.push(one);
}
[process.stdout.write, process.stderr.write] = [out, err];
process.exitCode = 0;
process.stdout.write(JSON.stringify(ran));
`;

/** A table with these entries. */
export function table(...routes: readonly string[]): string {
  return `routeTable: 1\nservice: canal\nroutes:\n${routes.map((r) => `  - ${r}\n`).join('')}`;
}
