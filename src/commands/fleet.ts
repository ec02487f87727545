/** `check` of many folders, each with settings of its own: what is the same since the last run is not looked at again. */
import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Level } from '../core/checks/engine/finding.ts';
import { startRun } from '../core/language/limits.ts';
import { buildOf } from '../files/cache-folder.ts';
import { KeptResults, traceOf } from '../files/kept-results.ts';
import { InputFailure, problemLine } from '../files/problem.ts';
import type { Sources } from '../files/sources.ts';
import { counts, type Rendered } from '../views/rendered.ts';
import { count } from '../views/terminal.ts';
import { findingsOf, knownNotes } from './findings.ts';

/** What one folder gave. */
interface FolderResult {
  readonly findings: readonly Rendered[];
  readonly prints: readonly string[];
  readonly known: number;
  readonly knownNotes: readonly string[];
  readonly unchecked: readonly string[];
  readonly routes: number;
  readonly documents: number;
  readonly operations: number;
  readonly services: number;
  readonly failOn: Level;
}

export interface FleetRun {
  readonly findings: readonly Rendered[];
  readonly printOf: (finding: Rendered) => string;
  readonly known: number;
  readonly scope: string;
  /** Each a sentence. */
  readonly notes: readonly string[];
  /** The lowest level at which a finding fails its folder. */
  readonly failOnOf: (finding: Rendered) => Level;
  /** What kept folders from being read, a line each. */
  readonly problems: readonly string[];
}

export interface FleetOptions {
  readonly cwd: string;
  readonly today: string;
  readonly outside: boolean;
  /** Results that were kept are not used. */
  readonly isFresh: boolean;
  readonly failOn: Level | undefined;
  /** Where the program lies. */
  readonly root: string;
}

/** The settings files of the folders that fit the globs, in order. Fails where none does. */
export function fleetFiles(globs: readonly string[], sources: Sources): readonly string[] {
  const files = globs.flatMap((glob) => sources.fitting(`${glob.replace(/\/+$/u, '')}/elm-gate.{yaml,yml,json}`));
  if (files.length === 0)
    throw new InputFailure([
      { file: '', message: `fleet: no folder that fits ${globs.join(', ')} has an elm-gate.yaml; name folders that do` },
    ]);
  return [...new Set(files)].sort();
}

/** Checks every folder; one that can't be read spoils no other. Many are shared out among threads. */
export async function checkFleet(files: readonly string[], options: FleetOptions): Promise<FleetRun> {
  const kept = keptBy(options);
  const known = new Map(
    options.isFresh
      ? []
      : files.flatMap((file) => {
          const result = kept.read(file);
          return result === undefined ? [] : [[file, result] as const];
        }),
  );
  const made = new Map(
    await checkShared(
      files.filter((file) => !known.has(file)),
      options,
    ),
  );
  kept.tidy();
  const results = new Map<string, FolderResult>();
  const problems: string[] = [];
  for (const file of files) {
    const result = known.get(file) ?? made.get(file);
    if (result === undefined) continue;
    if ('problems' in result) problems.push(...result.problems);
    else results.set(file, result);
  }
  return gathered(results, problems, known.size);
}

/** What a folder gave, or what kept it from being read. */
type Made = FolderResult | { readonly problems: readonly string[] };

/** Starting a thread takes time, so that each gets at least this many folders. */
const LEAST_SHARE = 25;
const MOST_THREADS = 4;

async function checkShared(files: readonly string[], options: FleetOptions): Promise<readonly (readonly [string, Made])[]> {
  const threads = Math.min(MOST_THREADS, availableParallelism(), Math.floor(files.length / LEAST_SHARE));
  if (threads < 2) return checkFolders(files, options);
  const shares = Array.from({ length: threads }, (_, k) => files.filter((_, i) => i % threads === k));
  const [own = [], ...others] = shares;
  // The others are under way before this thread begins.
  const theirs = others.map((share) => inThread(share, options));
  return [await checkFolders(own, options), ...(await Promise.all(theirs))].flat();
}

/** Checks folders in a thread; where it fails they are checked here. */
async function inThread(files: readonly string[], options: FleetOptions): Promise<readonly (readonly [string, Made])[]> {
  const code = `const { parentPort, workerData } = require('node:worker_threads');
require(workerData.start).load('check').checkFolders(workerData.files, workerData.options).then((made) => parentPort.postMessage(made));`;
  const start = join(options.root, 'dist', 'start.cjs');
  const worker = new Worker(code, { eval: true, workerData: { start, files, options } });
  try {
    const made = await new Promise<readonly (readonly [string, Made])[]>((done, failed) => {
      worker.once('message', done);
      worker.once('error', failed);
      worker.once('exit', () => failed(new Error('the thread ended early')));
    });
    return made;
  } catch {
    return checkFolders(files, options);
  } finally {
    await worker.terminate();
  }
}

