import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as Flags from '@oclif/core/flags';
import { makeFolder } from '../files/make-folder.ts';
import { InputFailure } from '../files/problem.ts';
import type { Terminal } from '../views/terminal.ts';
import { GateCommand } from './base.ts';

type Paint = Terminal['paint'];

/** What the demo runs, in the order in which people work, and why. */
const STEPS: readonly { readonly why: string; readonly args: readonly string[] }[] = [
  { why: 'What is in this folder?', args: [] },
  { why: 'What does a printed list of routes hold?', args: ['import', 'towpath-patrol.txt'] },
  { why: 'The routes, with every prefix and shorthand expanded.', args: ['table'] },
  { why: 'Which route handles this request?', args: ['follow', 'GET', '/v2/locks/7'] },
  { why: 'Why is this one refused?', args: ['follow', 'DELETE', '/v2/locks'] },
  { why: 'No route matches this one: what is the nearest that works?', args: ['follow', 'GET', '/locks/7'] },
  { why: 'Is this query as the document wants it?', args: ['follow', 'GET', '/v2/passages?date=soon'] },
  { why: 'Everything that will go wrong, each with a request that shows it.', args: ['check'] },
  {
    why: 'These are known and may stay for now ...',
    args: ['acknowledge', '--rule', 'methods', '--reason', 'goes with version 3', '--by', 'demo'],
  },
  {
    why: '... so that a check tells what is left, here of one rule, a line each.',
    args: ['check', '--brief', '--rule', 'paths/shadowed'],
  },
  { why: 'Which methods do the resources have, and which are missing?', args: ['methods'] },
  { why: 'The life of one of them, from create to gone.', args: ['methods', '/v2/passages'] },
  { why: 'Who gets which format, and who gets nothing?', args: ['media'] },
  { why: 'Which operations are in which version?', args: ['versions'] },
  { why: 'What was asked of these services in November?', args: ['traffic', 'november.log'] },
  {
    why: 'What does version 2 break for clients of version 1, and who met it?',
    args: ['compare', '1', '2', '--traffic', 'november.log'],
  },
];

export default class Demo extends GateCommand {
  static override summary = 'Run a whole example on made-up data: the Tarn and Elm Navigation.';
  static override description = 'Copies the example to a temporary folder, runs the commands there and says what each is for.';
  static override examples = [
    { description: 'See what the tool does', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'Keep the example to play with', command: '<%= config.bin %> <%= command.id %> --into canal' },
  ];
  static override flags = {
    into: Flags.string({ summary: 'Copy the example to this folder, which must be new or empty', helpValue: 'DIR' }),
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Demo);
    const { paint } = await this.terminal(undefined);
    const folder = this.copy(flags.into);
    this.put(`The example is in ${folder}\n`, undefined);
    for (const { why, args } of STEPS) this.step(folder, why, args, paint);
    this.change(folder, paint);
    await this.rehearsal(folder, paint);
    this.step(folder, 'What does such a finding mean?', ['explain', 'paths/shadowed'], paint);
    this.put(`\nThat was all. Play with the files in ${folder}, and see "elm-gate --help".\n`, undefined);
  }

  /** The folder becomes a repository, and a change of it is reviewed. */
  private change(folder: string, paint: Paint): void {
    const git = (...args: readonly string[]): boolean =>
      spawnSync('git', ['-c', 'user.name=demo', '-c', 'user.email=demo@canal.example', ...args], { cwd: folder }).status === 0;
    const table = join(folder, 'mooring-office.routes.yaml');
    if (!git('init', '-q', '-b', 'main') || !git('add', '.') || !git('commit', '-qm', 'Start')) return;
    writeFileSync(table, readFileSync(table, 'utf8').replace('GET /tenants -> list', 'GET /tenants/all -> list'));
    this.step(folder, 'The list of tenants moved to another path: what does that do?', ['review'], paint);
    git('checkout', '-q', '--', '.');
  }

  /** A stand-in service is started, asked and stopped again. */
  private async rehearsal(folder: string, paint: Paint): Promise<void> {
    const service = spawn(process.execPath, [join(folder, 'towpath-patrol.mjs')], { stdio: ['ignore', 'pipe', 'ignore'] });
    try {
      const [line] = (await once(service.stdout, 'data')) as [Buffer];
      const args = ['rehearse', line.toString().trim(), '--service', 'towpath-patrol', '--unmounted', '--facts'];
      this.step(folder, 'Does the running service do what its list says?', args, paint);
    } finally {
      service.kill();
    }
  }

  private step(folder: string, why: string, args: readonly string[], paint: Paint): void {
    this.put(`\n${paint.bold(why)}\n${paint.cyan(`$ elm-gate ${args.join(' ')}`.trimEnd())}\n\n`, undefined);
    const env = {
      ...process.env,
      COLUMNS: String(process.stdout.columns ?? process.env.COLUMNS ?? 100),
      ...(process.stdout.isTTY ? { FORCE_COLOR: '1' } : {}),
    };
    const { stdout, stderr } = spawnSync(process.execPath, [join(this.config.root, 'bin', 'elm-gate.js'), ...args], {
      cwd: folder,
      encoding: 'utf8',
      env,
    });
    process.stdout.write(stdout + stderr);
  }

  private copy(into: string | undefined): string {
    if (into !== undefined && existsSync(into) && readdirSync(into).length > 0) {
      throw new InputFailure([{ file: into, message: 'the folder is not empty; name a new one with --into' }]);
    }
    const folder = into ?? mkdtempSync(join(tmpdir(), 'elm-gate-demo-'));
    try {
      makeFolder(folder);
      cpSync(join(this.config.root, 'demo'), folder, { recursive: true });
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      throw new InputFailure([{ file: folder, message: `the folder can't be made (${code}); name another with --into` }]);
    }
    return folder;
  }
}
