/** Parameters of one operation, old and new, as what is on the wire. */
import { brief } from '../../base/excerpt.ts';
import type { Operation, Parameter } from '../../contract/model/contract.ts';
import { separatorOf } from '../../contract/pairing/parameter-types.ts';
import { deserialize } from '../../contract/request/parse-values.ts';
import { usualText } from '../../language/example.ts';
import { isEmpty, subtract } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { sameMedia } from '../../media/media.ts';
import { isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { dereference, hasNoInPlaceApplicators, type Schema, TRUE_SCHEMA } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { describeSchemaText, languageOfSchema } from '../../schema/wire/text-language.ts';
import { type Affected, type Change, type ChangeDraft, newChange } from '../changes/change.ts';
import type { ChangeRuleId } from '../changes/rules/index.ts';
import { sameDefault } from '../relation/annotation-facts.ts';
import { losses } from '../relation/lost-properties.ts';
import { type ComparisonSession, containment } from '../relation/session.ts';

/** Path parameters are paired by where they stand, all others by name. */
export function parameterChanges(
  memory: ComparisonSession,
  old: Operation,
  now: Operation,
  at: Affected,
  request: () => Change['witness'],
): readonly ChangeDraft[] {
  const pairs = paired(old, now);
  const added = now.parameters.filter((p) => p.in !== 'path' && !pairs.some(([, b]) => b === p));
  return [
    ...pairs.flatMap(([a, b]) => (b === undefined ? removed(a, at) : changed(memory, a, b, at, request))),
    ...added.map((p): ChangeDraft => {
      const base = {
        ...newChange(
          at,
          p.required ? 'versions/parameter-required' : 'versions/parameter-added',
          p.required ? 'breaking' : 'compatible',
          undefined,
          p,
        ),
        parameter: named(p),
      };
      if (!p.required) return { ...base, message: `the ${p.in} parameter ${p.name} is new and may be left out` };
      return {
        ...base,
        message: `the ${p.in} parameter ${p.name} is new and required: old requests lack it`,
        advice: 'Make it optional, with a default.',
        witness: request(),
      };
    }),
  ];
}

function named(p: Parameter): Change['parameter'] {
  return { name: p.name, in: p.in };
}

function paired(old: Operation, now: Operation): readonly (readonly [Parameter, Parameter | undefined])[] {
  const order = (o: Operation): readonly string[] => [...o.path.matchAll(/\{([^{}/]+)\}/gu)].map((m) => m[1] as string);
  const [was, is] = [order(old), order(now)];
  return old.parameters.flatMap((p) => {
    if (p.in === 'path') {
      const name = is[was.indexOf(p.name)];
      const other = now.parameters.find((n) => n.in === 'path' && n.name === name);
      return other === undefined ? [] : [[p, other] as const];
    }
    const same = (n: Parameter): boolean =>
      n.in === p.in && (p.in === 'header' ? n.name.toLowerCase() === p.name.toLowerCase() : n.name === p.name);
    return [[p, now.parameters.find(same)] as const];
  });
}

function removed(p: Parameter, at: Affected): readonly ChangeDraft[] {
  return [
    {
      ...newChange(at, 'versions/parameter-removed', 'risky', p, undefined),
      parameter: named(p),
      message: `the ${p.in} parameter ${p.name} is gone: clients may keep sending it, and nothing happens`,
      advice: 'Keep it, deprecated, until clients no longer send it.',
    },
  ];
}

function changed(
  memory: ComparisonSession,
  a: Parameter,
  b: Parameter,
  at: Affected,
  request: () => Change['witness'],
): readonly ChangeDraft[] {
  const out: ChangeDraft[] = [];
  const add = (rule: ChangeRuleId, effect: Change['effect'], more: Partial<ChangeDraft>): void => {
    out.push({ ...newChange(at, rule, effect, a, b), parameter: named(b), ...more });
  };
  const what = `the ${b.in} parameter ${b.name}`;
  if (!a.required && b.required)
    add('versions/parameter-required', 'breaking', {
      message: `${what} is required now: old requests may lack it`,
      advice: 'Leave it optional, with a default.',
      witness: request(),
    });
  if (a.required && !b.required) add('versions/parameter-optional', 'compatible', { message: `${what} may be left out now` });
  if (isRewritten(a, b))
    add('versions/parameter-style', 'breaking', {
      message: `${what} is written in another way: ${writing(a)} became ${writing(b)}`,
      advice: 'Keep the style; take both for a while.',
      witness: request(),
    });
  else out.push(...typeChanges(memory, a, b, at, what));
  const same = a.schema !== undefined && b.schema !== undefined && isTextEqual(a.schema, b.schema);
  const [x, y] = same ? [undefined, undefined] : [defaultOf(a), defaultOf(b)];
  if (x === undefined && y !== undefined && !b.required)
    add('versions/default-added', 'compatible', {
      message: `${b.name} now has the default ${brief(y.value, 80)}; it had none`,
    });
  if (x !== undefined && !sameDefault(x.value, y?.value))
    add('versions/default-changed', 'risky', {
      message: `the default of ${b.name} was ${brief(x.value, 80)} and is ${y === undefined ? 'none' : brief(y.value, 80)} now`,
      advice: 'Keep the default; clients that leave it out get another answer.',
    });
  if (!a.deprecated && b.deprecated) add('versions/parameter-deprecated', 'compatible', { message: `${what} is deprecated now` });
  return out;
}

function writing({ style, explode, content }: Parameter): string {
  return content === undefined ? `${style} with explode: ${explode}` : content.type;
}

/** Does the same value stand in another text? */
function isRewritten(a: Parameter, b: Parameter): boolean {
  if (a.content !== undefined && b.content !== undefined) return !sameMedia(a.content.type, b.content.type);
  if (a.content !== undefined || b.content !== undefined) return true;
  if (isCompound(a) || isCompound(b)) return a.style !== b.style || a.explode !== b.explode;
  // These put something before a value that is neither a list nor an object.
  return a.style !== b.style && [a, b].some((p) => p.style === 'label' || p.style === 'matrix');
}

function isCompound({ schema }: Parameter): boolean {
  return (
    schema !== undefined && toDisjuncts(schema, 4).some((k) => k.types?.some((t) => t === 'array' || t === 'object') === true)
  );
}

function defaultOf({ schema }: Parameter): { readonly value: unknown } | undefined {
  return schema === undefined ? undefined : toDisjuncts(schema, 1)[0]?.default;
}

/** As texts where that can be told, as values otherwise. */
function typeChanges(memory: ComparisonSession, a: Parameter, b: Parameter, at: Affected, what: string): readonly ChangeDraft[] {
  const [old, now] = [schemaOf(a), schemaOf(b)];
  if (old === undefined || now === undefined) return [];
  if (isTextEqual(old, now) && a.style === b.style && a.explode === b.explode) return [];
  const drafts = typeDrafts(a, b, at, what, [describeSchemaText(old), describeSchemaText(now)]);
  const texts = decide(() => changedTexts(a, b, old, now));
  if (texts.decided && texts.value !== undefined) {
    const { gone, more } = texts.value;
    if (gone !== undefined) return [drafts.narrowed(deserialize(a, [gone])?.value ?? gone)];
    return more ? [drafts.widened('more is accepted')] : [];
  }
  const verdict = containment(memory, old, now, 'request');
  if (verdict.kind === 'counterexample') return [drafts.narrowed(verdict.witness)];
  if (verdict.kind === 'undecided') return [drafts.undecided(verdict.why)];
  const ignored = losses(memory.losses.request, old, now);
  if (ignored.length > 0) return ignored.map(({ name }) => drafts.ignored(name));
  const more = containment(memory, now, old, 'request');
  if (more.kind === 'undecided') return [{ ...drafts.widened('more may be accepted'), undecided: more.why }];
  return more.kind === 'contained' ? [] : [drafts.widened('more is accepted')];
}

/** A text that is no longer accepted, and whether others are now; undefined where texts do not tell. */
function changedTexts(
  a: Parameter,
  b: Parameter,
  old: Schema,
  now: Schema,
): { readonly gone: string | undefined; readonly more: boolean } | undefined {
  // In content a value is written as in a body, and a string is its own text.
  if (a.content !== undefined || (isString(old) && isString(now))) return undefined;
  const sent = languageOfSchema(old, separatorOf(a), 'producer');
  const [x, y] = [languageOfSchema(old, separatorOf(a)), languageOfSchema(now, separatorOf(b))];
  if (!sent.decided || !x.decided || !y.decided) return undefined;
  const gone = subtract(sent.value, y.value);
  return { gone: isEmpty(gone) ? undefined : usualText(gone), more: !isEmpty(subtract(y.value, x.value)) };
}

/** What can be said of a parameter whose type is another one now. */
function typeDrafts(
  a: Parameter,
  b: Parameter,
  at: Affected,
  what: string,
  [was, is]: readonly [string, string],
): Record<'narrowed', (value: unknown) => ChangeDraft> &
  Record<'widened' | 'undecided' | 'ignored', (text: string) => ChangeDraft> {
  const base = (rule: ChangeRuleId, effect: Change['effect']): ChangeDraft => ({
    ...newChange(at, rule, effect, a, b),
    parameter: named(b),
    value: '',
  });
  return {
    narrowed: (value) => ({
      ...base('versions/parameter-narrowed', 'breaking'),
      message: `${what} ${was === is ? 'accepts less than before' : `was ${was} and is ${is}`}: ${brief(value, 80)} is now rejected`,
      advice: 'Keep accepting what was documented.',
      witness: { kind: 'value', side: 'request', validUnder: 'old', invalidUnder: 'new', body: value },
    }),
    widened: (how) => ({
      ...base('versions/parameter-widened', 'compatible'),
      message: `${what} was ${was} and is ${is}: ${how}`,
    }),
    undecided: (reason) => ({
      ...base('versions/parameter-narrowed', 'undecided'),
      message: `whether all of what ${what} could be is still accepted could not be decided`,
      undecided: reason,
    }),
    ignored: (name) => ({
      ...base('versions/request-property-ignored', 'risky'),
      message: `clients may keep sending ${name} in ${what}, and it is no longer read`,
      advice: `Keep ${name} until clients no longer send it.`,
    }),
  };
}

function isString(schema: Schema): boolean {
  const k = dereference(schema).keywords();
  return typeof k === 'object' && k.types?.join() === 'string' && hasNoInPlaceApplicators(k);
}

/** Where nothing is said of a text, it may be any. */
function schemaOf({ schema, content }: Parameter): Schema | undefined {
  return schema ?? (content === undefined ? TRUE_SCHEMA : undefined);
}
