/** Services from their files, all problems told at once. */
import type { Service } from '../core/checks/engine/context.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import { tableFromContracts } from '../core/contract/pairing/table-from-contract.ts';
import type { ServiceFiles } from './discover.ts';
import { type Kept, keptContract } from './kept.ts';
import { loadTable } from './load-table.ts';
import { InputFailure } from './problem.ts';
import type { Sources } from './sources.ts';

export interface LoadedService extends Service {
  readonly files: ServiceFiles;
  /** What was not checked, and why. */
  readonly unchecked: readonly string[];
}

/** Loads every service, so that the problems of all files are told at once. */
export function loadAll(files: readonly ServiceFiles[], sources: Sources, kept?: Kept): readonly LoadedService[] {
  const failures: InputFailure[] = [];
  const loaded = files.flatMap((f) => {
    try {
      return [loadService(f, sources, kept)];
    } catch (error) {
      if (!(error instanceof InputFailure)) throw error;
      failures.push(error);
      return [];
    }
  });
  if (failures.length > 0) throw new InputFailure(failures.flatMap((f) => f.problems));
  return loaded;
}

export function loadService(files: ServiceFiles, sources: Sources, kept?: Kept): LoadedService {
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
    (d, i) => attempt(() => loadDocument(existing(d, files, `document/${i}`, sources), sources, kept)) ?? [],
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
export function existing(name: string, { at }: ServiceFiles, key: string, sources: Sources): string {
  if (at === undefined || sources.exists(name)) return name;
  const place = { file: at.file, pointer: `${at.pointer}/${key}` };
  const message = `there is no file ${JSON.stringify(name)}; name one that exists, as seen from ${at.file}`;
  throw new InputFailure([{ file: at.file, ...sources.positions([place])(place), message }]);
}

/** Fails with a sentence where it is no OpenAPI document. */
export function loadDocument(file: string, sources: Sources, kept?: Kept): Contract {
  const result = keptContract(file, sources, kept);
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
