/**
 * What can be seen at once of "is all that one schema's sender sends handled by another?": each thing that the taker says is
 * said by the sender too, part by part. Where it can't be seen the question is open, and the search for a value decides.
 */

import { appendPointer } from '../../base/place.ts';
import { childPairs, compareText, isTextEqual, textEqualProperties } from '../equality/equal-pairs.ts';
import { isSimpleScalar } from '../equality/quick-nonempty.ts';
import { dereference, isBooleanSchema, type JsonType, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isExcludedFrom } from '../model/side-view.ts';
import {
  collectDeclaredNames,
  type DeclaredNames,
  declaredNamesOf,
  isBranchNames,
  siblingNames,
} from '../normalise/declared-names.ts';
import { isObviouslyDisjoint } from '../normalise/disjoint.ts';
import { isSameBranchText } from '../normalise/union-view.ts';
import { freshName } from '../vocabulary/sample-names.ts';
import { hasEqualKeyword, hasEqualKeywords } from './equal-keywords.ts';
import { matchBranches } from './match-branches.ts';
import type { Dependency } from './pair.ts';
import { nestedOneOfBranches, producerBranchOfAnyOf, producerBranchOfOneOf } from './sender-branch.ts';
import { scalarsImplied } from './structural-scalars.ts';

/** More parts of one value than this are not held against each other. */
const MOST_PARTS = 200;
/** More forms of a `oneOf` than this are not told apart pair by pair. */
const MOST_FORMS = 400;

export interface StructuralResult {
  /** Everything is said, given the steps. */
  readonly plain: boolean;
  readonly steps: readonly Dependency[];
}

/** Cost: linear in both, forms told apart pairwise. */
export function checkStructurally(a: Schema, b: Schema, side: Side): StructuralResult {
  const twin = compareText(a, b);
  if (!twin.differs) return { plain: true, steps: [] };
  if (twin.differingChildren !== undefined) return { plain: true, steps: childPairs(twin) };
  const [sent, taken] = [parts(a), parts(b)];
  if (sent === 'never' || taken === undefined || sent === undefined || taken === 'never')
    return { plain: sent === 'never', steps: [] };
  if (isSimpleScalar(a) && isSimpleScalar(b)) return { plain: taken.every((k) => scalarsImplied(sent, k)), steps: [] };
  const steps: Dependency[] = [];
  const at: StructuralGoal = { a, b, side, sent, taken, steps, ...producerNames(a, sent) };
  // All of them, because what is found wrong with one doesn't end the others.
  const plain = taken.map((k) => [scalarsImplied(sent, k), objects(at, k), lists(at, k), combined(at, k)].every((ok) => ok));
  return { plain: plain.every((ok) => ok), steps };
}

interface StructuralGoal {
  readonly a: Schema;
  readonly b: Schema;
  readonly side: Side;
  /** All that is said of the value by the sender, and by the taker. */
  readonly sent: readonly Keywords[];
  readonly taken: readonly Keywords[];
  readonly steps: Dependency[];
  /** The names that the sender declares. */
  readonly names: ReadonlySet<string>;
  /** Beside a `oneOf`, whose forms say what else may come. */
  readonly beside: DeclaredNames;
  /** Other names are never sent. */
  readonly isClosed: boolean;
  /** Names of which forms of the value say something, too. */
  readonly branchDescribedNames: ReadonlySet<string>;
  /** The sender says something of what nothing else looks at. */
  readonly unevaluated: boolean;
  /** The sender has forms. */
  readonly forms: boolean;
}

/** What is said of one value, references and `allOf` followed. */
function parts(schema: Schema): readonly Keywords[] | 'never' | undefined {
  const out: Keywords[] = [];
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = s.keywords();
    if (k === false) return 'never';
    if (k === true) continue;
    out.push(k);
    if (k.ref !== undefined) seen.add(k.ref);
    for (const part of k.allOf) seen.add(part);
    if (seen.size > MOST_PARTS) return undefined;
  }
  return out;
}

