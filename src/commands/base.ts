/** What all commands share: the flags, the way in, the way out, and how they fail. */
import { Command } from '@oclif/core/command';
import * as Errors from '@oclif/core/errors';
import * as Flags from '@oclif/core/flags';
import type * as Interfaces from '@oclif/core/interfaces';
import type { Place } from '../core/base/place.ts';
import { LimitReached } from '../core/language/limits.ts';
import { InputFailure, problemLine } from '../files/problem.ts';
import type { Inputs, Workspace } from '../files/workspace.ts';
import { writeWhole } from '../files/write-file.ts';
import type { Locate } from '../views/rendered.ts';
import type { Terminal } from '../views/terminal.ts';
import { bounded, harmless, safeOutput, visible } from '../views/visible.ts';
import { noteMadeFrom, notePrinted } from './repeatable.ts';

/** The flags that say what to read. */
export const inputFlags = {
  config: Flags.string({
    summary: 'Settings file; elm-gate.yaml of this folder by default',
    helpValue: 'FILE',
    env: 'ELM_GATE_CONFIG',
  }),
  routes: Flags.string({ summary: 'Route table to read', helpValue: 'FILE' }),
  document: Flags.string({
    summary: 'OpenAPI document to read; may be given more than once',
    helpValue: 'FILE',
    multiple: true,
    multipleNonGreedy: true,
  }),
  'allow-outside': Flags.boolean({ summary: 'Read files outside the repository too, where others refer to them' }),
};

/** Sunsets are measured against a day; the core has no clock. */
export const todayFlag = Flags.string({
  summary: 'The day that a sunset is measured against, such as 2027-03-14; today by default',
  helpValue: 'DAY',
  parse: async (text) => {
    if (/^\d{4}-\d\d-\d\d$/u.test(text) && !Number.isNaN(Date.parse(text))) return text;
    throw new Errors.CLIError(`--today: expected a day such as 2027-03-14, found ${JSON.stringify(text)}`);
  },
});

/** The day that sunsets and known findings are measured against. */
export function dayOf({ today }: { readonly today?: string | undefined }): string {
  return today ?? new Date().toISOString().slice(0, 10);
}

export const outputFlag = Flags.string({ summary: 'Write the result to this file', helpValue: 'FILE' });

const FORMATS = ['text', 'json', 'sarif', 'junit', 'markdown', 'html'] as const;
export type Format = (typeof FORMATS)[number];

/** How a result is written, several ways at once. */
export const formatFlags = {
  format: Flags.option({
    options: FORMATS,
    default: ['text'] as Format[],
    multiple: true,
    multipleNonGreedy: true,
    summary: 'How it is written; may be given more than once, each with its --output',
  })(),
  output: Flags.string({
    summary: 'Write the result to this file; the first --output belongs to the first --format',
    helpValue: 'FILE',
    multiple: true,
    multipleNonGreedy: true,
  }),
};

export type InputFlags = Interfaces.InferredFlags<typeof inputFlags>;

export abstract class GateCommand extends Command {
  static override enableJsonFlag = false;
  /** The files that were read, over which no result is written. */
  protected inputs: () => readonly string[] = () => [];

  /** Opens what the flags name, or what the folder holds. */
  protected async open(
    flags: InputFlags & { today?: string | undefined },
    more: Pick<Inputs, 'unmounted' | 'kept'> = {},
  ): Promise<Workspace> {
    const { openWorkspace } = await import('./engine.ts');
    const today = dayOf(flags);
    const workspace = openWorkspace({
      cwd: process.cwd(),
      config: flags.config,
      routes: flags.routes,
      documents: flags.document,
      outside: flags['allow-outside'],
      today,
      ...more,
    });
    this.inputs = workspace.sources.names;
    const { settings, services } = workspace;
    if (settings !== undefined) {
      const { checkSettings, checkShared } = await import('../files/check-settings.ts');
      for (const { value, source } of settings.extended) checkShared(value, source);
      checkSettings(settings.own, settings.source, [
        ...services.map((s) => s.name),
        ...(settings.own.services ?? []).map((s) => s.name),
      ]);
    }
    return workspace;
  }

  /** The terminal that text is written for; a file gets 100 columns and no colour. */
  protected async terminal(output: string | undefined): Promise<Terminal> {
    const { terminal } = await import('../views/terminal.ts');
    const tty = output === undefined && process.stdout.isTTY === true;
    const width = tty ? process.stdout.columns : Number(process.env.COLUMNS) || 100;
    return terminal(width || 100, isColoured(output), tty || Number(process.env.COLUMNS) > 0);
  }

