/** What a change is about, before and after, and the witness with the part that matters marked. */
import { pointerKeys } from '../../core/base/place.ts';
import type { Change } from '../../core/compare/changes/change.ts';

/** A piece of text; what matters is marked. */
export interface Piece {
  readonly text: string;
  readonly isMarked: boolean;
}

/** So many lines of a value are shown. */
const MOST_LINES = 40;

/** A value over several lines, the part that the keys lead to marked; the rest of a long one is left out around it. */
export function markedLines(value: unknown, keys: readonly string[]): readonly Piece[] {
  const [START, END] = ['\u0001', '\u0002'];
  const marked = (part: unknown, [key, ...rest]: readonly string[], indent: string): string => {
    if (key === undefined) return START + inset(part, indent) + END;
    if (typeof part !== 'object' || part === null || !Object.hasOwn(part, key)) return inset(part, indent);
    const deeper = `${indent}  `;
    const members = Object.entries(part).map(([name, item]) => {
      const label = Array.isArray(part) ? '' : `${JSON.stringify(name)}: `;
      const text = name === key ? marked(item, rest, deeper) : inset(item, deeper);
      return `${deeper}${label}${text}`;
    });
    const [open, close] = Array.isArray(part) ? ['[', ']'] : ['{', '}'];
    return `${open}\n${members.join(',\n')}\n${indent}${close}`;
  };
  const lines = (keys.length === 0 ? inset(value, '') : marked(value, keys, '')).split('\n');
  const at = lines.findIndex((l) => l.includes(START));
  const pieces = clipped(lines, at, '…').join('\n').split(START);
  return pieces.flatMap((text, i): readonly Piece[] => {
    if (i === 0) return [{ text, isMarked: false }];
    const [own = '', ...after] = text.split(END);
    return [
      { text: own, isMarked: true },
      { text: after.join(''), isMarked: false },
    ];
  });
}

/** Control characters never stand in the JSON of a value, so that the marks are not mistaken. */
function inset(value: unknown, indent: string): string {
  return (JSON.stringify(value, null, 2) ?? 'null').replaceAll('\n', `\n${indent}`);
}

/** The lines around the one that matters. */
function clipped<T>(lines: readonly T[], at: number, gap: T): readonly T[] {
  if (lines.length <= MOST_LINES) return lines;
  const from = Math.max(0, Math.min(at - MOST_LINES / 2, lines.length - MOST_LINES));
  const shown = lines.slice(from, from + MOST_LINES);
  return [...(from > 0 ? [gap] : []), ...shown, ...(from + MOST_LINES < lines.length ? [gap] : [])];
}

/** The body that one side takes and the other does not; none where a change is shown by a request. */
export function witnessPieces({ witness, value }: Pick<Change, 'witness' | 'value'>): readonly Piece[] {
  if (witness?.kind !== 'value') return [];
  return markedLines(witness.body, pointerKeys(witness.lost ?? value ?? ''));
}

export interface Sides {
  readonly old: readonly Piece[] | undefined;
  readonly now: readonly Piece[] | undefined;
}

/** A value of more parts says nothing beside another one. */
const MOST_PARTS = 300;

function partsOf(value: unknown, most: number): number {
  if (!isParts(value)) return 1;
  let sum = 1;
  for (const part of Object.values(value)) {
    if (sum > most) break;
    sum += partsOf(part, most - sum);
  }
  return sum;
}

/** What stands at the two places of a change, the lines that only one side has marked; undefined where that is too much. */
export function sidesOf(old: unknown, now: unknown): Sides | undefined {
  if ((old === undefined && now === undefined) || Math.max(...[old, now].map((v) => partsOf(v, MOST_PARTS))) > MOST_PARTS)
    return undefined;
  const [was, is] = [old, now].map((v) => (v === undefined ? [] : inset(v, '').split('\n'))) as [string[], string[]];
  const common = commonLines(was, is);
  const side = (lines: readonly string[], shared: ReadonlySet<number>): Sides['old'] => {
    if (lines.length === 0) return undefined;
    const isOnlySide = was.length === 0 || is.length === 0;
    const pieces = lines.map((text, i): Piece => ({ text: `${text}\n`, isMarked: !isOnlySide && !shared.has(i) }));
    return clipped(
      pieces,
      pieces.findIndex((p) => p.isMarked),
      { text: '…\n', isMarked: false },
    );
  };
  return { old: side(was, new Set(common.map(([a]) => a))), now: side(is, new Set(common.map(([, b]) => b))) };
}

/** The longest run of lines that both have in their order, as pairs of numbers; a comma at the end counts for nothing. O(a x b). */
function commonLines(a: readonly string[], b: readonly string[]): readonly (readonly [number, number])[] {
  const [bareA, bareB] = [a, b].map((lines) => lines.map((l) => l.replace(/,$/u, ''))) as [string[], string[]];
  const longest = Array.from({ length: a.length + 1 }, () => new Array<number>(b.length + 1).fill(0));
  const at = (i: number, j: number): number => longest[i]?.[j] ?? 0;
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      (longest[i] as number[])[j] = bareA[i] === bareB[j] ? at(i + 1, j + 1) + 1 : Math.max(at(i + 1, j), at(i, j + 1));
  const pairs: (readonly [number, number])[] = [];
  for (let [i, j] = [0, 0]; i < a.length && j < b.length; ) {
    if (bareA[i] === bareB[j]) pairs.push([i++, j++]);
    else if (at(i + 1, j) >= at(i, j + 1)) i++;
    else j++;
  }
  return pairs;
}

function isParts(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null;
}
