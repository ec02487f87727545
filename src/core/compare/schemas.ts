/** Which part of a schema is to blame, and whole bodies that show it. */
import { isMapping, type Mapping } from '../json.ts';
import { below, pointerKeys } from '../place.ts';
import { fits, type Side } from '../schema/fits.ts';
import { flat } from '../schema/flat.ts';
import { type Answers, inside, newAnswers, type Verdict, valueIn } from '../schema/inside.ts';
import { type Keywords, NO_KEYWORDS, type Schema, target } from '../schema/node.ts';
import { sameText } from '../schema/same.ts';

/** The questions of one comparison, each asked once. */
export interface Memory {
  readonly verdicts: Map<Schema, Map<Schema, Map<string, Verdict>>>;
  readonly answers: Readonly<Record<Side, Answers>>;
  /** Pairs whose new properties were told: each is told where it is met first. */
  readonly told: Seen;
}

export function newMemory(): Memory {
  return {
    verdicts: new Map(),
    answers: { request: newAnswers(), response: newAnswers(), either: newAnswers() },
    told: new Map(),
  };
}

/** Is what `a`'s sender may send held by `b`? Remembered. */
export function decided(memory: Memory, a: Schema, b: Schema, side: Side): Verdict {
  const [x, y] = [target(a), target(b)];
  const row = memory.verdicts.get(x) ?? new Map<Schema, Map<string, Verdict>>();
  memory.verdicts.set(x, row);
  const cell = row.get(y) ?? new Map<string, Verdict>();
  row.set(y, cell);
  const known = cell.get(side);
  if (known !== undefined) return known;
  const verdict: Verdict = sameText(x, y) ? { kind: 'inside' } : inside(x, y, side, 'sent', memory.answers[side]);
  cell.set(side, verdict);
  return verdict;
}

/** Two schemas that stand at one place of a value, the sender's first. */
export interface Blamed {
  readonly sent: Schema;
  readonly taken: Schema;
  /** Into the body; items are `0`. */
  readonly pointer: string;
  readonly verdict: Exclude<Verdict, { kind: 'inside' }>;
}

/** How deep blame is followed. */
const MAX_DEPTH = 24;

/** The innermost pairs of schemas that are not inside each other; the pair itself where no part of it is to blame. */
export function blame(
  memory: Memory,
  sent: Schema,
  taken: Schema,
  side: Side,
  pointer = '',
  depth = 0,
  seen: Seen = new Map(),
): readonly Blamed[] {
  const verdict = decided(memory, sent, taken, side);
  if (verdict.kind === 'inside' || wasSeen(seen, target(sent), target(taken))) return [];
  const inner =
    depth > MAX_DEPTH || verdict.kind === 'undecided'
      ? []
      : parts(sent, taken).flatMap((p) =>
          blame(memory, p.sent, p.taken, side, below(pointer, ...pointerKeys(p.pointer)), depth + 1, seen),
        );
  if (inner.length === 0) return [{ sent: target(sent), taken: target(taken), pointer, verdict }];
  const own = ownVerdict(sent, taken, side);
  return own === undefined || own.kind === 'inside'
    ? inner
    : [{ sent: target(sent), taken: target(taken), pointer, verdict: own }, ...inner];
}

/** What an object wants besides its properties' values: that some are there, how many, and no others. */
function ownVerdict(sent: Schema, taken: Schema, side: Side): Verdict | undefined {
  const k = single(taken);
  if (
    k === undefined ||
    (k.required.length === 0 && k.minProperties === undefined && k.maxProperties === undefined && k.additional === undefined)
  )
    return undefined;
  const properties = new Map([...k.properties.keys()].map((name) => [name, ANYTHING]));
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    properties,
    required: k.required.filter((name) => !isReadOnly(k, name)),
    ...pickCounts(k),
  };
  return inside(sent, { place: taken.place, raw: taken.raw, keywords: () => keywords }, side);
}

const ANYTHING: Schema = { place: { file: '', pointer: '' }, raw: true, keywords: () => true };

function isReadOnly({ properties }: Keywords, name: string): boolean {
  const k = properties.get(name)?.keywords();
  return typeof k === 'object' && (k.readOnly || k.writeOnly);
}

function pickCounts({ minProperties, maxProperties, additional }: Keywords): Partial<Keywords> {
  return {
    ...(minProperties === undefined ? {} : { minProperties }),
    ...(maxProperties === undefined ? {} : { maxProperties }),
    ...(additional?.keywords() === false ? { additional } : {}),
  };
}

/** Pairs that were looked at: what is to blame is told where it is met first. */
export type Seen = Map<Schema, Set<Schema>>;

function wasSeen(seen: Seen, a: Schema, b: Schema): boolean {
  const row = seen.get(a) ?? new Set();
  seen.set(a, row);
  if (row.has(b)) return true;
  row.add(b);
  return false;
}

