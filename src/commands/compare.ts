import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { isMapping } from '../core/base/json.ts';
import type { Place } from '../core/base/place.ts';
import { EFFECTS } from '../core/compare/changes/change.ts';
import type { Comparison } from '../core/compare/compare-contracts.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import type { Router } from '../core/routes/index/router.ts';
import type { LoadedService } from '../files/load-services.ts';
import { fail, InputFailure } from '../files/problem.ts';
import type { Side } from '../files/revisions.ts';
import { valueAt } from '../files/sources.ts';
import type { Workspace } from '../files/workspace.ts';
import { formatFlags, GateCommand, inputFlags } from './base.ts';
import { trafficFlags } from './log-flags.ts';
import type { Sides } from './weighing.ts';

const FAIL_ON = ['breaking', 'risky', 'undecided'] as const;

export default class Compare extends GateCommand {
  static override summary = 'Say what changed between two versions of a contract or of a route table, and what it breaks.';
  static override description =
    'OLD and NEW are each a file, REVISION:path of the git repository one stands in, a version id of elm-gate.yaml, or - for standard input. Every breaking change has a value or a request that shows it.';
  static override examples = [
    {
      description: 'Two files',
      command: '<%= config.bin %> <%= command.id %> passage-desk.v1.openapi.yaml passage-desk.v2.openapi.yaml',
    },
    {
      description: 'What is not committed yet',
      command: '<%= config.bin %> <%= command.id %> HEAD:passage-desk.openapi.yaml passage-desk.openapi.yaml',
    },
    { description: 'Two versions of the settings', command: '<%= config.bin %> <%= command.id %> 1 2' },
    {
      description: 'In CI: risky changes fail too',
      command: '<%= config.bin %> <%= command.id %> main:openapi.yaml openapi.yaml --fail-on risky',
    },
  ];
  static override args = {
    old: Args.string({ ignoreStdin: true, required: true, description: 'The version that clients know' }),
    new: Args.string({ ignoreStdin: true, required: true, description: 'The version that is to come' }),
  };
  static override flags = {
    config: inputFlags.config,
    'allow-outside': inputFlags['allow-outside'],
    all: Flags.boolean({ summary: 'List compatible changes too' }),
    'fail-on': Flags.option({
      options: FAIL_ON,
      default: 'breaking' as const,
      summary: 'The lowest effect that ends with status 1',
    })(),
    ...trafficFlags,
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Compare);
    const engine = await import('./engine.ts');
    const { openSide } = await import('../files/revisions.ts');
    const { comparisonJson, comparisonText } = await import('../views/comparison.ts');
    const outside = flags['allow-outside'];
    const settings = engine.readSettings(process.cwd(), flags.config, { named: [flags.config, args.old, args.new], outside });
    const workspace = (): Workspace => engine.openWorkspace({ cwd: process.cwd(), config: flags.config, outside });
    this.inputs = settings.sources.names;
    const open = (name: string): Side =>
      openSide(versionFile(name, settings.versions, settings.sources.exists(name), workspace), settings.sources);
    const [old, now] = [open(args.old), open(args.new)];
    const found = areTables(old, now) ? ofTables(old, now, settings, engine) : ofContracts(old, now, settings, engine);
    const leveled = engine.weighed(found.comparison, settings.levels);
    const changes =
      flags.traffic === undefined
        ? leveled.changes
        : await (await import('./weighing.ts')).changesByTraffic(leveled.changes, found.sides(known(workspace)), flags);
    const comparison = { ...leveled, changes };
    const isWhole = flags.all || flags.format.includes('json');
    const shown = comparison.changes.filter((c) => isWhole || c.effect !== 'compatible');
    const locate = settings.sources.positions(shown.flatMap((c) => [c.old, c.new].filter((p) => p !== undefined)));
    const { sources, clients: callers } = settings;
    const contentOf = (place: Place): unknown => valueAt(sources, place);
    const view = { comparison, names: [args.old, args.new] as const, locate, contentOf, callers, all: flags.all };
    await this.putAll(flags, async (format, output) => {
      if (format === 'text') return comparisonText(view, await this.terminal(output));
      if (format === 'json') return comparisonJson(view);
      const { formatted, itemsOfChanges } = await import('./formats.ts');
      const items = itemsOfChanges(view);
      const failOn = flags['fail-on'] === 'breaking' ? ('error' as const) : ('warning' as const);
      const summary = [`${args.old} -> ${args.new}: ${comparison.verdict}.`];
      return formatted(
        format,
        { command: 'compare', version: this.config.version, items, summary, failOn, known: 0 },
        { title: view.names.join(' -> '), services: [], sources: settings.sources, root: this.config.root },
      );
    });
    const lowest = { breaking: 0, risky: 1, undecided: 2 }[flags['fail-on']];
    if (comparison.changes.some((c) => EFFECTS.indexOf(c.effect) <= lowest)) process.exitCode = 1;
  }
}

