/** Whole bodies, put together from a part that shows something and the way to it. */

import type { Mapping } from '../../base/json.ts';
import { pointerKeys } from '../../base/place.ts';
import { holdsSome } from '../../schema/equality/quick-nonempty.ts';
import { type Schema, target } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { declaredBy } from '../../schema/normalise/declared-names.ts';
import type { Answers } from '../../schema/search/cache.ts';
import { type Given, inside, keptValue, valueAround, valueWith, valueWithin } from '../../schema/search/witness.ts';
import { framedIn, plainPart } from '../../schema/search/witness-template.ts';
import type { Reached, Spot } from '../../schema/subschema/pair.ts';
import type { Web } from '../../schema/subschema/pair-graph.ts';
import { fits, misfits } from '../../schema/validate/validate.ts';
import type { Direction, Flaw, Stopped } from './pair-flaw.ts';

/** Bodies that nest deeper are not put together. */
const MOST_STEPS = 200;

/** A flaw in a whole body; `cut` when the way to it turned out to be none, and was taken away. */
export type Lifted = { readonly value: unknown } | 'cut' | Stopped;

/** A part in a whole body that was held against both. */
export function lifted(direction: Direction, reached: Reached<Flaw>, side: Side): Lifted {
  const { answers, web } = direction;
  const { flaw } = reached.pair;
  const [root] = reached.path as [Spot<Flaw>];
  if (flaw?.kind !== 'outside') return { why: flaw?.kind === 'undecided' ? flaw.why : 'depth' };
  if (reached.pointers.length > MOST_STEPS) return { why: `more than ${MOST_STEPS} steps` };
  const found = wholeWith(answers, reached, flaw.witness, side);
  if (found.kind === 'stuck') return wasCut(web, found, side, answers) ? 'cut' : whyStuck(found, side, answers);
  if (!found.held && !fits(root.a, found.value, side, 'sent')) return whyUnsent(root.a, found.value, side);
  const shows = found.refused || !fits(root.b, found.value, side, 'taken');
  return shows ? found : unabsorbed(direction, reached, found.values, side);
}

/**
 * A value that another form of a union takes shows nothing of the whole. Where the union takes everything the way through
 * it is taken away, otherwise what it doesn't take is shown instead.
 */
function unabsorbed(
  { answers, web }: Direction,
  { path, pointers }: Reached<Flaw>,
  values: readonly unknown[],
  side: Side,
): Lifted {
  const at = path.findLastIndex((spot, i) => i < pointers.length && fits(spot.b, values[i], side, 'taken'));
  const [union, to, pointer] = [path[at], path[at + 1], pointers[at]];
  const others: Stopped = {
    why: `other forms${pointers
      .slice(0, at)
      .join('')
      .replace(/^(?=.)/u, ' at ')}`,
  };
  if (union === undefined || to === undefined || pointer === undefined) return others;
  const verdict = inside(union.a, union.b, side, 'sent', answers, soundIn(web), 'full');
  if (verdict.kind === 'undecided') return verdict;
  if (verdict.kind === 'inside') {
    web.cut(union, { pointer, to });
    web.settle();
    return 'cut';
  }
  const found = wholeWith(answers, { path: path.slice(0, at + 1), pointers: pointers.slice(0, at) }, verdict.witness, side);
  const [root] = path as [Spot<Flaw>];
  if (found.kind === 'stuck') return whyStuck(found, side, answers);
  if (!fits(root.a, found.value, side, 'sent')) return whyUnsent(root.a, found.value, side);
  return fits(root.b, found.value, side, 'taken') ? others : found;
}

/** What is known to hold needs no second look. */
export function soundIn(web: Web<Flaw>): Given {
  return ({ pos, neg }) => {
    const [one, ...others] = pos;
    if (one === undefined || others.length > 0 || one.group === 0) return false;
    return neg.some((n) => web.known(one.schema, n)?.fails === false);
  };
}

/** Takes away what no value can have, where a way ends because of that. */
export function wasCut<T>(web: Web<T>, { at, to, pointer }: Stuck<T>, side: Side, answers: Answers): boolean {
  const idle = ({ a }: Spot<T>): boolean => !holdsSome(a) && keptValue(a, side, answers).kind === 'none';
  // Where one can't have a value, others can't either, and all of them are told at once.
  if (idle(at)) web.cutWhere(idle);
  else if (valueWith(at.a, pointer, to.a, side, answers).kind !== 'none') return false;
  else if (standsForOthers(at.a, pointer) && !idle(to)) return false;
  else web.cut(at, { pointer, to });
  web.settle();
  return true;
}

