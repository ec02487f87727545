/**
 * What can be seen at once of "is all that one schema's sender sends handled by another?": each thing that the taker says is
 * said by the sender too, part by part. Where it can't be seen the question is open, and the search for a value decides.
 */

import { below } from '../../base/place.ts';
import { sameProperties, sameText, stepsOf, twinOf } from '../equality/equal-pairs.ts';
import { isPlainScalar } from '../equality/quick-nonempty.ts';
import { type JsonType, type Keywords, type Schema, saysOnly, target } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isUnsent } from '../model/side-view.ts';
import { type Declared, declaredBeside, declaredBy, declaredNames, isShared } from '../normalise/declared-names.ts';
import { apart } from '../normalise/disjoint.ts';
import { sameForm } from '../normalise/union-view.ts';
import { freeName } from '../vocabulary/sample-names.ts';
import { samePart, sameTogether } from './equal-keywords.ts';
import { pairedForms } from './match-branches.ts';
import type { Step } from './pair.ts';
import { anyForm, formsWithin, oneForm } from './sender-branch.ts';
import { scalarsImplied } from './structural-scalars.ts';

/** More parts of one value than this are not held against each other. */
const MOST_PARTS = 200;
/** More forms of a `oneOf` than this are not told apart pair by pair. */
const MOST_FORMS = 400;

export interface Implied {
  /** Everything is said, given the steps. */
  readonly plain: boolean;
  readonly steps: readonly Step[];
}

/** Cost: linear in both, forms told apart pairwise. */
export function implied(a: Schema, b: Schema, side: Side): Implied {
  const twin = twinOf(a, b);
  if (!twin.differs) return { plain: true, steps: [] };
  if (twin.parts !== undefined) return { plain: true, steps: stepsOf(twin) };
  const [sent, taken] = [parts(a), parts(b)];
  if (sent === 'never' || taken === undefined || sent === undefined || taken === 'never')
    return { plain: sent === 'never', steps: [] };
  if (isPlainScalar(a) && isPlainScalar(b)) return { plain: taken.every((k) => scalarsImplied(sent, k)), steps: [] };
  const steps: Step[] = [];
  const at: Question = { a, b, side, sent, taken, steps, ...namesSent(a, sent) };
  // All of them, because what is found wrong with one doesn't end the others.
  const plain = taken.map((k) => [scalarsImplied(sent, k), objects(at, k), lists(at, k), combined(at, k)].every((ok) => ok));
  return { plain: plain.every((ok) => ok), steps };
}

