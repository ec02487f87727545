/** From flags, settings or what a folder holds to services that can be asked. */
import { dirname, isAbsolute, join } from 'node:path';
import { lazy } from '../core/base/lazy.ts';
import type { Client, Service } from '../core/checks/engine/context.ts';
import type { Level } from '../core/checks/engine/finding.ts';
import type { Levels } from '../core/checks/index.ts';
import { answering, type Behind, type Gateway } from '../core/routes/follow/gateway.ts';
import { buildRouter, type Router } from '../core/routes/index/router.ts';
import { type Versioning, withRanges } from '../core/routes/request/requested-version.ts';
import type { Reach } from './boundary.ts';
import { discover, findSettings, type ServiceFiles } from './discover.ts';
import type { Settings } from './formats/settings.ts';
import type { Kept } from './kept.ts';
import { existing, type LoadedService, loadAll, loadDocument, loadService } from './load-services.ts';
import { loadTable } from './load-table.ts';
import { fail, InputFailure } from './problem.ts';
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
import { type LoadedSettings, loadSettings } from './settings-file.ts';
import { openSources, type Sources } from './sources.ts';

export interface Inputs {
  readonly cwd: string;
  readonly config?: string | undefined;
  readonly routes?: string | undefined;
  readonly documents?: readonly string[] | undefined;
  /** Files outside the repository may be read. */
  readonly outside?: boolean | undefined;
  /** The day that a sunset is measured against, `2027-03-14`. */
  readonly today?: string | undefined;
  /** Services are asked directly, not below the paths at which a gateway mounts them. */
  readonly unmounted?: boolean | undefined;
  /** Files as an earlier run read them, used where their text is the same; those that are read are added. */
  readonly kept?: Kept | undefined;
}

export interface Workspace {
  readonly sources: Sources;
  readonly services: readonly LoadedService[];
  /** The extension that marks an enumeration as open. */
  readonly openEnumerations: string | undefined;
  readonly levels: Levels;
  /** Levels on a path and below it, by path. */
  readonly levelsBelow: Readonly<Record<string, Levels>>;
  readonly failOn: Level;
  /** The settings, where there are any. */
  readonly settings: LoadedSettings | undefined;
  /** Where the services came from, in words; undefined when flags or settings named them. */
  readonly discovered: string | undefined;
}

/** A service whose files are read when it is asked, which most of several never are. */
export interface ClosedService {
  /** As the settings call it; undefined where its files say it. */
  readonly name: string | undefined;
  readonly behind: Behind;
  readonly open: () => Service;
}

/** The services of a run in the order in which they are asked, none of them opened. Fails with what is wrong with the settings. */
export function closedServices(inputs: Inputs): {
  readonly sources: Sources;
  readonly services: readonly ClosedService[];
  /** Undefined where none is declared. */
  readonly gateway: Gateway | undefined;
} {
  const sources = openSources(inputs.cwd, reachOf(inputs));
  const settingsFile = inputs.config ?? findSettings(sources);
  const settings = settingsFile === undefined ? undefined : loadSettings(settingsFile, sources).value;
  const { files } = serviceFiles(inputs, settings, settingsFile ?? '', sources);
  const versioning = versioningOf(settings);
  const services = files.map((f) => ({
    name: f.name,
    behind: f.behind ?? { mount: f.mount },
    open: lazy(() => openedService(f, sources, versioning)),
  }));
  const choice = settings?.gateway?.choose;
  return { sources, services, gateway: choice === undefined ? undefined : { choice, versioning } };
}

