/** Headers of one answer, old and new, as the text that is on the wire (RFC 9110, 5.5). */
import { brief } from '../../base/excerpt.ts';
import type { Header, Response } from '../../contract/model/contract.ts';
import { deserialize } from '../../contract/request/parse-values.ts';
import { example } from '../../language/example.ts';
import { subtract } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { type Schema, TRUE_SCHEMA } from '../../schema/model/schema.ts';
import type { Containment } from '../../schema/search/witness.ts';
import { isValid } from '../../schema/validate/validate.ts';
import { languageOfSchema } from '../../schema/wire/text-language.ts';
import { type Affected, type Change, type ChangeDraft, newChange } from '../changes/change.ts';
import { type ComparisonSession, containment } from '../relation/session.ts';

/** Every header that clients could read has to come still, with values that they were told of. */
export function headerChanges(
  memory: ComparisonSession,
  was: Pick<Response, 'headers' | 'place'>,
  is: Pick<Response, 'headers' | 'place'>,
  at: Affected,
  request: () => Change['witness'],
): readonly ChangeDraft[] {
  const named = (list: readonly Header[], { name }: Header): Header | undefined =>
    list.find((h) => h.name.toLowerCase() === name.toLowerCase());
  const added = is.headers.filter((header) => named(was.headers, header) === undefined);
  const changed = was.headers.flatMap((header): readonly ChangeDraft[] => {
    const other = named(is.headers, header);
    if (other === undefined)
      return [
        {
          ...newChange(at, 'versions/response-header-lost', 'breaking', header, is),
          message: `the header ${header.name} is no longer returned`,
          advice: 'Keep sending it.',
          witness: request(),
        },
      ];
    const types = widened(memory, header, other, at);
    if (!header.required || other.required) return types;
    return [
      {
        ...newChange(at, 'versions/response-header-optional', 'breaking', header, other),
        message: `the header ${header.name} may be missing now`,
        advice: 'Keep sending it always.',
        witness: request(),
      },
      ...types,
    ];
  });
  return [
    ...changed,
    ...added.map(
      (header): ChangeDraft => ({
        ...newChange(at, 'versions/response-header-added', 'compatible', was, header),
        message: `the header ${header.name} may now be returned`,
      }),
    ),
  ];
}

function widened(memory: ComparisonSession, old: Header, now: Header, at: Affected): readonly ChangeDraft[] {
  // Where nothing is said of a text, it may be any.
  const [was, is] = [old.schema ?? TRUE_SCHEMA, now.schema ?? TRUE_SCHEMA];
  const verdict = heldAsText(was, is) ?? containment(memory, is, was, 'response');
  if (verdict.kind === 'contained') return [];
  const base = (effect: Change['effect']): ChangeDraft => newChange(at, 'versions/response-header-widened', effect, old, now);
  if (verdict.kind === 'undecided')
    return [
      {
        ...base('undecided'),
        message: `whether the header ${old.name} still is what clients were told could not be decided`,
        undecided: verdict.why,
      },
    ];
  return [
    {
      ...base('breaking'),
      message: `the header ${old.name} may be ${brief(verdict.witness, 80)} now`,
      advice: 'Send only what was documented.',
      witness: { kind: 'value', side: 'response', validUnder: 'new', invalidUnder: 'old', body: verdict.witness },
    },
  ];
}

/** Are all texts of the new one texts of the old? Undefined where that can't be told of texts. */
function heldAsText(old: Schema, now: Schema): Containment | undefined {
  if (isTextEqual(old, now)) return { kind: 'contained' };
  const found = decide(() => {
    const [was, is] = [languageOfSchema(old, ','), languageOfSchema(now, ',', 'producer')];
    return was.decided && is.decided ? { more: example(subtract(is.value, was.value)) } : undefined;
  });
  if (!found.decided || found.value === undefined) return undefined;
  const { more } = found.value;
  if (more === undefined) return { kind: 'contained' };
  const value = deserialize({ schema: now, style: 'simple', explode: false }, [more])?.value ?? more;
  // A list or an object in one text shows nothing that a validator could be asked.
  return isValid(now, value, 'response', 'producer') && !isValid(old, value, 'response', 'consumer')
    ? { kind: 'counterexample', witness: value }
    : undefined;
}
