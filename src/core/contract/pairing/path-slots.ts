/** Every parameter of every path by where it stands, so that siblings can be compared. */

import type { Place } from '../../base/place.ts';
import { intersect, type Language, someText } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { pathKeys } from '../../paths/keys.ts';
import { literalText, type Part, type Piece, type Shape, type Style } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { languageOfType } from '../../paths/types.ts';
import { writtenParameter } from '../../paths/written.ts';
import { type RouteTable, routeLine } from '../../routes/table/route.ts';
import { describeSchemaText, languageOfSchema } from '../../schema/wire/text-language.ts';
import { type Contract, operationTitle } from '../model/contract.ts';
import { fullPath } from './full-path.ts';

export interface PathSlot {
  /** Equal for parameters behind the same path, whatever their names and types. */
  readonly position: string;
  /** Equal for the same path altogether. */
  readonly path: string;
  /** The path up to the parameter, as people write it. */
  readonly shown: string;
  readonly name: string;
  /** The version that the path or the route names. */
  readonly version: string;
  /** In words. */
  readonly type: string;
  /** Undefined where it could not be told. */
  readonly language: Language | undefined;
  readonly place: Place;
  readonly what: string;
}

/** The parameters in the paths of a table. */
export function slotsOfTable(table: RouteTable): readonly PathSlot[] {
  return table.routes
    .filter((r) => !r.isBarrier)
    .flatMap((route) =>
      slotsIn(
        route.pattern.shapes[0] ?? [],
        (part) => ({ type: part.type.name, language: languageOfType(part.type) }),
        table.style,
      ).map((slot) => ({
        ...slot,
        version: route.conditions.version?.join() ?? slot.version,
        place: route.place,
        what: routeLine(route),
      })),
    );
}

/** The parameters in the paths of a document. */
export function slotsOfContract(contract: Contract): readonly PathSlot[] {
  return contract.operations.flatMap((operation) => {
    const typeOf = (part: Parameter): Pick<PathSlot, 'type' | 'language'> => {
      const schema = operation.parameters.find((p) => p.in === 'path' && p.name === part.name)?.schema;
      if (schema === undefined) return { type: 'undeclared', language: undefined };
      const texts = decide(() => {
        const found = languageOfSchema(schema, ',');
        return found.decided ? intersect(found.value, someText()) : undefined;
      });
      return { type: describeSchemaText(schema), language: texts.decided ? texts.value : undefined };
    };
    const path = fullPath((operation.bases ?? contract.bases)[0] ?? '', operation.path);
    return slotsIn(parseTemplate(path).shapes[0] ?? [], typeOf).map((slot) => ({
      ...slot,
      place: operation.place,
      what: operationTitle(operation),
    }));
  });
}

type Parameter = Extract<Part, { kind: 'parameter' }>;

/** `v2`, `v1.3`, `2027-03-14`. */
const VERSION = /^(?:v\d+(?:\.\d+)*|\d{4}-\d\d-\d\d)$/u;

function slotsIn(
  shape: Shape,
  typeOf: (part: Parameter) => Pick<PathSlot, 'type' | 'language'>,
  style: Style = 'brace',
): Omit<PathSlot, 'place' | 'what'>[] {
  const keys = pathKeys(shape);
  const path = keys.join('/');
  let shown = '';
  return shape.flatMap((piece, i) => {
    const own = piece.parts
      .filter((p) => p.kind === 'parameter')
      .map((part, nth) => ({
        position: `${keys.slice(0, i).join('/')}/${shapeOf(piece, nth)}`,
        path,
        shown: `${shown}/…`,
        name: part.name,
        version: keys.map((_, at) => literalText(shape[at] as Piece) ?? '').find((t) => VERSION.test(t)) ?? '',
        ...typeOf(part),
      }));
    shown += `/${piece.parts.map((p) => (p.kind === 'literal' ? p.text : writtenParameter(style, p.name ?? ''))).join('')}`;
    return own;
  });
}

/** The literal text around a parameter of a mixed segment. */
function shapeOf(piece: Piece, nth: number): string {
  return `${piece.parts.map((p) => (p.kind === 'literal' ? p.text : '{}')).join('')}#${nth}`;
}

/** The slots of each position at which more than one path goes on. */
export function slotsByPosition(slots: readonly PathSlot[]): readonly (readonly PathSlot[])[] {
  const groups = new Map<string, PathSlot[]>();
  for (const slot of slots) {
    const known = groups.get(slot.position);
    if (known === undefined) groups.set(slot.position, [slot]);
    else known.push(slot);
  }
  return [...groups.values()].filter((g) => g.length > 1);
}
