/** The names of the properties of objects that are looked for. */

import { partition } from '../../language/classify.ts';
import { ANY, repeat } from '../../language/expression.ts';
import { intersect, type Language, languageOf, subtract, union, wordLanguage } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import type { Keywords, Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { keywordsFor } from '../model/side-view.ts';
import { collectDeclaredNames, type DeclaredNames } from '../normalise/declared-names.ts';
import { patternLanguage } from '../vocabulary/patterns.ts';
import { SAMPLE_NAMES } from '../vocabulary/sample-names.ts';
import { languageOfSchema } from '../wire/text-language.ts';
import type { Disjunct, Solver } from './problem.ts';

/** What each sender declares. */
export function namesByProducer(way: Disjunct, { side }: Solver): ReadonlyMap<number, DeclaredNames> {
  const groups = new Map<number, Schema[]>();
  for (const { producerId: group, schema } of way.declarers) groups.set(group, [...(groups.get(group) ?? []), schema]);
  return new Map(
    [...groups].map(([group, schemas]) => {
      const d = namesSent(schemas, side);
      // Where nothing is declared, anything may be sent.
      return [group, { ...d, allowsOthers: d.allowsOthers || (d.names.size === 0 && d.patterns.length === 0) }];
    }),
  );
}

const producerNamesCache = new WeakMap<Schema, Map<Side, DeclaredNames>>();

/** Remembered where one schema alone says it. */
function namesSent(schemas: readonly Schema[], side: Side): DeclaredNames {
  const [first, ...more] = schemas;
  if (first === undefined || more.length > 0) return collectDeclaredNames(schemas, (s) => keywordsFor(s, side, 'producer'));
  const row = producerNamesCache.get(first) ?? new Map<Side, DeclaredNames>();
  producerNamesCache.set(first, row);
  const found = row.get(side) ?? collectDeclaredNames(schemas, (s) => keywordsFor(s, side, 'producer'));
  row.set(side, found);
  return found;
}

/**
 * Names that the schemas of this way know or that are spoken for, and one more for each class of other names: names that
 * the same patterns match are one class, so that no name that could matter is missing. Undefined where a pattern can't be
 * read.
 */
export function candidateNames(
  way: Disjunct,
  also: Keywords,
  declared: ReadonlyMap<number, DeclaredNames>,
  spoken: Iterable<string>,
): readonly string[] | undefined {
  const all = [...way.pos, ...way.broken, { k: also }].map(({ k }) => k);
  const known = new Set(
    all.flatMap(({ properties, required, dependentRequired }) => [
      ...properties.keys(),
      ...required,
      ...dependentRequired.keys(),
      ...[...dependentRequired.values()].flat(),
    ]),
  );
  // A branch that is not taken declares its names too, and what has to be there may be all there is.
  for (const names of [way.present, spoken, ...[...declared.values()].map((d) => d.names)])
    for (const name of names) known.add(name);
  const senders = [...declared.values()].flatMap((d) => d.patterns);
  if (senders.length === 0 && !all.some((k) => k.patternProperties.size > 0 || k.propertyNames !== undefined))
    return [...known, SAMPLE_NAMES.find((name) => !known.has(name)) ?? numbered(known)];
  const made = decide(() => {
    const dividing = [
      ...[...all.flatMap((k) => [...k.patternProperties.keys()]), ...senders].map(patternLanguage),
      ...all.flatMap((k) => (k.propertyNames === undefined ? [] : [namesOf(k.propertyNames)])),
    ];
    if (dividing.some((l) => l === undefined)) return undefined;
    let others = languageOf(repeat(ANY));
    for (const { k } of way.pos)
      if (k.propertyNames !== undefined) others = intersect(others, namesOf(k.propertyNames) as Language);
    if (known.size > 0) others = subtract(others, union([...known].map(wordLanguage)));
    return partition(others, [...new Set(dividing)] as Language[], SAMPLE_NAMES).map((c) => c.text);
  });
  return made.decided && made.value !== undefined ? [...known, ...made.value] : undefined;
}

function numbered(known: ReadonlySet<string>): string {
  for (let n = 2; ; n++) if (!known.has(`extra${n}`)) return `extra${n}`;
}

function namesOf(schema: Schema): Language | undefined {
  const texts = languageOfSchema(schema, ',');
  return texts.decided ? texts.value : undefined;
}