/** A name that is not declared may be any of many, of which another may come. */
function standsForOthers(schema: Schema, pointer: string): boolean {
  const [key = '', ...more] = pointerKeys(pointer);
  return more.length > 0 || (!/^\d+$/u.test(key) && !declaredBy(schema).names.has(key));
}

/** Of a way that ends, and was not taken away. */
export function whyStuck<T>({ at, to, pointer }: Stuck<T>, side: Side, answers: Answers): Stopped {
  const found = valueWith(at.a, pointer, to.a, side, answers);
  return { why: found.kind === 'undecided' ? found.why : 'depth' };
}

/** Of a value that no sender sends after all. */
export function whyUnsent(schema: Schema, value: unknown, side: Side): Stopped {
  const [first] = misfits(schema, value, side, 'sent');
  return { why: first === undefined ? 'oneOf' : `${first.keyword}${first.pointer === '' ? '' : ` at ${first.pointer}`}` };
}

interface Stuck<T> {
  readonly kind: 'stuck';
  readonly at: Spot<T>;
  readonly to: Spot<T>;
  readonly pointer: string;
}

type Whole<T> =
  | {
      readonly kind: 'whole';
      readonly value: unknown;
      /** Those at each place of the way, the whole first. */
      readonly values: readonly unknown[];
      /** Nothing but the part decides whether the sender may send it. */
      readonly held: boolean;
      /** What refuses the part refuses the whole. */
      readonly refused: boolean;
    }
  | Stuck<T>;

/** A whole value, from the value of a part and the way to it; or where that way ends. Not held against anything yet. */
export function wholeWith<T>(
  answers: Answers,
  { path, pointers }: Pick<Reached<T>, 'path' | 'pointers'>,
  part: unknown,
  side: Side,
): Whole<T> {
  let value = part;
  const values = [part];
  let [held, refused] = [true, true];
  for (let i = pointers.length - 1; i >= 0; i--) {
    const pointer = pointers[i] as string;
    const [at, to] = [path[i] as Spot<T>, path[i + 1] as Spot<T>];
    if (pointer === '') {
      [held, refused] = [false, false];
      // What shows something of one form may be two of them.
      const tail = pointers.slice(i).join('');
      if (!fits(at.a, value, side, 'sent')) {
        const end = path.at(-1) as Spot<T>;
        const whole = tail === '' ? valueWithin(at.a, end.a, end.b, side, answers) : valueAround(at.a, tail, part, side, answers);
        if (whole.kind === 'witness') value = whole.value;
      }
      values.unshift(value);
      continue;
    }
    const keys = pointerKeys(pointer);
    const framed = framedIn(at.a, keys, value, side, answers);
    const isPlain = framed !== undefined && target(framed.own) === target(to.a);
    // What is the same text to both is plain to both.
    refused &&= 'flaw' in at ? isPart(at.b, keys, to.b, side) : isPlain;
    held &&= isPlain;
    const whole = framed ?? holding(at.a, keys, pointer, to.a, value, side, answers);
    if (whole === undefined) return { kind: 'stuck', at, to, pointer };
    value = whole.value;
    values.unshift(value);
  }
  return { kind: 'whole', value, values, held, refused };
}

/** Is what stands at these keys described by this one, and by nothing else? */
function isPart(schema: Schema, keys: readonly string[], part: Schema, side: Side): boolean {
  const own = plainPart(schema, keys, side);
  return own !== undefined && target(own) === target(part);
}

/** A value that has this part where the pointer leads. */
function holding(
  schema: Schema,
  keys: readonly string[],
  pointer: string,
  to: Schema,
  part: unknown,
  side: Side,
  answers: Answers,
): { readonly value: unknown } | undefined {
  const found = valueWith(schema, pointer, to, side, answers);
  if (found.kind !== 'witness') return undefined;
  const value = replaced(found.value, keys, part);
  if (fits(schema, value, side, 'sent')) return { value };
  // With this part it is no longer what it was: another form of a union, or two of them.
  const around = valueAround(schema, pointer, part, side, answers);
  return { value: around.kind === 'witness' ? around.value : value };
}

function replaced(whole: unknown, [key, ...rest]: readonly string[], part: unknown): unknown {
  if (key === undefined) return part;
  if (Array.isArray(whole)) return whole.map((item, i) => (String(i) === key ? replaced(item, rest, part) : item));
  return { ...(whole as Mapping), [key]: replaced((whole as Mapping)[key], rest, part) };
}