/** Properties of one name, and items. */
function parts(
  sent: Schema,
  taken: Schema,
): readonly { readonly sent: Schema; readonly taken: Schema; readonly pointer: string }[] {
  const [a, b] = [single(sent), single(taken)];
  if (a === undefined || b === undefined) return [];
  const properties = [...a.properties].flatMap(([name, schema]) => {
    const other = b.properties.get(name);
    return other === undefined ? [] : [{ sent: schema, taken: other, pointer: below('', name) }];
  });
  return a.items === undefined || b.items === undefined
    ? properties
    : [...properties, { sent: a.items, taken: b.items, pointer: '/0' }];
}

function single(schema: Schema): ReturnType<typeof flat>[number] | undefined {
  const ways = flat(schema, 2);
  return ways.length === 1 ? ways[0] : undefined;
}

/** A whole body in which the part stands, held against both; the witness of the whole where none can be put together. */
export function bodyWith(whole: Schema, other: Schema, part: Blamed, side: Side, fallback: unknown): unknown {
  if (part.verdict.kind !== 'outside') return fallback;
  const base = valueIn(whole, side);
  if (part.pointer === '' || base.kind !== 'witness') return part.pointer === '' ? part.verdict.witness : fallback;
  const body = placed(base.value, pointerKeys(part.pointer), part.verdict.witness, whole);
  return fits(whole, body, side, 'sent') && !fits(other, body, side, 'taken') ? body : fallback;
}

/** The value with a part of it replaced; what is missing on the way is made. */
function placed(value: unknown, keys: readonly string[], part: unknown, schema: Schema | undefined): unknown {
  const [key, ...rest] = keys;
  if (key === undefined) return part;
  const k = schema === undefined ? undefined : flat(schema, 1)[0];
  if (Array.isArray(value) || (k?.items !== undefined && key === '0' && !isMapping(value))) {
    const list = Array.isArray(value) ? value : [];
    return [placed(list[0] ?? made(k?.items), rest, part, k?.items), ...list.slice(1)];
  }
  const next = k?.properties.get(key);
  const old: Mapping = isMapping(value) ? value : {};
  return { ...old, [key]: placed(old[key] ?? made(next), rest, part, next) };
}

function made(schema: Schema | undefined): unknown {
  const found = schema === undefined ? undefined : valueIn(schema, 'either');
  return found?.kind === 'witness' ? found.value : {};
}

/** A property that could be read, and that can never come any more. */
export interface Loss {
  readonly pointer: string;
  readonly old: Schema;
  readonly new: Schema;
  readonly name: string;
  readonly required: boolean;
}

/** Pairs of which it was found that nothing is lost, however often they are met. */
const kept = new WeakMap<Schema, WeakSet<Schema>>();

/** What of the old schema's properties the new one can't send; below what is lost nothing else is told. */
export function losses(old: Schema, now: Schema, shared?: Seen): readonly Loss[] {
  const seen: Seen = shared ?? new Map();
  const lost = lossesIn(old, now, '', 0, seen);
  if (lost.length > 0 || shared !== undefined) return lost;
  for (const [a, others] of seen) for (const b of others) kept.set(a, (kept.get(a) ?? new WeakSet()).add(b));
  return lost;
}

function lossesIn(old: Schema, now: Schema, pointer = '', depth = 0, seen: Seen = new Map()): readonly Loss[] {
  const [a, b] = [target(old), target(now)];
  if (a === b || depth > MAX_DEPTH || kept.get(a)?.has(b) || wasSeen(seen, a, b) || sameText(a, b)) return [];
  const [was, is] = [flat(a, 16), flat(b, 16)];
  const lost: Loss[] = [];
  const names = new Map(was.flatMap((k) => [...k.properties]).filter(([, s]) => !unsent(s)));
  const open =
    is.some((k) => k.additional !== undefined && k.additional.keywords() !== false) ||
    is.every((k) => k.properties.size === 0 && k.required.length === 0 && k.types?.includes('object') !== false);
  for (const [name, schema] of names) {
    const others = is.flatMap((k) => k.properties.get(name) ?? []).filter((s) => !unsent(s) && s.keywords() !== false);
    const [other] = others;
    if (other === undefined) {
      const patterned = is.some((k) => [...k.patternProperties.keys()].some((p) => new RegExp(p, 'u').test(name)));
      if (!open && !patterned && is.some((k) => k.types === undefined || k.types.includes('object')))
        lost.push({ pointer: below(pointer, name), old: a, new: b, name, required: was.every((k) => k.required.includes(name)) });
    } else if (others.length === 1) lost.push(...lossesIn(schema, other, below(pointer, name), depth + 1, seen));
  }
  const [x, y] = [was.find((k) => k.items !== undefined)?.items, is.find((k) => k.items !== undefined)?.items];
  if (x !== undefined && y !== undefined) lost.push(...lossesIn(x, y, below(pointer, 0), depth + 1, seen));
  return lost;
}

function unsent(schema: Schema): boolean {
  const k = schema.keywords();
  return typeof k === 'object' && k.writeOnly;
}
