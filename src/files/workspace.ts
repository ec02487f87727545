/** From flags, settings or what a folder holds to services that can be asked. */
import { dirname, isAbsolute, join } from 'node:path';

import type { Client, Service } from '../core/checks/context.ts';
import type { Level } from '../core/checks/finding.ts';
import type { Levels } from '../core/checks/index.ts';
import { tableFromContracts } from '../core/contract/as-table.ts';
import type { Contract } from '../core/contract/model.ts';
import { readContract } from '../core/contract/read.ts';
import { once } from '../core/once.ts';
import { buildRouter, type Router } from '../core/routes/router.ts';
import { answering } from '../core/routes/services.ts';
import { type Versioning, withRanges } from '../core/routes/version.ts';
import { besideOf } from './beside.ts';
import { discover, findSettings, type ServiceFiles } from './discover.ts';
import { type Settings, settings as settingsFormat } from './formats/settings.ts';
import { loadTable } from './load-table.ts';
import { InputFailure } from './problem.ts';
import {
  clientsOf,
  declaredVersions,
  expectationsOf,
  idleSettings,
  policyOf,
  requestOf,
  unservedVersions,
  versioningOf,
} from './settings-facts.ts';
import type { Source } from './source.ts';
import { openSources, type Sources } from './sources.ts';
import { validate } from './validate.ts';

export interface Inputs {
  readonly cwd: string;
  readonly config?: string | undefined;
  readonly routes?: string | undefined;
  readonly documents?: readonly string[] | undefined;
  /** The day that a sunset is measured against, `2027-03-14`. */
  readonly today?: string | undefined;
}

export interface Workspace {
  readonly sources: Sources;
  readonly services: readonly LoadedService[];
  /** The extension that marks an enumeration as open. */
  readonly openEnumerations: string | undefined;
  readonly levels: Levels;
  readonly failOn: Level;
  /** The settings, where there are any. */
  readonly settings: { readonly value: Settings; readonly source: Source } | undefined;
  /** Where the services came from, in words; undefined when flags or settings named them. */
  readonly discovered: string | undefined;
}

export interface LoadedService extends Service {
  readonly files: ServiceFiles;
  /** What was not checked, and why. */
  readonly unchecked: readonly string[];
}

/** A service whose files are read when it is asked, which most of several never are. */
export interface ClosedService {
  /** As the settings call it; undefined where its files say it. */
  readonly name: string | undefined;
  readonly open: () => Service;
}

/** The services of a run in the order in which they are asked, none of them opened. Fails with what is wrong with the settings. */
export function closedServices(inputs: Inputs): { readonly sources: Sources; readonly services: readonly ClosedService[] } {
  const sources = openSources(inputs.cwd);
  const settingsFile = inputs.config ?? findSettings(sources);
  const settings = settingsFile === undefined ? undefined : (validate(sources.load(settingsFile), settingsFormat) as Settings);
  const { files } = serviceFiles(inputs, settings, settingsFile ?? '', sources);
  const versioning = versioningOf(settings);
  const services = files.map((f) => ({ name: f.name, open: once(() => openedService(f, sources, versioning)) }));
  return { sources, services };
}

/** The table at once, the documents when somebody looks at them. */
function openedService(files: ServiceFiles, sources: Sources, versioning: Versioning | undefined): Service {
  const { routes } = files;
  if (routes === undefined) return versionedService(loadService(files, sources), versioning);
  const table = loadTable(existing(routes, files, 'routes', sources), sources, files.mount);
  const contracts = once(() =>
    files.documents.map((d, i) => loadDocument(existing(d, files, `document/${i}`, sources), sources)),
  );
  const name = files.name ?? table.service;
  const own = { name, table: withRanges(table, versioning?.versions ?? []), mount: files.mount, versioning };
  return {
    ...own,
    get contracts() {
      return contracts();
    },
  };
}

function versionedService(service: LoadedService, versioning: Versioning | undefined): LoadedService {
  const { table } = service;
  return { ...service, table: table === undefined ? undefined : withRanges(table, versioning?.versions ?? []), versioning };
}

