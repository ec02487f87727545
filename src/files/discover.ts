/** What a folder holds, told by the names of its files. */
import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Place } from '../core/base/place.ts';
import type { Behind } from '../core/routes/follow/gateway.ts';
import { fail } from './problem.ts';
import type { Sources } from './sources.ts';

export const SETTINGS_FILES = ['elm-gate.yaml', 'elm-gate.yml', 'elm-gate.json'] as const;
const TABLE = /(?:^|\.)routes\.(?:ya?ml|json)$/iu;
const DOCUMENT = /(?:^|[.-])(?:openapi|swagger)(?:[.-][\w.-]*)?\.(?:ya?ml|json)$/iu;

export interface ServiceFiles {
  readonly name: string | undefined;
  readonly routes: string | undefined;
  readonly documents: readonly string[];
  /** Before all of its paths; `/` where its routes have it themselves. */
  readonly mount: string;
  readonly behind?: Behind | undefined;
  /** Where the settings say so. */
  readonly at?: Place | undefined;
}

/** The settings file of a folder, if there is one. */
export function findSettings(sources: Sources): string | undefined {
  return SETTINGS_FILES.find((file) => sources.exists(file));
}

/**
 * The services of a folder: each table that no other one includes, with the documents that start with its name; with one
 * table alone all documents are its own. Documents without a table are services by themselves.
 */
export function discover(cwd: string, sources: Sources): readonly ServiceFiles[] {
  const names = listed(cwd);
  // A file called routes.yaml may be anything.
  const found = names.filter((n) => TABLE.test(n) && (/\.routes\./iu.test(n) || isTable(n, sources)));
  const included = new Set(found.flatMap((file) => includesOf(file, sources)));
  const tables = found.filter((n) => !included.has(n));
  const documents = names.filter((n) => DOCUMENT.test(n) && !TABLE.test(n));
  if (tables.length === 1) return [{ name: undefined, routes: tables[0], documents, mount: '/' }];
  const owner = (document: string): string | undefined =>
    tables.find((t) => document.startsWith(`${stem(t)}.`) || document.startsWith(`${stem(t)}-`));
  const free = documents.filter((d) => owner(d) === undefined);
  return [
    ...tables.map((routes) => ({ name: undefined, routes, documents: documents.filter((d) => owner(d) === routes), mount: '/' })),
    ...free.map((document) => ({ name: undefined, routes: undefined, documents: [document], mount: '/' })),
  ];
}

function listed(cwd: string): readonly string[] {
  try {
    return readdirSync(cwd).sort();
  } catch (error) {
    return fail(cwd, `the folder can't be listed (${(error as NodeJS.ErrnoException).code ?? 'unknown cause'})`);
  }
}

/** The tables that a table names under `include`, at any depth; nothing where it can't be read yet. */
function includesOf(file: string, sources: Sources): readonly string[] {
  const out: string[] = [];
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (typeof value === 'object' && value !== null) {
      const { include, routes, below } = value as Record<string, unknown>;
      if (typeof include === 'string') out.push(join(dirname(file), include));
      visit(routes);
      visit(below);
    }
  };
  try {
    visit(sources.load(file).value);
  } catch {
    return [];
  }
  return out;
}

function isTable(file: string, sources: Sources): boolean {
  try {
    const { value } = sources.load(file);
    if (typeof value !== 'object' || value === null) return false;
    // What lists routes is meant as a table, though its first line was forgotten.
    return 'routeTable' in value || ('routes' in value && Array.isArray(value.routes) && value.routes.some(isRouteLine));
  } catch {
    return false;
  }
}

function isRouteLine(entry: unknown): boolean {
  return typeof entry === 'string' && /^[A-Z|*]+ +\/.* -> /u.test(entry);
}

function stem(file: string): string {
  return file.replace(TABLE, '');
}
