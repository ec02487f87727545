import { hidesMedia } from '../../media/media.ts';
import { acceptFor } from '../../media/select.ts';
import { countsParameters } from '../../routes/table/router-facts.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const sameType: Rule = {
  id: 'media/same-type',
  level: 'warning',
  messages: {
    one: '{title} has {first} and {second}, which no request can tell apart: {second} is never chosen',
    several: '{title} has {second}, which no Accept selects: {first} come first and are sent instead',
  },
  advice: {
    out: 'Take one of them out, or tell them apart by a parameter such as profile (RFC 6906).',
  },
  meta: {
    what: 'Two contents that no request can tell apart, so that the later one is never chosen.',
    why: 'Whatever is described there is never sent.',
    example: 'content: { application/json: …, "application/json; charset=utf-8": … }',
    fix: 'Keep one.',
  },
  check: (context) => {
    const useParameters = countsParameters(context.router?.facts);
    return context.endpoints().flatMap((endpoint): Found[] => {
      const { operation, route } = endpoint;
      const sent = [operation?.body?.content.map((m) => m.type) ?? [], route?.conditions.takes ?? []];
      const answered = [
        ...(operation?.responses ?? []).map((r) => r.content.map((m) => m.type)),
        route?.conditions.returns ?? [],
      ];
      // Of a range and a type that it holds the more precise one counts (OpenAPI), so neither hides the other.
      const plain = (list: readonly string[]): readonly string[] => list.filter((t) => !t.includes('*'));
      const [pair] = [
        ...sent.flatMap((list) => hiddenIn(plain(list), (before, own) => before.find((t) => hidesMedia(t, own)))),
        ...answered.flatMap((list) => hiddenIn(plain(list), (before, own) => hiderOf(before, own, useParameters))),
      ];
      if (pair === undefined) return [];
      const message = typeof pair.first === 'string' ? 'one' : 'several';
      const first = typeof pair.first === 'string' ? pair.first : pair.first.join(' and ');
      const data = { title: endpointTitle(endpoint), first, second: pair.second };
      return [{ message, advice: 'out', data, at: endpointSpot(endpoint) }];
    });
  },
};

type Hider = string | readonly string[] | undefined;

/** The types of a list that those before them hide. */
function hiddenIn(
  list: readonly string[],
  hider: (before: readonly string[], own: string) => Hider,
): readonly { readonly first: string | readonly string[]; readonly second: string }[] {
  return list.flatMap((second, i) => {
    const first = hider(list.slice(0, i), second);
    return first === undefined ? [] : [{ first, second }];
  });
}

/** What keeps a type from ever being sent: one of those before it, or all of them together. */
function hiderOf(before: readonly string[], own: string, useParameters: boolean): Hider {
  if (acceptFor([...before, own], before.length, useParameters) !== undefined) return undefined;
  return before.find((t) => acceptFor([t, own], 1, useParameters) === undefined) ?? before;
}
