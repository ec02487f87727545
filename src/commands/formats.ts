/** Formats for other programs, loaded when one is asked for. */

import { junit } from '../views/formats/junit.ts';
import { markdownReport } from '../views/formats/markdown-report.ts';
import { sarif } from '../views/formats/sarif.ts';
import type { ItemReport } from '../views/items.ts';
import type { Format } from './base.ts';

export { findingsJson } from '../views/findings-json.ts';
export { summaryLine } from '../views/findings-text.ts';
export { itemsOf, itemsOfChanges } from '../views/items.ts';

const WRITERS = { sarif, junit, markdown: markdownReport };

export function formatted(format: Exclude<Format, 'text' | 'json'>, report: ItemReport): string {
  return WRITERS[format](report);
}