interface Question {
  readonly a: Schema;
  readonly b: Schema;
  readonly side: Side;
  /** All that is said of the value by the sender, and by the taker. */
  readonly sent: readonly Keywords[];
  readonly taken: readonly Keywords[];
  readonly steps: Step[];
  /** The names that the sender declares. */
  readonly names: ReadonlySet<string>;
  /** Beside a `oneOf`, whose forms say what else may come. */
  readonly beside: Declared;
  /** Other names are never sent. */
  readonly closed: boolean;
  /** Names of which forms of the value say something, too. */
  readonly mixed: ReadonlySet<string>;
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

function namesSent(
  a: Schema,
  sent: readonly Keywords[],
): Pick<Question, 'names' | 'beside' | 'closed' | 'mixed' | 'unevaluated' | 'forms'> {
  const declared = declaredBy(a);
  const oneOf = formsWithin(sent);
  const forms = oneOf.length === 0 ? NOTHING : declaredNames(oneOf);
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
  const free = declared.names.size + declared.patterns.length === 0 && oneOf.some(isFree);
  const closed = !declared.open && !forms.open && patterns === 0 && names.size > 0 && !free;
  return { names, beside: declared, closed, mixed: described(some), unevaluated, forms: some.length > 0 };
}

/** The names of whose values forms say something, and not only that they have to be there. */
function described(forms: readonly Schema[]): ReadonlySet<string> {
  const out = new Set<string>();
  if (forms.length === 0) return out;
  declaredNames(forms, (s) => {
    const k = s.keywords();
    if (typeof k === 'object') for (const name of k.properties.keys()) out.add(name);
    return k;
  });
  return out;
}

const NOTHING = declaredNames([]);

/** What the sender says of a property. */
function valuesOf(sent: readonly Keywords[], name: string): readonly Schema[] {
  return sent.flatMap((k) => k.properties.get(name) ?? k.additional ?? []);
}

/** Is it no value of this type, whatever is said of those? */
function isNo(type: JsonType, sent: readonly Keywords[]): boolean {
  return sent.some(({ types }) => types !== undefined && !types.includes(type));
}

function objects(at: Question, b: Keywords): boolean {
  const { sent, side, names, closed } = at;
  if (isNo('object', sent)) return true;
  const [shared, written] = [sent.filter(isShared), sent.filter((k) => !isShared(k))];
  const isNever = (values: readonly Schema[]): boolean => values.some((s) => isUnsent(s, side) || saysOnly(s, false));
  const never = (name: string): boolean => isNever(valuesOf(sent, name));
  const plainNames = sent.every((k) => k.patternProperties.size === 0) && b.patternProperties.size === 0;
  let ok = plainNames || samePart(at, b, 'patternProperties');
  const hold = (name: string, taken: Schema): void => {
    const values = valuesOf(sent, name);
    if (values.some((s) => sameText(s, taken)) || saysOnly(taken, true) || isNever(values)) return;
    // What only other forms declare is no part of this one: the search tells.
    const [value, ...more] = shared.some((k) => k.properties.has(name)) ? [] : valuesOf(written, name);
    if (value === undefined && closed && !names.has(name)) return;
    if (value !== undefined && more.length === 0 && plainNames && !at.mixed.has(name) && !at.unevaluated)
      at.steps.push({ pointer: below('', name), a: value, b: taken });
    else ok = false;
  };
  for (const name of b.required) {
    const own = b.properties.get(name);
    if (own !== undefined && isUnsent(own, side)) continue;
    if (!sent.some((k) => k.required.includes(name)) || never(name)) ok = false;
  }
  const [one] = sent;
  const same = sent.length === 1 && one !== undefined ? sameProperties(one, b) : undefined;
  for (const [name, taken] of b.properties) {
    if (same?.has(name)) continue;
    if (!isUnsent(taken, side)) hold(name, taken);
    else if (b.additional !== undefined && !never(name) && (valuesOf(sent, name).length > 0 || !closed || names.has(name)))
      ok = false;
  }
  if (!additionalHeld(at, b, plainNames, hold)) ok = false;
  return ok && samePart(at, b, 'propertyNames') && samePart(at, b, 'dependentRequired') && samePart(at, b, 'dependentSchemas');
}

/** Names that the taker does not declare. */
function additionalHeld(
  { sent, names, closed, steps }: Question,
  b: Keywords,
  plainNames: boolean,
  hold: (name: string, taken: Schema) => void,
): boolean {
  const { additional } = b;
  if (additional === undefined || saysOnly(additional, true)) return true;
  if (!plainNames) return false;
  for (const name of names) if (!b.properties.has(name)) hold(name, additional);
  if (closed) return true;
  const others = sent.flatMap((k) => k.additional ?? []);
  if (others.some((s) => saysOnly(s, false) || sameText(s, additional))) return true;
  const [other, ...more] = others;
  if (other === undefined || more.length > 0 || sent.length > 1) return false;
  steps.push({ pointer: below('', freeName(names)), a: other, b: additional });
  return true;
}

function lists(at: Question, b: Keywords): boolean {
  if (isNo('array', at.sent)) return true;
  const same = b.contains === undefined || sameTogether(at, b, ['contains', 'minContains', 'maxContains']);
  if (b.items === undefined && b.prefixItems.length === 0) return same;
  const listed = at.sent.filter((k) => k.items !== undefined || k.prefixItems.length > 0);
  const [k, ...more] = listed;
  if (k === undefined || more.length > 0 || at.forms || at.unevaluated || k.prefixItems.length !== b.prefixItems.length)
    // What stands behind the first items depends on how many these are.
    return same && sameTogether(at, b, ['items', 'prefixItems']);
  k.prefixItems.forEach((s, i) => {
    at.steps.push({ pointer: `/${i}`, a: s, b: b.prefixItems[i] as Schema });
  });
  if (b.items === undefined) return same;
  if (k.items === undefined) return false;
  at.steps.push({ pointer: `/${b.prefixItems.length}`, a: k.items, b: b.items });
  return same;
}

/** Other schemas that are said of the same value. */
function combined(at: Question, b: Keywords): boolean {
  const conditional = b.if === undefined || sameTogether(at, b, ['if', 'then', 'else']);
  // What was looked at depends on everything beside these.
  if (b.unevaluatedItems !== undefined || b.unevaluatedProperties !== undefined) return false;
  return conditional && samePart(at, b, 'not') && anyOf(at, b) && oneOf(at, b);
}

export function anyOf(at: Question, b: Keywords): boolean {
  const { anyOf: forms } = b;
  if (forms === undefined || samePart(at, b, 'anyOf')) return true;
  const [k, ...more] = at.sent.filter((s) => s.anyOf !== undefined);
  if (k?.anyOf === undefined || more.length > 0 || at.sent.length > 1) return false;
  const asSent = anyForm(at.a, k.anyOf, at.side);
  if (asSent === undefined) return false;
  const pairs = pairedForms(k.anyOf, forms, at.b, at.side, asSent);
  for (const pair of pairs) at.steps.push({ pointer: '', ...pair });
  return pairs.length === k.anyOf.length;
}

/** A sender sends one form; a taker refuses what could be two. */
export function oneOf(at: Question, b: Keywords): boolean {
  const { oneOf: forms } = b;
  if (forms === undefined) return true;
  const [x, y] = [declaredBeside(at.sent, 'sender'), declaredBeside(at.taken, 'receiver')];
  // The more names stand beside the forms, the fewer values are one of them alone.
  if (!y.open && y.patterns.length === 0 && [...y.names].every((n) => x.names.has(n)) && samePart(at, b, 'oneOf')) return true;
  const [k, ...more] = at.sent.filter((s) => s.oneOf !== undefined);
  const { names, patterns, open } = at.beside;
  if (k?.oneOf === undefined || more.length > 0 || patterns.length + y.names.size + y.patterns.length > 0) return false;
  // Names that only other forms of the value declare make more of each of these, but of one that declares none less.
  const shared = declaredBeside(at.sent.filter(isShared), 'sender').names;
  if ([...names].some((n) => !shared.has(n)) || (names.size > 0 && k.oneOf.some(isFree))) return false;
  const pairs = pairedForms(k.oneOf, forms, at.b, at.side, oneForm(k.oneOf, x, at.side));
  for (const pair of pairs) at.steps.push({ pointer: '', ...pair });
  // More may come than a form declares.
  if (open || y.open || names.size > 0 || at.sent.length > 1 || pairs.length < k.oneOf.length) return false;
  const counted = k.oneOf.length === forms.length && pairs.every(({ a, b: form }) => sameForm(a, form));
  if (counted && new Set(pairs.map((p) => p.b)).size === forms.length) return true;
  if (forms.length > MOST_FORMS) return false;
  return !forms.some((f, i) => forms.slice(i + 1).some((g) => !apart(f, g, at.side)));
}

/** May it be an object of any names? */
function isFree(form: Schema): boolean {
  const k = target(form).keywords();
  const { names, patterns } = declaredBy(form);
  return names.size + patterns.length === 0 && (typeof k === 'boolean' || k.types?.includes('object') !== false);
}
