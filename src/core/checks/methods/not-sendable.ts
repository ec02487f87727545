import { normalisedName } from '../../base/bare-name.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { isKey } from '../../contract/resources/item-keys.ts';
import { answeredSchema, envelopeOf, propertiesOf, sentSchema, stepOf } from '../../contract/resources/lifecycle.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const notSendable: Rule = {
  id: 'methods/not-sendable',
  level: 'warning',
  messages: {
    wrapped: 'what {read} answers is wrapped in "{name}", and {write} accepts it without: it can\'t be sent back as it is{more}',
    unwrapped: '{write} accepts its value wrapped in "{name}", and {read} answers without: it can\'t be sent back as it is{more}',
    required: '{write} requires {name}, which the server makes: it is read-only in what {read} answers{more}',
  },
  advice: {
    same: 'Use one shape in both directions; mark what the server makes readOnly and leave it out of required when it is sent.',
  },
  meta: {
    what: 'A value that can be read and not be sent back.',
    why: 'Every client has to take it apart and put it together by hand.',
    example: 'GET /locks/{lockId} answers { "lock": { … } }, PUT accepts { … }',
    fix: 'Give both directions one shape.',
  },
  check: (context) =>
    context.resources().flatMap((resource): readonly Found[] => {
      const [read, write] = [stepOf(resource, 'read'), stepOf(resource, 'replace') ?? stepOf(resource, 'modify')];
      return read === undefined || write === undefined ? [] : report(read, write, resource.item?.parameter ?? 'id');
    }),
};

function report(read: Endpoint, write: Endpoint, parameter: string): readonly Found[] {
  const [got, sent] = [answeredSchema(read.operation), sentSchema(write.operation)];
  if (got === undefined || sent === undefined) return [];
  const [outer, inner] = [envelopeOf(got), envelopeOf(sent)];
  const plain = (schema: typeof got): string => [...(propertiesOf(schema)?.keys() ?? [])].map(normalisedName).sort().join();
  const data = { read: endpointTitle(read), write: endpointTitle(write) };
  const found = (message: string, name: string): Found => ({
    message,
    together: `${message} ${endpointSpot(write).place.file}`,
    advice: 'same',
    data: { ...data, name },
    at: endpointSpot(write),
    related: [{ role: 'read here', ...endpointSpot(read) }],
  });
  if (outer !== undefined && inner === undefined && shares(plain(outer.inner), plain(sent)))
    return [found('wrapped', outer.name)];
  if (inner !== undefined && outer === undefined && shares(plain(inner.inner), plain(got)))
    return [found('unwrapped', inner.name)];
  // A PATCH may be there to write what is read-only elsewhere; a PUT sends all of it back, and a key is made once.
  const made = [...(propertiesOf(got) ?? [])]
    .filter(([name, s]) => isReadOnly(s) && (write.method === 'PUT' || isKey(name, parameter)))
    .map(([name]) => name);
  const required = toDisjuncts(sent, 4).flatMap((k) => k.required.filter((name) => !isReadOnly(k.properties.get(name))));
  const name = made.find((m) => required.includes(m));
  return name === undefined ? [] : [found('required', name)];
}

/** Have two lists of names at least half in common? */
function shares(a: string, b: string): boolean {
  const [x, y] = [a.split(','), b.split(',')];
  return x.filter((n) => n !== '' && y.includes(n)).length * 2 >= Math.max(x.length, y.length);
}

function isReadOnly(schema: Parameters<typeof propertiesOf>[0]): boolean {
  const k = schema?.keywords();
  return typeof k === 'object' && (k.readOnly || (k.ref !== undefined && isReadOnly(k.ref)));
}
