/** The picture in docs/architecture.md: which parts of the program import which, made from the imports of the code. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';

const IMPORT = /(?:\bfrom|\bimport\(|^import) ?['"](\.[^'"]+)['"]/gmu;

/** Of a file below `src`: `core/schema`, `files`; files that stand by themselves start the program. */
function partOf(file) {
  const [first, second, third] = file.split('/');
  if (first !== 'core') return second === undefined ? 'start' : first;
  return third === undefined ? 'core' : `core/${second}`;
}

/** Imports between parts, without those that follow from others. */
export function arrows(root) {
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'));
  const to = new Map();
  for (const file of files) {
    const from = partOf(file);
    if (from === 'start' || from === 'core') continue;
    const row = to.get(from) ?? new Set();
    to.set(from, row);
    for (const [, spec] of readFileSync(join(root, file), 'utf8').matchAll(IMPORT)) {
      const part = partOf(normalize(join(dirname(file), spec)));
      if (part !== from && part !== 'start' && part !== 'core') row.add(part);
    }
  }
  const reach = (part, seen = new Set()) => {
    for (const next of to.get(part) ?? []) if (!seen.has(next)) reach(next, seen.add(next));
    return seen;
  };
  return [...to].flatMap(([from, row]) =>
    [...row].filter((part) => ![...row].some((other) => other !== part && reach(other).has(part))).map((part) => [from, part]),
  );
}

/** The page with the picture between its marks. */
export function withPicture(page, root) {
  const name = (part) => part.replace('/', '_');
  const lines = arrows(root)
    .map(([from, to]) => `  ${name(from)}["${from}"] --> ${name(to)}["${to}"]`)
    .sort();
  const picture = ['```mermaid', 'graph TD', ...lines, '```'].join('\n');
  return page.replace(/<!-- picture -->[\s\S]*<!-- end -->/u, `<!-- picture -->\n\n${picture}\n\n<!-- end -->`);
}