/** Loads everything a run needs. Fails with all problems of all files. */
export function openWorkspace(inputs: Inputs): Workspace {
  const sources = openSources(inputs.cwd);
  const settingsFile = inputs.config ?? findSettings(sources);
  const settings = settingsFile === undefined ? undefined : (validate(sources.load(settingsFile), settingsFormat) as Settings);
  const { files, discovered } = serviceFiles(inputs, settings, settingsFile ?? '', sources);
  const versioning = versioningOf(settings);
  const loaded = loadAll(files, sources);
  const owners = ownersOf(settings, loaded, versioning);
  const services = loaded.map((service, i) => ({
    ...versionedService(service, versioning),
    versions: declaredVersions(settings, settingsFile ?? ''),
    unserved: i === 0 ? unservedVersions(settings, loaded) : undefined,
    versionsAt: i === 0 && settingsFile !== undefined ? { file: settingsFile, pointer: '/versioning' } : undefined,
    today: inputs.today,
    policy: settings?.methods === undefined ? undefined : policyOf(settings),
    clients: clientsOf(settings, settingsFile ?? '', service.name),
    expectations: expectationsOf(settings, settingsFile ?? '', (k) => owners[k] === service.name),
    earlier: earlierOf(loaded, i),
  }));
  return {
    sources,
    services,
    openEnumerations: settings?.openEnumerations,
    levels: settings?.levels ?? {},
    failOn: settings?.failOn ?? 'error',
    settings: settings === undefined ? undefined : { value: settings, source: sources.load(settingsFile as string) },
    discovered: [discovered, ...idleSettings(settings)].filter((t) => t !== undefined).join(' ') || undefined,
  };
}

/** The services before one behind the same gateway: where one of two has a mount, both are behind it. */
function earlierOf(services: readonly LoadedService[], at: number): readonly Service[] {
  const isMounted = (s: LoadedService | undefined): boolean => s !== undefined && s.files.mount !== '/';
  return services.slice(0, at).filter((s) => isMounted(s) || isMounted(services[at]));
}

/** For each expectation the service that answers it: the one that it names, or the one that `follow` would ask. */
function ownersOf(
  settings: Settings | undefined,
  services: readonly LoadedService[],
  versioning: Versioning | undefined,
): readonly (string | undefined)[] {
  const asked = services.flatMap((s) =>
    s.table === undefined || settings?.expect === undefined
      ? []
      : [{ name: s.name, router: buildRouter(withRanges(s.table, versioning?.versions ?? []), versioning) }],
  );
  return (settings?.expect ?? []).map((e) => {
    if (e.service !== undefined) return e.service;
    return answering(asked, requestOf(e))?.name ?? services[0]?.name;
  });
}

/** What a comparison needs of the settings; a folder without settings has none. */
export function readSettings(
  cwd: string,
  config: string | undefined,
): {
  readonly sources: Sources;
  readonly versions: readonly string[];
  readonly versioning: Versioning | undefined;
  readonly clients: readonly Client[];
  readonly openEnumerations: string | undefined;
} {
  const sources = openSources(cwd);
  const file = config ?? findSettings(sources);
  const settings = file === undefined ? undefined : (validate(sources.load(file), settingsFormat) as Settings);
  return {
    sources,
    versions: settings?.versioning?.versions.map((v) => v.id) ?? [],
    versioning: versioningOf(settings),
    clients: clientsOf(settings, file ?? ''),
    openEnumerations: settings?.openEnumerations,
  };
}

/** The router of one route table, its requests naming their version as the settings say. */
export function tableRouter(file: string, sources: Sources, versioning: Versioning | undefined): Router {
  return buildRouter(withRanges(loadTable(file, sources), versioning?.versions ?? []), versioning);
}