function producerNames(
  a: Schema,
  sent: readonly Keywords[],
): Pick<StructuralGoal, 'names' | 'beside' | 'isClosed' | 'branchDescribedNames' | 'unevaluated' | 'forms'> {
  const declared = declaredNamesOf(a);
  const oneOf = nestedOneOfBranches(sent);
  const forms = oneOf.length === 0 ? NOTHING : collectDeclaredNames(oneOf);
  const some = sent.flatMap((k) => [
    ...oneOf,
    ...(k.anyOf ?? []),
    ...[k.if, k.then, k.else].filter((s) => s !== undefined),
    ...k.dependentSchemas.values(),
  ]);
  const unevaluated = sent.some((k) => k.unevaluatedProperties !== undefined || k.unevaluatedItems !== undefined);
  const names = new Set([...declared.names, ...forms.names]);
  const patterns = declared.patterns.length + forms.patterns.length;
  // Who means a form that declares nothing, and has nothing declared beside it, may send anything.
  const free = declared.names.size + declared.patterns.length === 0 && oneOf.some(admitsAnyNames);
  const closed = !declared.allowsOthers && !forms.allowsOthers && patterns === 0 && names.size > 0 && !free;
  return {
    names,
    beside: declared,
    isClosed: closed,
    branchDescribedNames: described(some),
    unevaluated,
    forms: some.length > 0,
  };
}

/** The names of whose values forms say something, and not only that they have to be there. */
function described(forms: readonly Schema[]): ReadonlySet<string> {
  const out = new Set<string>();
  if (forms.length === 0) return out;
  collectDeclaredNames(forms, (s) => {
    const k = s.keywords();
    if (typeof k === 'object') for (const name of k.properties.keys()) out.add(name);
    return k;
  });
  return out;
}

const NOTHING = collectDeclaredNames([]);

/** What the sender says of a property. */
function valuesOf(sent: readonly Keywords[], name: string): readonly Schema[] {
  return sent.flatMap((k) => k.properties.get(name) ?? k.additional ?? []);
}

/** Is it no value of this type, whatever is said of those? */
function excludesType(type: JsonType, sent: readonly Keywords[]): boolean {
  return sent.some(({ types }) => types !== undefined && !types.includes(type));
}

function objects(at: StructuralGoal, b: Keywords): boolean {
  const { sent, side, names, isClosed } = at;
  if (excludesType('object', sent)) return true;
  const [shared, written] = [sent.filter(isBranchNames), sent.filter((k) => !isBranchNames(k))];
  const isNever = (values: readonly Schema[]): boolean =>
    values.some((s) => isExcludedFrom(s, side) || isBooleanSchema(s, false));
  const never = (name: string): boolean => isNever(valuesOf(sent, name));
  const plainNames = sent.every((k) => k.patternProperties.size === 0) && b.patternProperties.size === 0;
  let ok = plainNames || hasEqualKeyword(at, b, 'patternProperties');
  const hold = (name: string, taken: Schema): void => {
    const values = valuesOf(sent, name);
    if (values.some((s) => isTextEqual(s, taken)) || isBooleanSchema(taken, true) || isNever(values)) return;
    // What only other forms declare is no part of this one: the search tells.
    const [value, ...more] = shared.some((k) => k.properties.has(name)) ? [] : valuesOf(written, name);
    if (value === undefined && isClosed && !names.has(name)) return;
    if (value !== undefined && more.length === 0 && plainNames && !at.branchDescribedNames.has(name) && !at.unevaluated)
      at.steps.push({ pointer: appendPointer('', name), a: value, b: taken });
    else ok = false;
  };
  for (const name of b.required) {
    const own = b.properties.get(name);
    if (own !== undefined && isExcludedFrom(own, side)) continue;
    if (!sent.some((k) => k.required.includes(name)) || never(name)) ok = false;
  }
  const [one] = sent;
  const same = sent.length === 1 && one !== undefined ? textEqualProperties(one, b) : undefined;
  for (const [name, taken] of b.properties) {
    if (same?.has(name)) continue;
    if (!isExcludedFrom(taken, side)) hold(name, taken);
    else if (b.additional !== undefined && !never(name) && (valuesOf(sent, name).length > 0 || !isClosed || names.has(name)))
      ok = false;
  }
  if (!additionalHeld(at, b, plainNames, hold)) ok = false;
  return (
    ok &&
    hasEqualKeyword(at, b, 'propertyNames') &&
    hasEqualKeyword(at, b, 'dependentRequired') &&
    hasEqualKeyword(at, b, 'dependentSchemas')
  );
}

/** Names that the taker does not declare. */
function additionalHeld(
  { sent, names, isClosed, steps }: StructuralGoal,
  b: Keywords,
  plainNames: boolean,
  hold: (name: string, taken: Schema) => void,
): boolean {
  const { additional } = b;
  if (additional === undefined || isBooleanSchema(additional, true)) return true;
  if (!plainNames) return false;
  for (const name of names) if (!b.properties.has(name)) hold(name, additional);
  if (isClosed) return true;
  const others = sent.flatMap((k) => k.additional ?? []);
  if (others.some((s) => isBooleanSchema(s, false) || isTextEqual(s, additional))) return true;
  const [other, ...more] = others;
  if (other === undefined || more.length > 0 || sent.length > 1) return false;
  steps.push({ pointer: appendPointer('', freshName(names)), a: other, b: additional });
  return true;
}

