/** Formats for other programs and for the browser, loaded when one is asked for. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { contextOf, type Service } from '../core/checks/engine/context.ts';
import { besideName, type Sources } from '../files/sources.ts';
import { htmlPage, type PageService } from '../views/formats/html.ts';
import { junit } from '../views/formats/junit.ts';
import { markdownReport } from '../views/formats/markdown-report.ts';
import { type Grid, gridsOf } from '../views/formats/page-grids.ts';
import { sarif } from '../views/formats/sarif.ts';
import type { ItemReport } from '../views/items.ts';
import { type MediaView, mediaView } from '../views/media.ts';
import { type Editions, editionsView } from '../views/versions.ts';
import type { Format } from './base.ts';

export { findingsJson } from '../views/findings-json.ts';
export { summaryLine } from '../views/findings-text.ts';
export { itemsOf, itemsOfChanges } from '../views/items.ts';

/** What the page has beyond the findings. */
export interface PageInputs {
  readonly title: string;
  readonly services: readonly Service[];
  readonly sources: Sources | undefined;
  /** The extension that marks an enumeration as open. */
  readonly openEnumerations?: string | undefined;
  /** Grids of the command itself, before those of the services. */
  readonly grids?: readonly Grid[];
  /** Where the program lies. */
  readonly root: string;
}

export function formatted(format: Exclude<Format, 'text' | 'json'>, report: ItemReport, page: PageInputs): string {
  if (format === 'sarif') return sarif(report);
  if (format === 'junit') return junit(report);
  if (format === 'markdown') return markdownReport(report);
  const { title, services, sources, root } = page;
  const routes = services.flatMap((s) => s.table?.routes ?? []);
  const locate = sources?.positions(routes.map((r) => r.place)) ?? (() => undefined);
  const grids = services.flatMap((s) => gridsOf(...gridViews(s, page.openEnumerations)));
  const firstGrids = page.grids ?? [];
  const textOf = (file: string): string | undefined => (sources?.has(file) === true ? sources.load(file).text : undefined);
  const pageServices = services.map((s) => pageService(s, sources));
  const choice = services[0]?.gateway?.choice;
  const script = readFileSync(join(root, 'dist', 'page.js'), 'utf8');
  return htmlPage({ ...report, title, services: pageServices, choice, grids, firstGrids, locate, textOf, script });
}

function pageService(service: Service, sources: Sources | undefined): PageService {
  const { name, table, versioning, mount, tableIsDocument, contracts, behind } = service;
  const more = { ...(mount === undefined ? {} : { mount }), ...(tableIsDocument === undefined ? {} : { tableIsDocument }) };
  const documents = contracts.map((c) => c.place.file);
  const files = sources === undefined ? [] : withReferred(documents, sources);
  return { name, table, versioning, ...more, behind, documents, files };
}

/** Documents and the files that they refer to, as far as they were read. */
function withReferred(documents: readonly string[], sources: Sources): PageService['files'] {
  const found = new Map<string, unknown>();
  const waiting = [...documents];
  for (let file = waiting.pop(); file !== undefined; file = waiting.pop()) {
    if (found.has(file) || !sources.has(file)) continue;
    const { value } = sources.load(file);
    found.set(file, value);
    for (const [, reference = ''] of JSON.stringify(value).matchAll(/"\$ref":"([^#"\\]+)[#"]/gu))
      waiting.push(besideName(file, reference));
  }
  return [...found].map(([file, value]) => ({ file, value }));
}

/** What the three grids of a service are made of. */
function gridViews(service: Service, openEnumerations: string | undefined): readonly [MediaView, Editions] {
  const context = contextOf(service);
  return [mediaView(context), editionsView(context, openEnumerations)];
}