function serviceFiles(
  inputs: Inputs,
  settings: Settings | undefined,
  settingsFile: string,
  sources: Sources,
): { files: readonly ServiceFiles[]; discovered: string | undefined } {
  if (inputs.routes !== undefined || (inputs.documents ?? []).length > 0) {
    return {
      files: [{ name: undefined, routes: inputs.routes, documents: inputs.documents ?? [], mount: '/' }],
      discovered: undefined,
    };
  }
  if (settings?.services !== undefined) {
    // Files are named as seen from the settings.
    const beside = (file: string): string => (isAbsolute(file) ? file : join(dirname(settingsFile), file));
    const files = settings.services.map(
      (s, i): ServiceFiles => ({
        name: s.name,
        routes: s.routes === undefined ? undefined : beside(s.routes),
        documents: (typeof s.document === 'string' ? [s.document] : (s.document ?? [])).map(beside),
        mount: s.mount ?? '/',
        at: { file: settingsFile, pointer: `/services/${i}` },
      }),
    );
    return { files, discovered: undefined };
  }
  const files = discover(inputs.cwd, sources);
  if (files.length === 0) {
    throw new InputFailure([
      {
        file: '',
        message:
          'nothing to read here: looked for elm-gate.yaml, route tables (routes.yaml, *.routes.yaml) and OpenAPI documents (openapi.yaml, swagger.yaml, *.openapi.yaml), each as .yaml, .yml or .json; name one with --routes or --document, or run "elm-gate demo" to see an example',
      },
    ]);
  }
  const names = files.flatMap((f) => [f.routes, ...f.documents]).filter((f) => f !== undefined);
  return { files, discovered: `Found ${names.join(', ')} in this folder.` };
}

/** Loads every service, so that the problems of all files are told at once. */
function loadAll(files: readonly ServiceFiles[], sources: Sources): readonly LoadedService[] {
  const failures: InputFailure[] = [];
  const loaded = files.flatMap((f) => {
    try {
      return [loadService(f, sources)];
    } catch (error) {
      if (!(error instanceof InputFailure)) throw error;
      failures.push(error);
      return [];
    }
  });
  if (failures.length > 0) throw new InputFailure(failures.flatMap((f) => f.problems));
  return loaded;
}

function loadService(files: ServiceFiles, sources: Sources): LoadedService {
  const problems: InputFailure[] = [];
  const attempt = <T>(load: () => T): T | undefined => {
    try {
      return load();
    } catch (error) {
      if (!(error instanceof InputFailure)) throw error;
      problems.push(error);
      return undefined;
    }
  };
  const { routes } = files;
  const declared =
    routes === undefined ? undefined : attempt(() => loadTable(existing(routes, files, 'routes', sources), sources, files.mount));
  const contracts = files.documents.flatMap(
    (d, i) => attempt(() => loadDocument(existing(d, files, `document/${i}`, sources), sources)) ?? [],
  );
  if (problems.length > 0) throw new InputFailure(problems.flatMap((p) => p.problems));
  const [contract] = contracts;
  const name = files.name ?? declared?.service ?? contract?.title ?? 'service';
  const table = declared ?? (contract === undefined ? undefined : tableFromContracts(contracts, name, files.mount));
  const alone = declared === undefined && contract !== undefined;
  return {
    name,
    table,
    contracts,
    mount: files.mount,
    files,
    tableIsDocument: alone,
    unchecked: uncheckedOf(declared !== undefined, contracts.length > 0),
  };
}

/** A file that the settings name has to be there; where they name it is what has to be mended. */
function existing(name: string, { at }: ServiceFiles, key: string, sources: Sources): string {
  if (at === undefined || sources.exists(name)) return name;
  const place = { file: at.file, pointer: `${at.pointer}/${key}` };
  const message = `there is no file ${JSON.stringify(name)}; name one that exists, as seen from ${at.file}`;
  throw new InputFailure([{ file: at.file, ...sources.positions([place])(place), message }]);
}

function loadDocument(file: string, sources: Sources): Contract {
  const result = readContract(sources.load(file).value, file, besideOf(sources));
  if (!result.ok) throw new InputFailure([{ file, line: 1, column: 1, message: result.message }]);
  return result.contract;
}

function uncheckedOf(table: boolean, document: boolean): readonly string[] {
  if (table && document) return [];
  if (table)
    return [
      'Not checked: the routes against an OpenAPI document, because none was named or found (--document FILE, or document: in elm-gate.yaml).',
    ];
  return [
    'Not checked: the document against a route table, because none was named or found (--routes FILE, or routes: in elm-gate.yaml). The document stood in for the table.',
  ];
}
