import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { type Exchange, formOf } from '../../contract/resources/negotiated.ts';
import type { Resource } from '../../contract/resources/resources.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const oneWay: Rule = {
  id: 'media/one-way',
  level: 'warning',
  messages: {
    written: '{path} can be written as {form} and not be read as it',
    read: '{path} can be read as {form} and not be written as it',
  },
  advice: {
    both: 'Take and return the same formats.',
  },
  meta: {
    what: 'A resource that is read in one set of formats and written in another.',
    why: "What was read can't be sent back in the format it came in.",
    example: 'GET /vessels/{registration} returns XML too, PUT accepts only JSON',
    fix: 'Make the sets equal.',
  },
  check: (context) => {
    const exchanges = new Map(context.exchanges().map((e) => [e.endpoint, e]));
    return context.resources().flatMap((resource) => oneWays(context, resource, exchanges));
  },
};

const STRUCTURED = /^(?:json|xml|yaml|cbor|msgpack)$/u;

function oneWays(context: Context, resource: Resource, exchanges: ReadonlyMap<Endpoint, Exchange>): readonly Found[] {
  const own = (method: readonly string[], role: string): readonly Exchange[] =>
    resource.members
      .filter((m) => m.role === role && method.includes(m.endpoint.method))
      .flatMap((m) => exchanges.get(m.endpoint) ?? []);
  const role = resource.item === undefined ? 'collection' : 'item';
  const reads = own(['GET'], role);
  const writes = [...own(['PUT', 'PATCH'], role), ...own(['POST'], 'collection')].filter((e) => e.sends);
  const [read, written] = [structured(reads, 'returns'), structured(writes, 'takes')];
  if (read.length === 0 || written.length === 0) return [];
  const path = resource.item?.text ?? resource.path.text;
  const lacking = (of: readonly string[], other: readonly string[]): string | undefined => of.find((f) => !other.includes(f));
  return [
    ...lackingForm(context, path, { message: 'written', form: lacking(written, read), by: writes, notBy: reads }),
    ...lackingForm(context, path, { message: 'read', form: lacking(read, written), by: reads, notBy: writes }),
  ];
}

function structured(list: readonly Exchange[], of: 'takes' | 'returns'): readonly string[] {
  return [...new Set(list.flatMap((e) => e[of].map(formOf)))].filter((f) => STRUCTURED.test(f));
}

/** A form that some operations have and those of the other direction do not. */
interface OneWay {
  readonly message: 'read' | 'written';
  readonly form: string | undefined;
  readonly by: readonly Exchange[];
  readonly notBy: readonly Exchange[];
}

function lackingForm(context: Context, path: string, { message, form, by, notBy }: OneWay): readonly Found[] {
  const of = message === 'read' ? 'returns' : 'takes';
  const exchange = by.find((e) => e[of].some((t) => formOf(t) === form));
  if (form === undefined || exchange === undefined) return [];
  const type = exchange[of].find((t) => formOf(t) === form) as string;
  const { endpoint } = notBy[0] as Exchange;
  const witness = witnessFor(context, endpoint, endpoint.method, { [message === 'read' ? 'Content-Type' : 'Accept']: type });
  return [
    {
      level: message === 'read' ? 'note' : 'warning',
      message,
      advice: 'both',
      data: { path, form: type },
      at: endpointSpot(exchange.endpoint),
      related: [{ role: 'not by', place: endpointSpot(endpoint).place, what: endpointTitle(endpoint) }],
      ...(witness === undefined ? {} : { witness }),
    },
  ];
}
