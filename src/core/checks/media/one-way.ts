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
  const [reads, writes] = [
    own(['GET'], role),
    [...own(['PUT', 'PATCH'], role), ...own(['POST'], 'collection')].filter((e) => e.sends),
  ];
  const forms = (list: readonly Exchange[], of: 'takes' | 'returns'): readonly string[] =>
    [...new Set(list.flatMap((e) => e[of].map(formOf)))].filter((f) => STRUCTURED.test(f));
  const [read, written] = [forms(reads, 'returns'), forms(writes, 'takes')];
  if (read.length === 0 || written.length === 0) return [];
  const found = (
    message: 'read' | 'written',
    form: string | undefined,
    list: readonly Exchange[],
    of: 'takes' | 'returns',
  ): readonly Found[] => {
    const exchange = list.find((e) => e[of].some((t) => formOf(t) === form));
    if (form === undefined || exchange === undefined) return [];
    const type = exchange[of].find((t) => formOf(t) === form) as string;
    const other = (message === 'read' ? writes : reads)[0] as Exchange;
    const witness = witnessFor(context, other.endpoint, other.endpoint.method, {
      [message === 'read' ? 'Content-Type' : 'Accept']: type,
    });
    return [
      {
        level: message === 'read' ? 'note' : 'warning',
        message,
        advice: 'both',
        data: { path: resource.item?.text ?? resource.path.text, form: type },
        at: endpointSpot(exchange.endpoint),
        related: [{ role: 'not by', place: endpointSpot(other.endpoint).place, what: endpointTitle(other.endpoint) }],
        ...(witness === undefined ? {} : { witness }),
      },
    ];
  };
  return [
    ...found(
      'written',
      written.find((f) => !read.includes(f)),
      writes,
      'takes',
    ),
    ...found(
      'read',
      read.find((f) => !written.includes(f)),
      reads,
      'returns',
    ),
  ];
}
