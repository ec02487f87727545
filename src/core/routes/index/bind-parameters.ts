/** Which text of a path goes to which parameter. */
import { BOUNDARY_TEXT } from '../../language/charset.ts';
import { accepts, type Language } from '../../language/language.ts';
import { match } from '../../language/matcher.ts';
import type { Compiler } from '../../paths/compile.ts';
import type { Part, Pattern, Piece } from '../../paths/pattern.ts';
import type { Router } from './router.ts';
import type { RouteShape } from './segment-tree.ts';

export interface Value {
  readonly text: string;
  /** The written type, or `path` for a tail. */
  readonly type: string;
}

/** Takes what is bound, in the order of the path; a name may come twice. */
interface Binder {
  readonly set: (name: string, value: Value) => unknown;
}

/** The values of a leaf's parameters for a path that it matches, as this router splits a segment. */
export function valuesOf(
  router: Router,
  leaf: RouteShape,
  segments: readonly string[],
  split: string = router.facts.split,
): ReadonlyMap<string, Value> {
  const values = new Map<string, Value>();
  bind(router, leaf, segments, values, split);
  return values;
}

/** The parameter with a longer value than the router takes, in words. Tails may be as long as they like. */
export function longValue(router: Router, leaf: RouteShape, segments: readonly string[]): string | undefined {
  const most = router.facts.longestValue;
  if (most === Number.POSITIVE_INFINITY) return undefined;
  let long: string | undefined;
  const set = (name: string, { text, type }: Value): void => {
    if (type !== 'path' && text.length > most && [...text].length > most) long ??= name;
  };
  bind(router, leaf, segments, { set }, router.facts.split);
  return long === undefined ? undefined : `the value of ${long} is longer than ${most} characters (longestValue)`;
}

/**
 * Binds a shape's parameters to the text of a path that it matches, given as decoded segments. Where several parameters
 * share a segment, each takes the shortest text (or the longest) that still lets the rest match, from left to right.
 */
function bind(router: Router, { route, shape }: RouteShape, segments: readonly string[], values: Binder, split: string): void {
  const { compiler } = router.tree;
  const longest = split === 'longest';
  if (route.pattern.capture !== undefined) {
    for (const [name, value] of bindGroups(route.pattern.capture, segments)) values.set(name, value);
    return;
  }
  let at = 0;
  for (const [i, piece] of shape.entries()) {
    if (piece.kind === 'span') {
      const end = segments.length - (shape.length - i - 1);
      splitSpan(piece, segments.slice(at, end), compiler, longest, values);
      at = end;
    } else {
      splitText(piece.parts, segments[at] as string, compiler, longest, values);
      at += 1;
    }
  }
}

/** The groups of a whole-path regular expression, as the expression itself finds them; unnamed ones by their number. */
function bindGroups(
  { source, flags, slashed }: NonNullable<Pattern['capture']>,
  segments: readonly string[],
): ReadonlyMap<string, Value> {
  const path = (slashed ? '/' : '') + segments.join('/');
  const groups = match(source, path, { anywhere: true, ignoreCase: flags.includes('i') }) ?? [];
  return new Map(groups.flatMap(({ name, text }) => (text === undefined ? [] : [[name, { text, type: 'regex' }]])));
}

function splitSpan(piece: Piece, segments: readonly string[], compiler: Compiler, longest: boolean, values: Binder): void {
  const only = piece.parts.length === 1 ? piece.parts[0] : undefined;
  if (only?.kind === 'tail') values.set(only.name, { text: segments.join('/'), type: 'path' });
  else splitText(piece.parts, segments.join(BOUNDARY_TEXT), compiler, longest, values);
}

function splitText(parts: readonly Part[], text: string, compiler: Compiler, longest: boolean, values: Binder): void {
  const [only] = parts;
  if (parts.length === 1 && only?.kind !== 'tail' && only?.kind !== 'expression') {
    if (only?.kind === 'parameter') values.set(only.name, { text, type: only.type.name });
    return;
  }
  const dead = new Set<number>();
  /** Where each part ends, filled from the last one on. */
  const ends: number[] = [];
  const go = (part: number, from: number): boolean => {
    if (part === parts.length) return from === text.length;
    const key = part * (text.length + 1) + from;
    if (dead.has(key)) return false;
    const current = parts[part] as Part;
    for (const end of endsOf(current, text, from, part === parts.length - 1, longest)) {
      if (!partAccepts(current, text.slice(from, end), compiler) || !go(part + 1, end)) continue;
      ends[part] = end;
      return true;
    }
    dead.add(key);
    return false;
  };
  if (!go(0, 0)) return;
  let from = 0;
  for (const [i, part] of parts.entries()) {
    const piece = text.slice(from, ends[i]);
    if (part.kind === 'parameter') values.set(part.name, { text: piece, type: part.type.name });
    else if (part.kind !== 'literal' && part.name !== undefined) {
      values.set(part.name, { text: piece.replaceAll(BOUNDARY_TEXT, '/'), type: part.kind === 'tail' ? 'path' : part.source });
    }
    from = ends[i] as number;
  }
}

/** Where a part may end, in the order in which the ends are tried. */
function endsOf(part: Part, text: string, from: number, last: boolean, longest: boolean): readonly number[] {
  if (part.kind === 'literal') return [from + part.text.length];
  if (last) return [text.length];
  const ends = Array.from({ length: text.length - from + 1 }, (_, i) => from + i);
  return longest ? ends.reverse() : ends;
}

function partAccepts(part: Part, text: string, compiler: Compiler): boolean {
  if (part.kind === 'literal') return text.toLowerCase() === part.text.toLowerCase();
  if (part.kind === 'parameter') return accepts(compiler.value(part.type) as Language, text);
  return true;
}