/** Checks folders one after another, and keeps what they gave. */
export async function checkFolders(
  files: readonly string[],
  options: FleetOptions,
): Promise<readonly (readonly [string, Made])[]> {
  const kept = keptBy(options);
  const made: [string, Made][] = [];
  for (const file of files) {
    // Each has the work of a run of its own: what one folder asks for changes no result of another.
    startRun();
    try {
      made.push([file, await checkFolder(file, options, kept)]);
    } catch (error) {
      if (!(error instanceof InputFailure)) throw error;
      made.push([file, { problems: error.problems.map(problemLine) }]);
    }
  }
  return made;
}

function keptBy({ cwd, root, today, outside, failOn }: FleetOptions): KeptResults<FolderResult> {
  const build = buildOf(join(root, 'dist', 'program.cjs'));
  return new KeptResults(cwd, JSON.stringify({ build, today, outside, failOn }));
}

async function checkFolder(
  file: string,
  { cwd, today, outside, failOn }: FleetOptions,
  kept: KeptResults<FolderResult>,
): Promise<FolderResult> {
  const { openWorkspace } = await import('./engine.ts');
  const began = Date.now();
  const workspace = openWorkspace({ cwd, config: file, outside, today });
  const found = await findingsOf(workspace, today);
  const { services, sources } = workspace;
  const operations = services.flatMap((s) => s.contracts.map((c) => c.operations.length));
  const result: FolderResult = {
    findings: found.split.open.map(stored),
    prints: found.split.open.map(found.printOf),
    known: found.split.known.length,
    knownNotes: knownNotes(found),
    unchecked: services.flatMap((s) => s.unchecked),
    routes: services.reduce((n, s) => n + (s.tableIsDocument === true ? 0 : (s.table?.routes.length ?? 0)), 0),
    documents: operations.length,
    operations: operations.reduce((a, b) => a + b, 0),
    services: services.length,
    failOn: failOn ?? workspace.failOn,
  };
  // What a folder holds is discovered by the names in it, which no trace knows.
  const trace = workspace.discovered === undefined ? traceOf(sources, cwd, [found.known.file], began) : undefined;
  if (trace !== undefined) kept.keep(file, trace, result);
  return result;
}

/** A finding without what only the run that made it has. */
function stored(f: Rendered): Rendered {
  const { witness } = f.finding;
  if (witness?.kind !== 'request') return f;
  const { kind, request, takenBy, status } = witness;
  return { ...f, finding: { ...f.finding, witness: { kind, request, takenBy, status } } };
}

function gathered(results: ReadonlyMap<string, FolderResult>, problems: readonly string[], again: number): FleetRun {
  const all = [...results.values()];
  const prints = new Map(all.flatMap((r) => r.findings.map((f, i) => [f.at, r.prints[i] as string] as const)));
  const failOns = new Map(all.flatMap((r) => r.findings.map((f) => [f.at, r.failOn] as const)));
  const sum = (of: (r: FolderResult) => number): number => all.reduce((n, r) => n + of(r), 0);
  const levels = ['error', 'warning', 'note'] as const;
  const findings = levels.flatMap((level) => all.flatMap((r) => r.findings.filter((f) => f.level === level)));
  const parts = [
    count(
      sum((r) => r.routes),
      'route',
    ),
    `${count(
      sum((r) => r.documents),
      'document',
    )} (${count(
      sum((r) => r.operations),
      'operation',
    )})`,
  ];
  return {
    findings,
    printOf: (f) => prints.get(f.at) as string,
    known: sum((r) => r.known),
    scope: `${parts.join(' and ')} of ${count(
      sum((r) => r.services),
      'service',
    )} in ${count(results.size, 'folder')}`,
    notes: [
      ...new Set(all.flatMap((r) => r.unchecked)),
      ...all.flatMap((r) => r.knownNotes),
      ...foldersText(results),
      ...(again === 0
        ? []
        : [`${count(again, 'folder')} unchanged since the last run; results reused (--fresh checks them again).`]),
    ],
    failOnOf: (f) => failOns.get(f.at) ?? 'error',
    problems,
  };
}

/** So many folders are named. */
const MOST_NAMED = 10;

/** Those with errors first, then those with warnings. */
function foldersText(results: ReadonlyMap<string, FolderResult>): readonly string[] {
  const told = [...results].flatMap(([file, { findings }]) => {
    const { error, warning } = counts(findings);
    if (error + warning === 0) return [];
    const parts = [error > 0 ? count(error, 'error') : '', warning > 0 ? count(warning, 'warning') : ''].filter((p) => p !== '');
    return [{ text: `${dirname(file)} (${parts.join(', ')})`, weight: error * 1_000 + warning }];
  });
  if (told.length === 0) return [];
  const sorted = told.sort((a, b) => b.weight - a.weight).slice(0, MOST_NAMED);
  const more = told.length > sorted.length ? ` and ${told.length - sorted.length} more` : '';
  return [`By folder: ${sorted.map((t) => t.text).join(', ')}${more}.`];
}
