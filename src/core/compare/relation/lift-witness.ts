/** Whole bodies, put together from a part that shows something and the way to it. */

import type { Mapping } from '../../base/json.ts';
import { pointerKeys } from '../../base/place.ts';
import { isObviouslyInhabited } from '../../schema/equality/quick-nonempty.ts';
import { dereference, type Schema } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { declaredNamesOf } from '../../schema/normalise/declared-names.ts';
import type { SearchCache } from '../../schema/search/cache.ts';
import {
  type AssumedEmpty,
  cachedInhabitant,
  findBranchCounterexample,
  findValueAround,
  findValueWithSubvalue,
  isSubschema,
} from '../../schema/search/witness.ts';
import { embedSubvalue, soleSubschemaAt } from '../../schema/search/witness-template.ts';
import type { FailurePath, PathNode } from '../../schema/subschema/pair.ts';
import type { PairGraph } from '../../schema/subschema/pair-graph.ts';
import { isValid, validate } from '../../schema/validate/validate.ts';
import type { ContainmentFailure, NotShown, SideState } from './pair-flaw.ts';

/** Bodies that nest deeper are not put together. */
const MOST_STEPS = 200;

/** A flaw in a whole body; `cut`: the path is infeasible and was removed; ask again. */
export type LiftResult = { readonly value: unknown } | 'cut' | NotShown;

/** A part in a whole body that was held against both. */
export function liftWitness(direction: SideState, reached: FailurePath<ContainmentFailure>, side: Side): LiftResult {
  const { answers, web } = direction;
  const { localFailure } = reached.pair;
  const [root] = reached.path as [PathNode<ContainmentFailure>];
  if (localFailure?.kind !== 'counterexample') return { why: localFailure?.kind === 'undecided' ? localFailure.why : 'depth' };
  if (reached.pointers.length > MOST_STEPS) return { why: `more than ${MOST_STEPS} steps` };
  const found = embedAlongPath(answers, reached, localFailure.witness, side);
  if (found.kind === 'stuck') return pruneInfeasible(web, found, side, answers) ? 'cut' : blockedReason(found, side, answers);
  if (!found.isValidByConstruction && !isValid(root.a, found.value, side, 'producer'))
    return invalidReason(root.a, found.value, side);
  const shows = found.isRefutedByConstruction || !isValid(root.b, found.value, side, 'consumer');
  return shows ? found : liftThroughUnion(direction, reached, found.values, side);
}

/**
 * A value that another form of a union takes shows nothing of the whole. Where the union takes everything the way through
 * it is taken away, otherwise what it doesn't take is shown instead.
 */
function liftThroughUnion(
  { answers, web }: SideState,
  { path, pointers }: FailurePath<ContainmentFailure>,
  values: readonly unknown[],
  side: Side,
): LiftResult {
  const at = path.findLastIndex((spot, i) => i < pointers.length && isValid(spot.b, values[i], side, 'consumer'));
  const [union, to, pointer] = [path[at], path[at + 1], pointers[at]];
  const others: NotShown = {
    why: `other forms${pointers
      .slice(0, at)
      .join('')
      .replace(/^(?=.)/u, ' at ')}`,
  };
  if (union === undefined || to === undefined || pointer === undefined) return others;
  const verdict = isSubschema(union.a, union.b, side, 'producer', answers, assumeProven(web), 'full');
  if (verdict.kind === 'undecided') return verdict;
  if (verdict.kind === 'contained') {
    web.removeDependency(union, { pointer, to });
    web.recomputeFixedPoint();
    return 'cut';
  }
  const found = embedAlongPath(answers, { path: path.slice(0, at + 1), pointers: pointers.slice(0, at) }, verdict.witness, side);
  const [root] = path as [PathNode<ContainmentFailure>];
  if (found.kind === 'stuck') return blockedReason(found, side, answers);
  if (!isValid(root.a, found.value, side, 'producer')) return invalidReason(root.a, found.value, side);
  return isValid(root.b, found.value, side, 'consumer') ? others : found;
}

/** What is known to hold needs no second look. */
export function assumeProven(web: PairGraph<ContainmentFailure>): AssumedEmpty {
  return ({ pos, neg }) => {
    const [one, ...others] = pos;
    if (one === undefined || others.length > 0 || one.producerId === 0) return false;
    return neg.some((n) => web.find(one.schema, n)?.isRefuted === false);
  };
}

/** Takes away what no value can have, where a way ends because of that. */
export function pruneInfeasible<T>(
  web: PairGraph<T>,
  { at, to, pointer }: Blocked<T>,
  side: Side,
  answers: SearchCache,
): boolean {
  const idle = ({ a }: PathNode<T>): boolean => !isObviouslyInhabited(a) && cachedInhabitant(a, side, answers).kind === 'none';
  // Where one can't have a value, others can't either, and all of them are told at once.
  if (idle(at)) web.removeWhere(idle);
  else if (findValueWithSubvalue(at.a, pointer, to.a, side, answers).kind !== 'none') return false;
  else if (isRepresentativeName(at.a, pointer) && !idle(to)) return false;
  else web.removeDependency(at, { pointer, to });
  web.recomputeFixedPoint();
  return true;
}

