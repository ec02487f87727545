/** Bodies, responses and their headers, by media type. */
import { isMapping, type Mapping } from '../../base/json.ts';
import {
  type At,
  addFlaw,
  child,
  extensibleAt,
  listAt,
  membersAt,
  placeOf,
  type Reader,
  resolveReference,
} from '../document/document.ts';
import type { Body, Header, Link, Media, Response } from '../model/contract.ts';
import { schemaAt } from '../read-schema/read-schema.ts';
import { encodingAt } from './encodings.ts';

/** A request body of 3.x. */
export function bodyAt(reader: Reader, at: At): Body | undefined {
  if (at.value === undefined || at.value === null) return undefined;
  const body = resolveReference(reader, at, 'a request body');
  if (body === undefined) return undefined;
  return { required: body.value.required === true, content: contentAt(reader, child(body, 'content')), place: placeOf(body) };
}

/** The media types of a content mapping, in declared order. */
export function contentAt(reader: Reader, at: At): readonly Media[] {
  const out: Media[] = [];
  for (const [type, item] of membersAt(reader, at, 'a mapping of media types')) {
    const media = item.value === null ? { ...item, value: {} } : resolveReference(reader, item, 'a media type');
    if (media === undefined) continue;
    if (!/^[^/\s]+\/[^/\s]+/u.test(type))
      addFlaw(reader, item, `expected a media type such as application/json, found "${type}"`);
    // 3.2 describes one item of a stream; each of them is what a client reads.
    const schema = schemaAt(reader, child(media, 'schema')) ?? schemaAt(reader, child(media, 'itemSchema'));
    const encoding = encodingAt(reader, child(media, 'encoding'));
    const examples = examplesOf(media.value as Mapping);
    out.push({ type, schema, examples, ...(encoding === undefined ? {} : { encoding }), place: placeOf(item) });
  }
  return out;
}

/** Most responses say nothing of many things, which need not be looked for. */
function contentIn(reader: Reader, at: At<Mapping>): readonly Media[] {
  return 'content' in at.value ? contentAt(reader, child(at, 'content')) : [];
}

/** `example`, and the values of `examples`. */
export function examplesOf(value: Mapping): readonly unknown[] {
  const out: unknown[] = 'example' in value ? [value.example] : [];
  if (isMapping(value.examples))
    for (const e of Object.values(value.examples)) if (isMapping(e) && 'value' in e) out.push(e.value);
  return out;
}

const STATUS = /^(?:[1-5]\d\d|[1-5]XX|default)$/u;

/** What an operation answers, by status. `produces` are the media types of 2.0, where the response has a schema. */
export function responsesAt(reader: Reader, at: At, produces: readonly string[]): readonly Response[] {
  const out: Response[] = [];
  for (const [key, item] of extensibleAt(reader, at, 'a mapping of responses')) {
    const status = key.toUpperCase() === 'DEFAULT' ? 'default' : key.toUpperCase();
    if (!STATUS.test(status)) {
      addFlaw(reader, item, `expected a status such as 200, 2XX or default, found "${key}"`);
      continue;
    }
    const response = resolveReference(reader, item, 'a response');
    if (response === undefined) continue;
    out.push({
      status,
      headers: 'headers' in response.value ? headersAt(reader, child(response, 'headers')) : [],
      content: reader.dialect === '2.0' ? oldContent(reader, response, produces) : contentIn(reader, response),
      links: 'links' in response.value ? linksAt(reader, child(response, 'links')) : [],
      place: placeOf(response),
    });
  }
  return out;
}

function oldContent(reader: Reader, response: At<Mapping>, produces: readonly string[]): readonly Media[] {
  const schema = schemaAt(reader, child(response, 'schema'));
  if (schema === undefined) return [];
  const examples = isMapping(response.value.examples) ? response.value.examples : {};
  const types = produces.length > 0 ? produces : ['*/*'];
  return types.map((type) => ({
    type,
    schema,
    examples: type in examples ? [examples[type]] : [],
    place: placeOf(child(response, 'schema')),
  }));
}

/** Response headers; Content-Type says nothing there (3.1, Response Object). */
function headersAt(reader: Reader, at: At): readonly Header[] {
  return membersAt(reader, at, 'a mapping of headers').flatMap(([name, item]): Header[] => {
    const header = resolveReference(reader, item, 'a header');
    if (header === undefined || name.toLowerCase() === 'content-type') return [];
    const own = reader.dialect === '2.0' ? schemaAt(reader, header) : schemaAt(reader, child(header, 'schema'));
    const [media] = own === undefined ? contentAt(reader, child(header, 'content')) : [];
    return [
      {
        name,
        required: header.value.required === true,
        deprecated: header.value.deprecated === true,
        schema: own ?? media?.schema,
        place: placeOf(header),
      },
    ];
  });
}

function linksAt(reader: Reader, at: At): readonly Link[] {
  return membersAt(reader, at, 'a mapping of links').flatMap(([name, item]): Link[] => {
    const link = resolveReference(reader, item, 'a link');
    if (link === undefined) return [];
    const { operationId, parameters } = link.value;
    return [
      {
        name,
        operationId: typeof operationId === 'string' ? operationId : undefined,
        parameters: isMapping(parameters) ? parameters : {},
      },
    ];
  });
}

/** The texts of a list. */
export function textsAt(reader: Reader, at: At, what: string): readonly string[] {
  return listAt(reader, at, what).flatMap((item) => {
    if (typeof item.value === 'string') return [item.value];
    addFlaw(reader, item, `expected text, found something else`);
    return [];
  });
}
