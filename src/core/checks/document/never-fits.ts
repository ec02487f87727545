import { schemasOf } from '../../contract/walk.ts';
import { flat } from '../../schema/flat.ts';
import type { Keywords, Schema } from '../../schema/node.ts';
import { suggest } from '../../suggest.ts';
import type { Found, Rule } from '../finding.ts';

export const neverFits: Rule = {
  id: 'document/never-fits',
  level: 'warning',
  messages: {
    bounds: 'no value fits: {low} is {lowest}, above {high} {highest}',
    closed: 'no object fits: {name} is required and may not be there, because nothing but what is declared may{hint}{more}',
    undeclared: '{name} is required and not declared{hint}{more}',
  },
  advice: {
    bounds: 'Correct the two bounds.',
    name: 'Declare the property, or take it out of required.',
  },
  meta: {
    what: 'A schema that nothing fits, or that requires a property it does not declare.',
    why: 'Nobody can send what it asks for, or everybody sends something else.',
    example: '{ type: integer, minimum: 10, maximum: 1 }',
    mend: 'Correct the bounds, or the name.',
  },
  check: (context) => context.service.contracts.flatMap((c) => schemasOf(c).flatMap((s) => flawOf(s, c.title) ?? [])),
};

const BOUNDS: readonly (readonly [keyof Keywords, keyof Keywords])[] = [
  ['minimum', 'maximum'],
  ['minLength', 'maxLength'],
  ['minItems', 'maxItems'],
  ['minProperties', 'maxProperties'],
];

function flawOf(schema: Schema, title: string): Found | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const at = { place: schema.place, what: title };
  for (const [low, high] of BOUNDS) {
    const [a, b] = [k[low] as number | undefined, k[high] as number | undefined];
    if (a !== undefined && b !== undefined && a > b)
      return { message: 'bounds', advice: 'bounds', data: { low, lowest: a, high, highest: b }, at };
  }
  return missing(schema, k, title);
}

/** Of parts of a whole the other parts may declare it. */
const PART = /\/(?:allOf|anyOf|oneOf|not|if|then|else|dependentSchemas)(?:\/[^/]+)?$/u;

function missing(schema: Schema, k: Keywords, title: string): Found | undefined {
  if (k.required.length === 0 || k.properties.size === 0 || PART.test(schema.place.pointer) || k.patternProperties.size > 0)
    return undefined;
  const declared = new Set(flat(schema, 8).flatMap((way) => [...way.properties.keys()]));
  const name = k.required.find((r) => !declared.has(r));
  if (name === undefined) return undefined;
  const rest = k.additional?.keywords();
  // Whatever else may come has a schema of its own.
  if (rest !== undefined && rest !== false && rest !== true) return undefined;
  const near = suggest(name, [...declared]);
  return {
    message: rest === false ? 'closed' : 'undeclared',
    ...(rest === false ? {} : { level: 'note' as const, together: schema.place.file }),
    advice: 'name',
    data: { name, hint: near === undefined ? '' : `; did you mean ${near}?` },
    at: { place: schema.place, what: title },
  };
}
