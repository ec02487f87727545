/** An answer held against the document: its status, media type and body. */
import type { Operation, Response } from '../contract/model/contract.ts';
import { takesType } from '../media/media.ts';
import { validate } from '../schema/validate/validate.ts';
import type { Answer } from './answer.ts';

/** What the document does not have of an answer, in words; nothing where all of it is documented. O(body x schemas on it). */
export function undocumentedIn(operation: Operation, { status, headers, body }: Answer): readonly string[] {
  const response = responseFor(operation.responses, status);
  if (response === undefined)
    return [
      `the status ${status} is not documented; documented are ${operation.responses.map((r) => r.status).join(', ') || 'none'}`,
    ];
  const type = headers['content-type'];
  if (type === undefined || body === '' || response.content.length === 0) return [];
  const media = response.content.find((m) => takesType([m.type], type, false));
  if (media === undefined)
    return [
      `the media type ${type} is not documented for ${response.status}; documented are ${response.content.map((m) => m.type).join(', ')}`,
    ];
  if (media.schema === undefined || !/[/+]json\b/iu.test(type)) return [];
  let value: unknown;
  try {
    value = JSON.parse(body);
  } catch {
    return ['the body is no JSON, as its media type says'];
  }
  return validate(media.schema, value, 'response', 'consumer')
    .slice(0, MOST_TOLD)
    .map((m) => `the body does not fit its schema at ${m.pointer === '' ? 'its top' : m.pointer}: ${m.message}`);
}

const MOST_TOLD = 3;

/** The status itself, its class, or the default. */
function responseFor(responses: readonly Response[], status: number): Response | undefined {
  const by = (name: string): Response | undefined => responses.find((r) => r.status.toUpperCase() === name);
  return by(String(status)) ?? by(`${Math.floor(status / 100)}XX`) ?? by('DEFAULT');
}