function lists(at: StructuralGoal, b: Keywords): boolean {
  if (excludesType('array', at.sent)) return true;
  const same = b.contains === undefined || hasEqualKeywords(at, b, ['contains', 'minContains', 'maxContains']);
  if (b.items === undefined && b.prefixItems.length === 0) return same;
  const listed = at.sent.filter((k) => k.items !== undefined || k.prefixItems.length > 0);
  const [k, ...more] = listed;
  if (k === undefined || more.length > 0 || at.forms || at.unevaluated || k.prefixItems.length !== b.prefixItems.length)
    // What stands behind the first items depends on how many these are.
    return same && hasEqualKeywords(at, b, ['items', 'prefixItems']);
  k.prefixItems.forEach((s, i) => {
    at.steps.push({ pointer: `/${i}`, a: s, b: b.prefixItems[i] as Schema });
  });
  if (b.items === undefined) return same;
  if (k.items === undefined) return false;
  at.steps.push({ pointer: `/${b.prefixItems.length}`, a: k.items, b: b.items });
  return same;
}

/** Other schemas that are said of the same value. */
function combined(at: StructuralGoal, b: Keywords): boolean {
  const conditional = b.if === undefined || hasEqualKeywords(at, b, ['if', 'then', 'else']);
  // What was looked at depends on everything beside these.
  if (b.unevaluatedItems !== undefined || b.unevaluatedProperties !== undefined) return false;
  return conditional && hasEqualKeyword(at, b, 'not') && anyOf(at, b) && oneOf(at, b);
}

export function anyOf(at: StructuralGoal, b: Keywords): boolean {
  const { anyOf: forms } = b;
  if (forms === undefined || hasEqualKeyword(at, b, 'anyOf')) return true;
  const [k, ...more] = at.sent.filter((s) => s.anyOf !== undefined);
  if (k?.anyOf === undefined || more.length > 0 || at.sent.length > 1) return false;
  const asSent = producerBranchOfAnyOf(at.a, k.anyOf, at.side);
  if (asSent === undefined) return false;
  const pairs = matchBranches(k.anyOf, forms, at.b, at.side, asSent);
  for (const pair of pairs) at.steps.push({ pointer: '', ...pair });
  return pairs.length === k.anyOf.length;
}

/** A sender sends one form; a taker refuses what could be two. */
export function oneOf(at: StructuralGoal, b: Keywords): boolean {
  const { oneOf: forms } = b;
  if (forms === undefined) return true;
  const [x, y] = [siblingNames(at.sent, 'producer'), siblingNames(at.taken, 'consumer')];
  // The more names stand beside the forms, the fewer values are one of them alone.
  if (!y.allowsOthers && y.patterns.length === 0 && [...y.names].every((n) => x.names.has(n)) && hasEqualKeyword(at, b, 'oneOf'))
    return true;
  const [k, ...more] = at.sent.filter((s) => s.oneOf !== undefined);
  const { names, patterns, allowsOthers } = at.beside;
  if (k?.oneOf === undefined || more.length > 0 || patterns.length + y.names.size + y.patterns.length > 0) return false;
  // Names that only other forms of the value declare make more of each of these, but of one that declares none less.
  const shared = siblingNames(at.sent.filter(isBranchNames), 'producer').names;
  if ([...names].some((n) => !shared.has(n)) || (names.size > 0 && k.oneOf.some(admitsAnyNames))) return false;
  const pairs = matchBranches(k.oneOf, forms, at.b, at.side, producerBranchOfOneOf(k.oneOf, x, at.side));
  for (const pair of pairs) at.steps.push({ pointer: '', ...pair });
  // More may come than a form declares.
  if (allowsOthers || y.allowsOthers || names.size > 0 || at.sent.length > 1 || pairs.length < k.oneOf.length) return false;
  const counted = k.oneOf.length === forms.length && pairs.every(({ a, b: form }) => isSameBranchText(a, form));
  if (counted && new Set(pairs.map((p) => p.b)).size === forms.length) return true;
  if (forms.length > MOST_FORMS) return false;
  return !forms.some((f, i) => forms.slice(i + 1).some((g) => !isObviouslyDisjoint(f, g, at.side)));
}

/** May it be an object of any names? */
function admitsAnyNames(form: Schema): boolean {
  const k = dereference(form).keywords();
  const { names, patterns } = declaredNamesOf(form);
  return names.size + patterns.length === 0 && (typeof k === 'boolean' || k.types?.includes('object') !== false);
}
