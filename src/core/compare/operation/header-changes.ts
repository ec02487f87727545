/** Headers of one answer, old and new, as the text that is on the wire (RFC 9110, 5.5). */
import { brief } from '../../base/excerpt.ts';
import type { Header, Response } from '../../contract/model/contract.ts';
import { readValue } from '../../contract/request/parse-values.ts';
import { example } from '../../language/example.ts';
import { subtract } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { sameText } from '../../schema/equality/equal-pairs.ts';
import { ANYTHING, type Schema } from '../../schema/model/schema.ts';
import type { Verdict } from '../../schema/search/witness.ts';
import { fits } from '../../schema/validate/validate.ts';
import { textsOf } from '../../schema/wire/text-language.ts';
import { type Affected, type Change, type Made, plain } from '../changes/change.ts';
import { decided, type Memory } from '../relation/session.ts';

/** Every header that clients could read has to come still, with values that they were told of. */
export function headerChanges(
  memory: Memory,
  was: Pick<Response, 'headers' | 'place'>,
  is: Pick<Response, 'headers' | 'place'>,
  at: Affected,
  request: () => Change['witness'],
): readonly Made[] {
  const named = (list: readonly Header[], { name }: Header): Header | undefined =>
    list.find((h) => h.name.toLowerCase() === name.toLowerCase());
  const added = is.headers.filter((header) => named(was.headers, header) === undefined);
  const changed = was.headers.flatMap((header): readonly Made[] => {
    const other = named(is.headers, header);
    if (other === undefined)
      return [
        {
          ...plain(at, 'versions/response-header-lost', 'breaking', header, is),
          message: `the header ${header.name} is no longer returned`,
          advice: 'Keep sending it.',
          witness: request(),
        },
      ];
    const types = widened(memory, header, other, at);
    if (!header.required || other.required) return types;
    return [
      {
        ...plain(at, 'versions/response-header-optional', 'breaking', header, other),
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
      (header): Made => ({
        ...plain(at, 'versions/response-header-added', 'compatible', was, header),
        message: `the header ${header.name} may now be returned`,
      }),
    ),
  ];
}

function widened(memory: Memory, old: Header, now: Header, at: Affected): readonly Made[] {
  // Where nothing is said of a text, it may be any.
  const [was, is] = [old.schema ?? ANYTHING, now.schema ?? ANYTHING];
  const verdict = heldAsText(was, is) ?? decided(memory, is, was, 'response');
  if (verdict.kind === 'inside') return [];
  const base = (effect: Change['effect']): Made => plain(at, 'versions/response-header-widened', effect, old, now);
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
function heldAsText(old: Schema, now: Schema): Verdict | undefined {
  if (sameText(old, now)) return { kind: 'inside' };
  const found = decide(() => {
    const [was, is] = [textsOf(old, ','), textsOf(now, ',', 'sent')];
    return was.decided && is.decided ? { more: example(subtract(is.value, was.value)) } : undefined;
  });
  if (!found.decided || found.value === undefined) return undefined;
  const { more } = found.value;
  if (more === undefined) return { kind: 'inside' };
  const value = readValue({ schema: now, style: 'simple', explode: false }, [more])?.value ?? more;
  // A list or an object in one text shows nothing that a validator could be asked.
  return fits(now, value, 'response', 'sent') && !fits(old, value, 'response', 'taken')
    ? { kind: 'outside', witness: value }
    : undefined;
}