  /** Writes each format to its file; the one without a file goes to standard output. */
  protected async putAll(
    { format: formats, output: outputs = [] }: { format: readonly Format[]; output?: readonly string[] | undefined },
    make: (format: Format, output: string | undefined) => Promise<string | Iterable<string>>,
  ): Promise<void> {
    if (outputs.length > formats.length)
      throw new Errors.CLIError(
        `--output was given ${outputs.length} times, and --format ${formats.length === 1 ? 'once' : `${formats.length} times`}`,
      );
    if (formats.length - outputs.length > 1)
      throw new Errors.CLIError(
        `${formats.slice(outputs.length).join(' and ')} can't both go to standard output; give each --format its --output`,
      );
    if (new Set(outputs).size < outputs.length) throw new Errors.CLIError('two formats would be written to the same file');
    for (const [i, format] of formats.entries()) this.put(await make(format, outputs[i]), outputs[i]);
    const page = outputs[formats.indexOf('html')];
    if (page !== undefined) process.stderr.write(visible(`The report is in ${page}; open it in a browser.\n`));
  }

  /** Writes data, whole or in pieces, to the file or to standard output. */
  protected put(text: string | Iterable<string>, output: string | undefined): void {
    const colours = isColoured(output);
    const pieces = typeof text === 'string' ? [text] : gathered(text);
    if (output === undefined) {
      for (const piece of safePieces(pieces, colours)) {
        process.stdout.write(piece);
        notePrinted(piece);
      }
      return;
    }
    writeWhole(output, safePieces(pieces, colours), this.inputs());
  }

  /** The same run may print the same again, where no file is written; `more` are files beside those of the workspace. */
  protected mayRepeat(workspace: Workspace, output: unknown, more: readonly string[] = []): void {
    if (output === undefined) noteMadeFrom(workspace, more);
  }

  /** A sentence for every problem, and status 2. */
  protected override async catch(error: Error & { exitCode?: number; oclif?: { exit?: number } }): Promise<void> {
    failWith(error);
  }
}

/** Colours are for a terminal, or where they are asked for, unless NO_COLOR says otherwise. */
function isColoured(output: string | undefined): boolean {
  const { NO_COLOR = '', FORCE_COLOR = '' } = process.env;
  if (output !== undefined || NO_COLOR !== '') return false;
  return process.stdout.isTTY === true || (FORCE_COLOR !== '' && FORCE_COLOR !== '0');
}

function* safePieces(pieces: Iterable<string>, colours: boolean): Generator<string> {
  for (const piece of pieces) yield safeOutput(piece, colours);
}

/** Pieces are written together up to so many characters. */
const MOST_GATHERED = 1_000_000;

function* gathered(pieces: Iterable<string>): Generator<string> {
  let out = '';
  for (const piece of pieces) {
    out += piece;
    if (out.length < MOST_GATHERED) continue;
    yield out;
    out = '';
  }
  yield out;
}

/** Looks many places up at once. */
export function locator(workspace: Workspace, places: Iterable<Place>): Locate {
  return workspace.sources.positions(places);
}

/** What to type instead, where a file was given by itself. */
function withHint(message: string): string {
  const [, file] = /^(?:Unexpected argument: |command \w+:)(\S+\.(?:ya?ml|json|csv))(?: not found)?$/mu.exec(message) ?? [];
  if (file === undefined) return message;
  const flag = /openapi|swagger/iu.test(file) ? '--document' : '--routes';
  const other = flag === '--document' ? '--routes' : '--document';
  return `A file by itself says nothing of what it is. Name it: ${flag} ${file}, or ${other} ${file}.`;
}

const TOO_MUCH =
  'these files ask for more work than one run may do; look for segments of many parameters and for regular expressions with large repetitions, and read fewer files at once';

/** Tells what went wrong on standard error and sets exit status 2. Help that was asked for is no failure. */
export function failWith(error: Error & { oclif?: { exit?: number }; code?: string }): void {
  if (error.oclif?.exit === 0) return;
  process.exitCode = 2;
  if (error instanceof InputFailure) {
    process.stderr.write(`${harmless(visible(error.problems.map((p) => bounded(problemLine(p))).join('\n')))}\n`);
    return;
  }
  if (error instanceof RangeError && /call stack/iu.test(error.message)) {
    process.stderr.write('the input nests too deep to be read; make it flatter\n');
    return;
  }
  if (error instanceof LimitReached) {
    process.stderr.write(`${TOO_MUCH}\n`);
    return;
  }
  if (process.env.ELM_GATE_DEBUG !== undefined) process.stderr.write(`${visible(error.stack ?? error.message)}\n`);
  const usage = error.oclif !== undefined;
  const [first = ''] = withHint(visible(bounded(error.message))).split('\nSee more help');
  process.stderr.write(
    usage
      ? `${first.trim()}\nRun with --help to see what is possible.\n`
      : `elm-gate failed by a mistake of its own: ${error.message}\nPlease report it with the files that led to it.\n`,
  );
}