/** A name that is not declared may be any of many, of which another may come. */
function isRepresentativeName(schema: Schema, pointer: string): boolean {
  const [key = '', ...more] = pointerKeys(pointer);
  return more.length > 0 || (!/^\d+$/u.test(key) && !declaredNamesOf(schema).names.has(key));
}

/** Of a way that ends, and was not taken away. */
export function blockedReason<T>({ at, to, pointer }: Blocked<T>, side: Side, answers: SearchCache): NotShown {
  const found = findValueWithSubvalue(at.a, pointer, to.a, side, answers);
  return { why: found.kind === 'undecided' ? found.why : 'depth' };
}

/** Of a value that no sender sends after all. */
export function invalidReason(schema: Schema, value: unknown, side: Side): NotShown {
  const [first] = validate(schema, value, side, 'producer');
  return { why: first === undefined ? 'oneOf' : `${first.keyword}${first.pointer === '' ? '' : ` at ${first.pointer}`}` };
}

interface Blocked<T> {
  readonly kind: 'stuck';
  readonly at: PathNode<T>;
  readonly to: PathNode<T>;
  readonly pointer: string;
}

type Embedding<T> =
  | {
      readonly kind: 'whole';
      readonly value: unknown;
      /** Those at each place of the way, the whole first. */
      readonly values: readonly unknown[];
      /** Nothing but the part decides whether the sender may send it. */
      readonly isValidByConstruction: boolean;
      /** What refuses the part refuses the whole. */
      readonly isRefutedByConstruction: boolean;
    }
  | Blocked<T>;

/** A whole value, from the value of a part and the way to it; or where that way ends. Not held against anything yet. */
export function embedAlongPath<T>(
  answers: SearchCache,
  { path, pointers }: Pick<FailurePath<T>, 'path' | 'pointers'>,
  part: unknown,
  side: Side,
): Embedding<T> {
  let value = part;
  const values = [part];
  let [held, refused] = [true, true];
  for (let i = pointers.length - 1; i >= 0; i--) {
    const pointer = pointers[i] as string;
    const [at, to] = [path[i] as PathNode<T>, path[i + 1] as PathNode<T>];
    if (pointer === '') {
      [held, refused] = [false, false];
      // What shows something of one form may be two of them.
      const tail = pointers.slice(i).join('');
      if (!isValid(at.a, value, side, 'producer')) {
        const end = path.at(-1) as PathNode<T>;
        const whole =
          tail === ''
            ? findBranchCounterexample(at.a, end.a, end.b, side, answers)
            : findValueAround(at.a, tail, part, side, answers);
        if (whole.kind === 'witness') value = whole.value;
      }
      values.unshift(value);
      continue;
    }
    const keys = pointerKeys(pointer);
    const framed = embedSubvalue(at.a, keys, value, side, answers);
    const isPlain = framed !== undefined && dereference(framed.own) === dereference(to.a);
    // What is the same text to both is plain to both.
    refused &&= 'flaw' in at ? isPart(at.b, keys, to.b, side) : isPlain;
    held &&= isPlain;
    const whole = framed ?? holding(at.a, keys, pointer, to.a, value, side, answers);
    if (whole === undefined) return { kind: 'stuck', at, to, pointer };
    value = whole.value;
    values.unshift(value);
  }
  return { kind: 'whole', value, values, isValidByConstruction: held, isRefutedByConstruction: refused };
}

/** Is what stands at these keys described by this one, and by nothing else? */
function isPart(schema: Schema, keys: readonly string[], part: Schema, side: Side): boolean {
  const own = soleSubschemaAt(schema, keys, side);
  return own !== undefined && dereference(own) === dereference(part);
}

/** A value that has this part where the pointer leads. */
function holding(
  schema: Schema,
  keys: readonly string[],
  pointer: string,
  to: Schema,
  part: unknown,
  side: Side,
  answers: SearchCache,
): { readonly value: unknown } | undefined {
  const found = findValueWithSubvalue(schema, pointer, to, side, answers);
  if (found.kind !== 'witness') return undefined;
  const value = replaced(found.value, keys, part);
  if (isValid(schema, value, side, 'producer')) return { value };
  // With this part it is no longer what it was: another form of a union, or two of them.
  const around = findValueAround(schema, pointer, part, side, answers);
  return { value: around.kind === 'witness' ? around.value : value };
}

function replaced(whole: unknown, [key, ...rest]: readonly string[], part: unknown): unknown {
  if (key === undefined) return part;
  if (Array.isArray(whole)) return whole.map((item, i) => (String(i) === key ? replaced(item, rest, part) : item));
  return { ...(whole as Mapping), [key]: replaced((whole as Mapping)[key], rest, part) };
}