/** The table at once, the documents when somebody looks at them. */
function openedService(files: ServiceFiles, sources: Sources, versioning: Versioning | undefined): Service {
  const { routes } = files;
  if (routes === undefined) return versionedService(loadService(files, sources), versioning);
  const table = loadTable(existing(routes, files, 'routes', sources), sources, files.mount);
  const contracts = lazy(() =>
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

/** What the person who runs it named may lie anywhere. */
function reachOf({ config, routes, documents = [], outside }: Inputs): Reach {
  return { named: [config, routes, ...documents], outside };
}

/** Loads everything a run needs. Fails with all problems of all files. */
export function openWorkspace(inputs: Inputs): Workspace {
  const sources = openSources(inputs.cwd, reachOf(inputs), inputs.kept?.sources);
  const settingsFile = inputs.config ?? findSettings(sources);
  const loadedSettings = settingsFile === undefined ? undefined : loadSettings(settingsFile, sources);
  const settings = loadedSettings?.value;
  const { files, discovered } = serviceFiles(inputs, settings, settingsFile ?? '', sources);
  const versioning = versioningOf(settings);
  const loaded = loadAll(files, sources, inputs.kept);
  const owners = ownersOf(settings, loaded, versioning);
  const peers: Service[] = [];
  const choice = inputs.unmounted === true ? undefined : settings?.gateway?.choose;
  const services = loaded.map((service, i) => ({
    ...versionedService(service, versioning),
    versions: declaredVersions(settings, settingsFile ?? ''),
    unserved: i === 0 ? unservedVersions(settings, loaded) : undefined,
    versionsAt: i === 0 && settingsFile !== undefined ? { file: settingsFile, pointer: '/versioning' } : undefined,
    today: inputs.today,
    policy: settings?.methods === undefined ? undefined : policyOf(settings),
    clients: clientsOf(settings, settingsFile ?? '', service.name),
    expectations: expectationsOf(settings, settingsFile ?? '', (k) =>
      owners[k]?.name !== service.name ? undefined : owners[k]?.isNobody ? 'nobody' : 'passed',
    ),
    earlier: earlierOf(loaded, i),
    behind: service.files.behind,
    gateway: choice === undefined ? undefined : { choice, peers },
  }));
  peers.push(...services);
  return {
    sources,
    services,
    openEnumerations: settings?.openEnumerations,
    levels: settings?.levels ?? {},
    levelsBelow: settings?.levelsBelow ?? {},
    failOn: settings?.failOn ?? 'error',
    settings: loadedSettings,
    discovered: [discovered, ...idleSettings(settings)].filter((t) => t !== undefined).join(' ') || undefined,
  };
}

/** The services before one behind the same gateway: where one of two has a mount, both are behind it. */
function earlierOf(services: readonly LoadedService[], at: number): readonly Service[] {
  const isMounted = (s: LoadedService | undefined): boolean => s !== undefined && s.files.mount !== '/';
  return services.slice(0, at).filter((s) => isMounted(s) || isMounted(services[at]));
}

interface Owner {
  readonly name: string | undefined;
  readonly isNobody: boolean;
}

/** For each expectation the service that answers it: the one that it names, or the one that `follow` would ask. */
function ownersOf(
  settings: Settings | undefined,
  services: readonly LoadedService[],
  versioning: Versioning | undefined,
): readonly Owner[] {
  const choice = settings?.gateway?.choose;
  const gateway = choice === undefined ? undefined : { choice, versioning };
  const asked = services.flatMap((s) => {
    if (s.table === undefined || settings?.expect === undefined) return [];
    const router = buildRouter(withRanges(s.table, versioning?.versions ?? []), versioning);
    return [{ name: s.name, router, behind: s.files.behind ?? { mount: '/' } }];
  });
  return (settings?.expect ?? []).map((e): Owner => {
    if (e.service !== undefined) return { name: e.service, isNobody: false };
    const owner = answering(asked, requestOf(e), gateway);
    // What nobody gets is told with the first service.
    return { name: (owner ?? services[0])?.name, isNobody: owner === undefined && gateway !== undefined };
  });
}

/** The globs under `fleet:` of the settings; undefined where there is none, or services stand beside it. */
export function fleetOfSettings(
  inputs: Pick<Inputs, 'cwd' | 'config' | 'outside'>,
): { readonly globs: readonly string[]; readonly sources: Sources } | undefined {
  const sources = openSources(inputs.cwd, reachOf(inputs));
  const file = inputs.config ?? findSettings(sources);
  if (file === undefined || !sources.exists(file)) return undefined;
  const { fleet, services } = loadSettings(file, sources).value;
  if (fleet === undefined || services !== undefined) return undefined;
  const beside = (glob: string): string => join(dirname(file), glob);
  return { globs: (typeof fleet === 'string' ? [fleet] : fleet).map(beside), sources };
}

/** What a comparison needs of the settings; a folder without settings has none. */
export function readSettings(
  cwd: string,
  config: string | undefined,
  reach: Reach,
): {
  readonly sources: Sources;
  readonly versions: readonly string[];
  readonly versioning: Versioning | undefined;
  readonly clients: readonly Client[];
  readonly openEnumerations: string | undefined;
  readonly levels: Levels;
} {
  const sources = openSources(cwd, reach);
  const file = config ?? findSettings(sources);
  const settings = file === undefined ? undefined : loadSettings(file, sources).value;
  return {
    sources,
    versions: settings?.versioning?.versions.map((v) => v.id) ?? [],
    versioning: versioningOf(settings),
    clients: clientsOf(settings, file ?? ''),
    openEnumerations: settings?.openEnumerations,
    levels: settings?.levels ?? {},
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
  if (settings?.fleet !== undefined && settings.services === undefined)
    fail(
      settingsFile,
      'these settings name folders under fleet:, which check looks at; name one of them with --config FOLDER/elm-gate.yaml',
    );
  if (settings?.services !== undefined) {
    // Files are named as seen from the settings.
    const beside = (file: string): string => (isAbsolute(file) ? file : join(dirname(settingsFile), file));
    const files = settings.services.map(
      (s, i): ServiceFiles => ({
        name: s.name,
        routes: s.routes === undefined ? undefined : beside(s.routes),
        documents: (typeof s.document === 'string' ? [s.document] : (s.document ?? [])).map(beside),
        mount: inputs.unmounted === true || settings.gateway?.path === 'kept' ? '/' : (s.mount ?? '/'),
        behind: { mount: s.mount ?? '/', host: s.host, headers: s.headers, version: s.version },
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
          'nothing to read here: looked for elm-gate.yaml, route tables (routes.yaml, *.routes.yaml) and OpenAPI documents (openapi.yaml, swagger.yaml, *.openapi.yaml), each as .yaml, .yml or .json; name one with --routes or --document, run "elm-gate init" where routes stand in a listing, a folder or code, or "elm-gate demo" to see an example',
      },
    ]);
  }
  const names = files.flatMap((f) => [f.routes, ...f.documents]).filter((f) => f !== undefined);
  return { files, discovered: `Found ${names.join(', ')} in this folder.` };
}
