/** Parameters of all editions; those of 2.0 that are a body become one. */
import type { Mapping } from '../../base/json.ts';
import { EMPTY_KEYWORDS, type Schema } from '../../schema/model/schema.ts';
import { type At, addFlaw, child, listAt, placeOf, type Reader, resolveReference } from '../document/document.ts';
import {
  type Body,
  type Encoding,
  type Media,
  PARAMETER_PLACES,
  type Parameter,
  type ParameterStyle,
} from '../model/contract.ts';
import { schemaAt } from '../read-schema/read-schema.ts';
import { contentAt, examplesOf } from './bodies.ts';
import { DEFAULT_STYLE, isExploded, styleOf } from './styles.ts';

export interface Parameters {
  readonly parameters: readonly Parameter[];
  /** The parameters `in: body` and `in: formData` of 2.0. */
  readonly bodies: readonly At<Mapping>[];
}

const KNOWN_PLACES: readonly unknown[] = [...PARAMETER_PLACES, 'body', 'formData'];

/** The parameters of a list. A name that stands twice in one place is a flaw; the last one counts. */
export function parametersAt(reader: Reader, at: At): Parameters {
  const found = new Map<string, Parameter>();
  const bodies: At<Mapping>[] = [];
  for (const item of listAt(reader, at, 'a list of parameters')) {
    const parameter = resolveReference(reader, item, 'a parameter');
    if (parameter === undefined) continue;
    const { name, in: where } = parameter.value;
    if (typeof name !== 'string' || !KNOWN_PLACES.includes(where)) {
      addFlaw(reader, parameter, `expected a parameter with a name, and in: ${PARAMETER_PLACES.join(', ')}`);
      continue;
    }
    if (where === 'body' || where === 'formData') {
      bodies.push(parameter);
      continue;
    }
    // These three are said elsewhere, and ignored as parameters (3.1, Parameter Object).
    if (where === 'header' && ['accept', 'content-type', 'authorization'].includes(name.toLowerCase())) continue;
    const key = `${where} ${where === 'header' ? name.toLowerCase() : name}`;
    if (found.has(key)) addFlaw(reader, item, `the ${where} parameter "${name}" stands here a second time; the last one counts`);
    found.set(key, parameterAt(reader, parameter));
  }
  return { parameters: [...found.values()], bodies };
}

function parameterAt(reader: Reader, at: At<Mapping>): Parameter {
  const { value } = at;
  const where = value.in as Parameter['in'];
  const old = reader.dialect === '2.0';
  const [content] = old ? [] : contentAt(reader, child(at, 'content'));
  const style = old ? oldStyle(value, where) : styleOf(reader, at, where, `a ${where} parameter`);
  return {
    name: value.name as string,
    in: where,
    required: value.required === true || where === 'path',
    saysRequired: value.required === true,
    deprecated: value.deprecated === true,
    style,
    explode: old ? oldExplode(value, style) : isExploded(value, style),
    schema: old ? oldSchema(reader, at) : (schemaAt(reader, child(at, 'schema')) ?? content?.schema),
    content,
    examples: examplesOf(value),
    place: placeOf(at),
  };
}

/** Only lists are written in more than one way in 2.0. */
function oldExplode({ type, collectionFormat }: Mapping, style: ParameterStyle): boolean {
  return type === 'array' ? collectionFormat === 'multi' : style === 'form';
}

/** A parameter of 2.0 is its own schema, but for what it says of itself as a parameter. */
function oldSchema(reader: Reader, at: At<Mapping>): Schema | undefined {
  const { name: _, in: __, required: ___, ...value } = at.value;
  return schemaAt(reader, { ...at, value });
}

function oldStyle({ collectionFormat }: Mapping, where: Parameter['in']): ParameterStyle {
  if (collectionFormat === 'ssv') return 'spaceDelimited';
  if (collectionFormat === 'pipes') return 'pipeDelimited';
  if (collectionFormat === 'tsv') return 'tabs';
  return DEFAULT_STYLE[where];
}

/** The request body of a 2.0 operation: one `body`, or a form of its `formData`. */
export function oldBody(reader: Reader, bodies: readonly At<Mapping>[], consumes: readonly string[]): Body | undefined {
  const [first] = bodies;
  if (first === undefined) return undefined;
  const whole = bodies.find((b) => b.value.in === 'body');
  if (whole !== undefined) {
    const types = consumes.length > 0 ? consumes : ['application/json'];
    const schema = schemaAt(reader, child(whole, 'schema'));
    return {
      required: whole.value.required === true,
      content: types.map((type) => mediaOf(type, schema, whole)),
      place: placeOf(whole),
    };
  }
  const files = bodies.some((b) => b.value.type === 'file');
  const forms = consumes.filter((t) => /^(?:multipart\/form-data|application\/x-www-form-urlencoded)\b/iu.test(t));
  const types = forms.length > 0 ? forms : [files ? 'multipart/form-data' : 'application/x-www-form-urlencoded'];
  const schema = formSchema(reader, bodies);
  const encoding = new Map(bodies.map((field) => [String(field.value.name), oldEncoding(field)]));
  return {
    required: bodies.some((b) => b.value.required === true),
    content: types.map((type) => ({ ...mediaOf(type, schema, first), encoding })),
    place: placeOf(first),
  };
}

function oldEncoding(field: At<Mapping>): Encoding {
  const style = oldStyle(field.value, 'query');
  return { types: undefined, style, explode: oldExplode(field.value, style), place: placeOf(field) };
}

function mediaOf(type: string, schema: Schema | undefined, at: At): Media {
  return { type, schema, examples: [], place: placeOf(at) };
}

function formSchema(reader: Reader, fields: readonly At<Mapping>[]): Schema {
  const properties = new Map(
    fields.flatMap((f) => {
      const schema = oldSchema(reader, f);
      return schema === undefined ? [] : [[String(f.value.name), schema] as const];
    }),
  );
  const required = fields.filter((f) => f.value.required === true).map((f) => String(f.value.name));
  const keywords = { ...EMPTY_KEYWORDS, types: ['object' as const], properties, required };
  return { place: placeOf(fields[0] as At), raw: fields.map((f) => f.value), keywords: () => keywords };
}
