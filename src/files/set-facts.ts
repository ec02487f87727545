/** Router facts written into a route table, its comments and order kept. */
import { parseDocument } from 'yaml';
import { fail } from './problem.ts';
import { writeWhole } from './write-file.ts';

/** Sets facts under `router:` of a table, and writes it whole. Fails where the file is no YAML that can be changed. */
export function setFacts(file: string, text: string, facts: Readonly<Record<string, string>>): void {
  const document = parseDocument(text);
  if (document.errors.length > 0) fail(file, 'it can not be changed, because it is no YAML without errors');
  const isNew = !document.has('router');
  for (const [fact, value] of Object.entries(facts)) document.setIn(['router', fact], value);
  if (isNew) moveBefore(document.contents as unknown as Items, 'router', 'routes');
  writeWhole(file, [document.toString({ lineWidth: 0 })], []);
}

interface Items {
  readonly items: { readonly key: unknown }[];
}

/** A new key stands where people look for it. */
function moveBefore({ items }: Items, key: string, other: string): void {
  const isKey = (item: Items['items'][number], name: string): boolean =>
    item.key === name || (typeof item.key === 'object' && item.key !== null && (item.key as { value?: unknown }).value === name);
  const from = items.findIndex((i) => isKey(i, key));
  const to = items.findIndex((i) => isKey(i, other));
  if (from < 0 || to < 0 || from < to) return;
  const [item] = items.splice(from, 1);
  if (item !== undefined) items.splice(to, 0, item);
}
