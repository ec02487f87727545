/** The type of a parameter on both sides: what the route takes, and what the document promises. */

import { lazy } from '../../base/lazy.ts';
import { RecentMap } from '../../base/memo.ts';
import { example } from '../../language/example.ts';
import { ANY, choice, literal, oneOf, repeat, sequence, span } from '../../language/expression.ts';
import { intersect, isEmpty, type Language, languageOf, relation, someText, subtract, union } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import type { Relation } from '../../language/product.ts';
import type { Part } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { languageOfType, type ParameterType } from '../../paths/types.ts';
import type { Route } from '../../routes/table/route.ts';
import { describeSchemaText, languageOfSchema, type Separator } from '../../schema/wire/text-language.ts';
import type { Operation, Parameter } from '../model/contract.ts';
import type { Pairing } from './pair-operations.ts';

export interface Typing {
  readonly route: Route;
  readonly operation: Operation;
  readonly parameter: Parameter;
  /** What the route calls it. */
  readonly name: string;
  /** The route's side, in words. */
  readonly type: string;
  /** The document's side, in words. */
  readonly promised: string;
  /** How the route's texts lie to those of the document. */
  readonly relation: Relation;
  /** A text that the document promises and the route refuses. */
  readonly refused: string | undefined;
  /** All that is refused has a sign, or zeros in front: nobody sends it as a key. */
  readonly isSlight: boolean;
  /** A text that the route takes and the document does not have. */
  readonly undocumented: string | undefined;
}

/** Texts of numbers that programs write seldom: with a sign, or with zeros in front. */
const signed = lazy(() =>
  languageOf(choice(sequence(oneOf([0x2b, 0x2b, 0x2d, 0x2d]), repeat(ANY)), sequence(literal('0'), span('0', '9'), repeat(ANY)))),
);

/** Every parameter that has a type on both sides. Routes that share an operation by their types are taken together. */
export function typingsOf(pairing: Pairing): readonly Typing[] {
  return pairing.operations.flatMap(({ operation, path, routes }) =>
    operation.parameters.flatMap((parameter) => typingOf(routes, operation, path, parameter) ?? []),
  );
}

function typingOf(routes: readonly Route[], operation: Operation, path: string, parameter: Parameter): Typing | undefined {
  const { schema } = parameter;
  if (schema === undefined || parameter.content !== undefined) return undefined;
  const sides = routes.flatMap((route) => {
    const side = parameter.in === 'path' ? inPath(route, path, parameter.name) : wanted(route, parameter.name);
    return side === undefined ? [] : [{ route, ...side }];
  });
  const [first] = sides;
  if (first === undefined || sides.length < routes.length) return undefined;
  const found = decide(() => {
    const texts = languageOfSchema(schema, separatorOf(parameter));
    if (!texts.decided) return undefined;
    const promised = parameter.in === 'path' ? intersect(texts.value, someText()) : texts.value;
    const taken = union(sides.map((s) => languageOfType(s.type)));
    if (isEmpty(promised)) return undefined;
    const hints = [...parameter.examples, ...exampleTexts(parameter)].filter(
      (e) => typeof e === 'string' || typeof e === 'number',
    );
    return difference(
      promised,
      taken,
      hints.map(String),
      sides.flatMap((s) => s.type.hints),
    );
  });
  if (!found.decided || found.value === undefined) return undefined;
  const types = [...new Set(sides.map((s) => s.type.name))].join(' or ');
  return { ...first, operation, parameter, type: types, promised: describeSchemaText(schema), ...found.value };
}

type Difference = Pick<Typing, 'relation' | 'refused' | 'isSlight' | 'undocumented'>;

/** A service has few types and many parameters. */
const differences = new RecentMap<string, Difference>(5_000);

/** How the texts of both sides differ, with the hints of each for texts that show it. */
function difference(promised: Language, taken: Language, hints: readonly string[], typeHints: readonly string[]): Difference {
  return differences.remember(JSON.stringify([promised.id, taken.id, hints, typeHints]), () => {
    const refused = subtract(promised, taken);
    return {
      relation: relation(taken, promised),
      refused: example(refused, hints),
      isSlight: !isEmpty(refused) && isEmpty(subtract(refused, signed())),
      undocumented: example(subtract(taken, promised), typeHints),
    };
  });
}

function exampleTexts(parameter: Parameter): readonly unknown[] {
  const k = parameter.schema?.keywords();
  return k === undefined || typeof k === 'boolean' ? [] : [...k.examples, ...(k.enum ?? [])];
}

/** The part of the route that stands where the document has the parameter. */
function inPath(route: Route, path: string, name: string): { name: string; type: ParameterType } | undefined {
  const parts = (shape: readonly { readonly parts: readonly Part[] }[]): readonly Part[] =>
    shape.flatMap((p) => p.parts.filter((x) => x.kind !== 'literal'));
  const promised = parts(parseTemplate(path).shapes[0] ?? []);
  const nth = promised.findIndex((p) => p.kind === 'parameter' && p.name === name);
  const shape = route.pattern.shapes.find((s) => parts(s).length === promised.length);
  const part = nth < 0 || shape === undefined ? undefined : parts(shape)[nth];
  if (part?.kind !== 'parameter') return undefined;
  return { name: part.name, type: route.handlerTypes.get(part.name) ?? part.type };
}

function wanted(route: Route, name: string): { name: string; type: ParameterType } | undefined {
  const type = route.handlerTypes.get(name);
  return type === undefined ? undefined : { name, type };
}

/** What stands between the items of a list in one text. */
export function separatorOf(parameter: Pick<Parameter, 'style' | 'explode'>): Separator {
  switch (parameter.style) {
    case 'spaceDelimited':
      return ' ';
    case 'pipeDelimited':
      return '|';
    case 'tabs':
      return '\t';
    case 'form':
    case 'cookie':
      return parameter.explode ? undefined : ',';
    default:
      return ',';
  }
}
