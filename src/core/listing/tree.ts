/** Lists in which indentation or `├──` nests path text, methods behind it. */
import type { Line } from './lines.ts';
import { methodsIn } from './methods.ts';
import type { SkippedRow, SourceReading, SourceRow } from './row.ts';

/** How a tree that nests is called. */
export const NESTED = 'a tree';

/** What draws a branch, with the space around it. */
const BRANCH = /^((?:[\s\u2502|]*)[\u251c\u2514\u2570|`+\u250c\u256d\u2510\u2518][\u2500\u252c-]*\s?)/u;

interface Node {
  readonly line: Line;
  readonly depth: number;
  readonly text: string;
  readonly methods: readonly string[] | undefined;
  readonly handler: string | undefined;
}

/** Is it a tree: do most lines start with a branch? */
export function isTree(lines: readonly Line[]): boolean {
  const all = lines.filter((l) => l.text.trim() !== '');
  const drawn = all.filter((l) => /^[\s\u2502|]*[\u251c\u2514\u2570]/u.test(l.text)).length;
  return drawn >= 2 && drawn * 2 > all.length;
}

/**
 * Reads a tree. Children of whole segments are joined with a slash, those of parts of a segment without one; a tree of whole
 * paths, one level deep, is a list. Nodes without methods are branches, unless no node has any. O(text).
 */
export function treeReading(lines: readonly Line[]): SourceReading {
  const nodes = lines.flatMap((line) => nodeOf(line) ?? []);
  const isFlat = isWholeList(nodes);
  const hasMethods = nodes.some((n) => n.methods !== undefined);
  // Slashes in the nodes say themselves where segments end.
  const isPlain = nodes.filter((n) => n.depth > 0).some((n) => n.text.includes('/'));
  const rows: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  const open: { readonly depth: number; readonly path: string }[] = [];
  nodes.forEach((node, i) => {
    while (open.length > 0 && (open.at(-1) as { depth: number }).depth >= node.depth) open.pop();
    const above = isFlat ? '' : (open.at(-1)?.path ?? '');
    const path = isPlain || above === '' || above.endsWith('/') || node.text === '' ? above + node.text : `${above}/${node.text}`;
    open.push({ depth: node.depth, path });
    const next = nodes[i + 1];
    const isLeaf = next === undefined || next.depth <= node.depth;
    if (node.methods === undefined && (hasMethods || !(isFlat || isLeaf))) return;
    if (path === '' || /\s/u.test(path))
      skipped.push({ line: node.line.number, text: node.line.text.trim(), why: 'no path stands in it' });
    else rows.push({ line: node.line.number, methods: node.methods, path, handler: node.handler });
  });
  return { rows, skipped, look: isFlat ? 'a list with branches drawn' : NESTED };
}

/** Whole paths, each a line of its own. */
function isWholeList(nodes: readonly Node[]): boolean {
  const paths = nodes.filter((n) => n.text.startsWith('/'));
  return paths.length >= nodes.length * 0.8 && new Set(paths.map((n) => n.depth)).size <= 1;
}

/** Marks that stand between a branch and its path: what kind of page it is. */
const MARK = /^(?:[\u0192\u03bb\u03b5\u25cb\u25cf\u25d0\u25cd\u25cf\u2299\u24d8]|\([A-Za-z0-9]{1,10}\))\s+/u;

function nodeOf(line: Line): Node | undefined {
  const drawn = BRANCH.exec(line.text)?.[1] ?? /^\s*/u.exec(line.text)?.[0] ?? '';
  const rest = line.text.slice(drawn.length).replace(MARK, '').trim();
  if (rest === '') return undefined;
  const isDrawn = /[\u251c\u2514\u2570\u250c\u256d]/u.test(drawn);
  // The size of a page stands behind its path, in columns.
  const [head = '', ...cells] = rest.split(/\s{2,}/u);
  const match = /^(\S*)\s*[[({]([A-Za-z*|,/ ]+)[\])}](.*)$/u.exec(head);
  const inBrackets = match === null ? undefined : methodsIn(match[2] as string);
  if (inBrackets !== undefined)
    return {
      line,
      depth: depthOf(drawn),
      text: match?.[1] as string,
      methods: inBrackets,
      handler: handlerIn(`${match?.[3]} ${cells.join(' ')}`),
    };
  const words = head.split(' ');
  const first = methodsIn(words[0] as string);
  if (words.length >= 2 && first !== undefined)
    return {
      line,
      depth: depthOf(drawn),
      text: words[1] as string,
      methods: first,
      handler: handlerIn([...words.slice(2), ...cells].join(' ')),
    };
  const behind = [...words.slice(1), ...cells].join(' ').split(' ');
  const second = methodsIn(behind[0] ?? '');
  if (second !== undefined)
    return {
      line,
      depth: depthOf(drawn),
      text: words[0] as string,
      methods: second,
      handler: handlerIn(behind.slice(1).join(' ')),
    };
  if (words.length > 1 && !isDrawn) return undefined;
  if (words.length > 2) return undefined;
  return { line, depth: depthOf(drawn), text: words[0] as string, methods: undefined, handler: undefined };
}

function depthOf(drawn: string): number {
  return drawn.replace(/[\u2500\u252c-]*\s?$/u, '').length;
}

function handlerIn(text: string): string | undefined {
  const bare = text.replace(/^[\s:>=-]+/u, '').trim();
  return bare === '' || /^[\d.]+\s?[kM]?B/u.test(bare) ? undefined : bare.split(/\s{2,}/u)[0];
}