type Settings = ReturnType<typeof import('./engine.ts')['readSettings']>;

/** The services of the folder; none where it holds none that can be read. */
function known(workspace: () => Workspace): readonly LoadedService[] {
  try {
    return workspace().services;
  } catch (error) {
    if (error instanceof InputFailure) return [];
    throw error;
  }
}

/** What changed, and the two sides as a request sees them. */
interface Compared {
  readonly comparison: Comparison;
  readonly sides: (services: readonly LoadedService[]) => Sides;
}

function ofTables(old: Side, now: Side, { sources, versioning }: Settings, engine: typeof import('./engine.ts')): Compared {
  const [was, is] = [old, now].map((side) => engine.tableRouter(side.file, sources, versioning)) as [Router, Router];
  return { comparison: engine.compareTables(was, is), sides: () => ({ routers: [was, is] }) };
}

function ofContracts(old: Side, now: Side, settings: Settings, engine: typeof import('./engine.ts')): Compared {
  const [was, is] = [contract(old, engine), contract(now, engine)];
  const { versions, openEnumerations } = settings;
  const comparison = engine.compareContracts(was, is, { versions, openEnumerations, progress: progressOn(process.stderr) });
  return { comparison, sides: (services) => ({ contracts: [was, is], services, versions }) };
}

/** Are both route tables? Fails where they are not of a kind. */
function areTables(old: Side, now: Side): boolean {
  const [first, second] = [old, now].map(({ source }) => isMapping(source.value) && 'routeTable' in source.value);
  if (first === second) return first === true;
  const [table, document] = first ? [old.file, now.file] : [now.file, old.file];
  return fail(
    table,
    `this is a route table, and ${document} is a document; to hold one against the other write "elm-gate check --routes ${table} --document ${document}", and compare two of a kind`,
  );
}

function contract({ file, source, beside }: Side, engine: typeof import('./engine.ts')): Contract {
  const result = engine.readContract(source.value, file, beside, source.sideless);
  return result.ok ? result.contract : fail(file, result.message, 1, 1);
}

/** A version id of the settings stands for the document of that version. */
function versionFile(name: string, versions: readonly string[], exists: boolean, workspace: () => Workspace): string {
  if (name === '-' || !versions.includes(name)) return name;
  if (exists) fail(name, `this is both a version of the settings and a file; write ./${name} for the file`);
  const contracts = workspace().services.flatMap((s) => s.contracts);
  const major = (c: Contract): string => (c.version ?? '').replace(/^v/u, '').split('.')[0] ?? '';
  const found =
    contracts.find((c) => c.bases.some((b) => b.split('/').some((p) => p === name || p === `v${name}`))) ??
    contracts.find((c) => c.version === name || major(c) === name) ??
    contracts.find((c) => namesVersion(c.place.file, name));
  return found?.place.file ?? fail(name, 'no document of the settings is of that version; name a file');
}

/** Does a file say of which version it is: `passage-desk.v2.openapi.yaml`? */
function namesVersion(file: string, version: string): boolean {
  return ['.', '-'].some((open) => ['', 'v'].some((v) => ['.', '-'].some((end) => file.includes(open + v + version + end))));
}

/** How often it is told how far it got, in milliseconds; nothing is told of what takes no longer. */
const PATIENCE = 1_000;

/** Tells a person how far it got, and takes the line away at the end. */
function progressOn(stream: NodeJS.WriteStream): (done: number, of: number) => void {
  let next = Date.now() + PATIENCE;
  let told = false;
  return (done, of) => {
    if (!stream.isTTY || (done < of && Date.now() < next)) return;
    if (done < of) {
      stream.write(`\r${done} of ${of} operations compared`);
      told = true;
      next = Date.now() + PATIENCE;
    } else if (told) stream.write('\r\u001b[K');
  };
}
