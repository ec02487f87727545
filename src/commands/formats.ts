/** Formats for other programs and for the browser, loaded when one is asked for. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Sources } from '../files/sources.ts';
import { type HtmlReport, htmlPage } from '../views/formats/html.ts';
import { junit } from '../views/formats/junit.ts';
import { markdownReport } from '../views/formats/markdown-report.ts';
import { sarif } from '../views/formats/sarif.ts';
import type { ItemReport } from '../views/items.ts';
import type { Format } from './base.ts';

export { findingsJson } from '../views/findings-json.ts';
export { summaryLine } from '../views/findings-text.ts';
export { itemsOf, itemsOfChanges } from '../views/items.ts';

/** What the page has beyond the findings. */
export interface PageInputs {
  readonly title: string;
  readonly services: HtmlReport['services'];
  readonly sources: Sources | undefined;
  /** Where the program lies. */
  readonly root: string;
}

export function formatted(format: Exclude<Format, 'text' | 'json'>, report: ItemReport, page: PageInputs): string {
  if (format === 'sarif') return sarif(report);
  if (format === 'junit') return junit(report);
  if (format === 'markdown') return markdownReport(report);
  const { title, services, sources, root } = page;
  const textOf = (file: string): string | undefined => (sources?.has(file) === true ? sources.load(file).text : undefined);
  return htmlPage({ ...report, title, services, textOf, script: readFileSync(join(root, 'dist', 'page.js'), 'utf8') });
}
