/** A file's text, its value, and the way back from a value to its line and column. */

import { constructFromEvents, EVENT_ID, type Event, getScalarValue, parseEvents, YAMLException } from 'js-yaml';
import { pointerKeys } from '../core/base/place.ts';
import { surveyDocument } from '../core/contract/document/survey.ts';
import { withoutEscapes } from './escapes.ts';
import { findInJson, type Wanted } from './json-places.ts';
import { keyTwice } from './json-twice.ts';
import { InputFailure } from './problem.ts';

/** How deep collections may nest. */
export const MAX_DEPTH = 200;
/** How many values a file may hold once its aliases are written out. */
export const MAX_VALUES = 5_000_000;

/** Up to this many characters a file's events are kept. */
const MOST_KEPT = 1_000_000;

export interface Source {
  readonly file: string;
  readonly text: string;
  readonly value: unknown;
  /** JSON by its grammar, not YAML in flow style. */
  readonly json: boolean;
  /** What a survey told of it (core/contract/survey.ts), where one was made. */
  readonly sideless?: boolean;
  /** What the parser saw, kept of small files, so that places need no second look. */
  readonly events?: readonly Event[];
}

export interface Position {
  readonly line: number;
  readonly column: number;
}

/** Parses YAML or JSON; JSON by its own parser where the text starts like it. Fails with the place of the first error. */
export function parseSource(file: string, text: string): Source {
  if (text.trim() === '')
    throw new InputFailure([{ file, line: 1, column: 1, message: 'the file is empty; expected YAML or JSON' }]);
  const json = /^\s*[{[]/u.test(text) ? parseJson(file, text) : undefined;
  if (json !== undefined) return { file, text, json: true, ...json, value: withoutEscapes(text, json.value) };
  const { value, events } = parseYaml(file, text);
  return { file, text, value: withoutEscapes(text, value), json: false, ...(text.length > MOST_KEPT ? {} : { events }) };
}

/** The value of JSON text; undefined where it is not JSON, but may be YAML in flow style. */
function parseJson(file: string, text: string): Pick<Source, 'value' | 'sideless'> | undefined {
  try {
    const value: unknown = JSON.parse(text);
    const { deeper, sideless } = surveyDocument(value, MAX_DEPTH);
    if (deeper) tooLarge(file, `nests deeper than ${MAX_DEPTH} levels`);
    if (text.length <= MOST_LOOKED) refuseTwice(file, text);
    return { value, sideless };
  } catch (error) {
    if (error instanceof InputFailure) throw error;
    return undefined;
  }
}

/** YAML refuses a key that stands twice, and so does this; of what is larger the last one counts, as parsers have it. */
const MOST_LOOKED = 4_000_000;

function refuseTwice(file: string, text: string): void {
  const twice = keyTwice(text);
  if (twice === undefined) return;
  const at = (offset: number): Position => {
    const before = text.slice(0, offset).split('\n');
    return { line: before.length, column: (before.at(-1) as string).length + 1 };
  };
  const first = at(twice.first);
  const message = `the key ${JSON.stringify(twice.key)} stands here a second time (first in line ${first.line}, column ${first.column}); keep one of them`;
  throw new InputFailure([{ file, ...at(twice.second), message }]);
}

function parseYaml(file: string, text: string): { value: unknown; events: readonly Event[] } {
  try {
    const events = parseEvents(text, { filename: file, maxDepth: MAX_DEPTH });
    const documents = constructFromEvents(events, { source: text, filename: file });
    if (documents.length > 1)
      throw new InputFailure([
        { file, message: `the file holds ${documents.length} YAML documents, and one was expected; split it up` },
      ]);
    if (events.some((e) => e.type === EVENT_ID.ALIAS)) guardSize(file, documents[0]);
    return { value: documents[0], events };
  } catch (error) {
    if (!(error instanceof YAMLException)) throw error;
    const message = `this is not YAML or JSON: ${error.reason.replace(/\s*\(\d+\)$/u, '')}; fix it there`;
    throw new InputFailure([{ file, line: (error.mark?.line ?? 0) + 1, column: (error.mark?.column ?? 0) + 1, message }]);
  }
}

/** Aliases share values, so a small file can stand for a huge one; such a file is refused before anything walks it. */
function guardSize(file: string, value: unknown): void {
  const sizes = new Map<object, number>();
  const size = (v: unknown): number => {
    if (typeof v !== 'object' || v === null) return 1;
    const known = sizes.get(v);
    if (known !== undefined) return known;
    // An alias to one of its own ancestors never ends.
    sizes.set(v, Number.POSITIVE_INFINITY);
    const total = Object.values(v).reduce<number>((sum, item) => sum + size(item), 1);
    if (total > MAX_VALUES) tooLarge(file, `stands for more than ${MAX_VALUES} values once its aliases are written out`);
    sizes.set(v, total);
    return total;
  };
  size(value);
}

function tooLarge(file: string, what: string): never {
  throw new InputFailure([{ file, message: `the file ${what}, which is the limit; make it smaller` }]);
}

/**
 * The positions of many pointers, found in one pass over the text: of a member its key, of an item its first character.
 * A pointer that leads nowhere (through an alias, say) gets the position of its nearest ancestor.
 */
export function locate(source: Source, pointers: Iterable<string>): ReadonlyMap<string, Position> {
  const root: Wanted = { pointers: [], children: new Map() };
  const all = [...new Set(pointers)];
  for (const pointer of all) wantedAt(root, pointerKeys(pointer)).pointers.push(pointer);
  const offsets = new Map<string, number>();
  try {
    if (source.json) findInJson(source.text, source.value, root, (wanted, at) => noteAll(wanted, at, offsets));
    else seek(source.text, source.events ?? parseEvents(source.text, { maxDepth: MAX_DEPTH + 50 }), root, offsets);
  } catch (error) {
    if (!(error instanceof YAMLException)) throw error;
  }
  const at = positionsOf(source.text, offsets.values());
  return new Map(all.map((p) => [p, at.get(offsets.get(p) ?? 0) ?? { line: 1, column: 1 }]));
}

function wantedAt(root: Wanted, keys: readonly string[]): Wanted {
  let at = root;
  for (const key of keys) {
    const next = at.children.get(key) ?? { pointers: [], children: new Map() };
    at.children.set(key, next);
    at = next;
  }
  return at;
}

function seek(text: string, events: readonly Event[], root: Wanted, offsets: Map<string, number>): void {
  /** Visits the node at `i`, notes what is wanted of it, and returns the index behind it. */
  const node = (i: number, wanted: Wanted | undefined, at: number): number => {
    const event = events[i] as Event;
    if (wanted !== undefined) noteAll(wanted, at, offsets);
    if (event.type === EVENT_ID.SEQUENCE) return items(i + 1, wanted);
    if (event.type === EVENT_ID.MAPPING) return members(i + 1, wanted);
    return i + 1;
  };
  const items = (from: number, wanted: Wanted | undefined): number => {
    let i = from;
    for (let n = 0; (events[i] as Event).type !== EVENT_ID.POP; n++) {
      i = node(i, wanted?.children.get(String(n)), startOf(events[i] as Event));
    }
    return i + 1;
  };
  const members = (from: number, wanted: Wanted | undefined): number => {
    let i = from;
    while ((events[i] as Event).type !== EVENT_ID.POP) {
      const key = events[i] as Event;
      const name = wanted !== undefined && key.type === EVENT_ID.SCALAR ? getScalarValue(text, key) : undefined;
      i = node(i, undefined, 0);
      i = node(i, name === undefined ? undefined : wanted?.children.get(name), startOf(key));
    }
    return i + 1;
  };
  const first = events.findIndex((e) => e.type !== EVENT_ID.DOCUMENT);
  if (first >= 0) node(first, root, startOf(events[first] as Event));
}

/** Everything below starts at this place too, until something nearer is found. */
function noteAll(wanted: Wanted, at: number, offsets: Map<string, number>): void {
  for (const pointer of wanted.pointers) offsets.set(pointer, at);
  for (const child of wanted.children.values()) noteAll(child, at, offsets);
}

function startOf(event: Event): number {
  switch (event.type) {
    case EVENT_ID.SCALAR: {
      const quoted = event.style === 2 || event.style === 3;
      return Math.max(0, quoted ? event.valueStart - 1 : event.valueStart);
    }
    case EVENT_ID.ALIAS:
      return event.anchorStart - 1;
    case EVENT_ID.SEQUENCE:
    case EVENT_ID.MAPPING:
      return event.start;
    default:
      return 0;
  }
}

/** Lines and columns, in characters, of many offsets: one pass over the text. */
function positionsOf(text: string, offsets: Iterable<number>): ReadonlyMap<number, Position> {
  const out = new Map<number, Position>();
  let [line, column, at] = [1, 1, 0];
  // Never looked for backwards: a text may be one line of megabytes.
  let next = text.indexOf('\n');
  for (const offset of [...new Set(offsets)].sort((a, b) => a - b)) {
    for (; next >= 0 && next < offset; next = text.indexOf('\n', at)) {
      line += 1;
      column = 1;
      at = next + 1;
    }
    for (; at < offset; at++) {
      // The second half of a character beyond U+FFFF is no column of its own.
      const code = text.charCodeAt(at);
      if (code < 0xdc00 || code > 0xdfff) column += 1;
    }
    out.set(offset, { line, column });
  }
  return out;
}
