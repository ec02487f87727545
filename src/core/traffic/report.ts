/** What was counted, as a report: the routes by their requests, what nobody handles, what the model does not explain, what nobody asks for. */
import type { Operation } from '../contract/model/contract.ts';
import type { Route } from '../routes/table/route.ts';
import { explained } from './explain.ts';
import type { Contradiction, Survey, Undeclared, Unmatched } from './survey.ts';
import type { Counter } from './tally.ts';

export interface TrafficReport {
  readonly total: Counter;
  readonly outside: Counter;
  readonly routes: readonly { readonly service: string; readonly route: Route; readonly counter: Counter }[];
  readonly unmatched: readonly Unmatched[];
  readonly contradictions: readonly (Contradiction & { readonly explainedBy: readonly string[] })[];
  readonly undeclared: readonly Undeclared[];
  /** Deprecated, and still asked for. */
  readonly deprecated: readonly { readonly what: string; readonly sunset: string | undefined; readonly counter: Counter }[];
  readonly unused: {
    readonly routes: readonly Route[];
    readonly operations: readonly string[];
    /** Of operations that were asked for. */
    readonly parameters: readonly { readonly operation: string; readonly in: string; readonly name: string }[];
    /** Undefined where the records hold no headers. */
    readonly types:
      | readonly { readonly operation: string; readonly side: 'request' | 'response'; readonly type: string }[]
      | undefined;
  };
}

/** Sorted by requests, the most first. O(routes + operations + kinds). */
export function reportOf(survey: Survey): TrafficReport {
  const byRequests = <T extends { readonly counter: Counter }>(all: Iterable<T>): readonly T[] =>
    [...all].sort((a, b) => b.counter.requests - a.counter.requests);
  const served = survey.services.flatMap(({ name, router, context }) =>
    router.table.routes.filter((r) => !r.isBarrier).map((route) => ({ service: name, route, context })),
  );
  const contracts = survey.services.flatMap(({ context }) => context.service.contracts);
  const operations = contracts.flatMap((c) => c.operations);
  const deprecated = served.flatMap(({ route, context }) => {
    const counter = survey.routes.get(route);
    const documented = context.pairing()?.documentedBy.get(route) ?? [];
    const isDeprecated = route.deprecated !== undefined && route.deprecated !== false;
    if (counter === undefined || !(isDeprecated || route.sunset !== undefined || documented.some((d) => d.operation.deprecated)))
      return [];
    return [{ what: `${route.methods.join('|')} ${route.path}`, sunset: route.sunset, counter }];
  });
  return {
    total: survey.total,
    outside: survey.outside,
    routes: byRequests(
      served.flatMap((s) => {
        const counter = survey.routes.get(s.route);
        return counter === undefined ? [] : [{ ...s, counter }];
      }),
    ),
    unmatched: byRequests(survey.unmatched.values()),
    contradictions: byRequests(survey.contradictions.values()).map((c) => ({ ...c, explainedBy: explained(c) })),
    undeclared: byRequests(survey.undeclared.values()),
    deprecated: byRequests(deprecated),
    unused: {
      routes: served.flatMap(({ route }) => (survey.routes.has(route) ? [] : [route])),
      operations: operations.filter((o) => !survey.operations.has(o)).map((o) => survey.titleOf(o)),
      parameters: [...survey.usedParameters].flatMap(([operation, used]) => unusedParameters(operation, used, survey)),
      types: survey.hasHeaders
        ? [...survey.usedTypes].flatMap(([operation, used]) => unusedTypes(operation, used, survey))
        : undefined,
    },
  };
}

/** A required parameter is part of every request, and what a log does not hold is not missed. */
function unusedParameters(
  operation: Operation,
  used: ReadonlySet<string>,
  survey: Survey,
): TrafficReport['unused']['parameters'] {
  return operation.parameters.flatMap(({ in: at, name }) => {
    if (at !== 'query' && !(at === 'header' && survey.hasHeaders)) return [];
    return used.has(`${at} ${at === 'header' ? name.toLowerCase() : name}`) || used.has(`${at} ${name.split('[', 1)[0]}`)
      ? []
      : [{ operation: survey.titleOf(operation), in: at, name }];
  });
}

/** Types that nobody names, of those between which there is a choice. */
function unusedTypes(
  operation: Operation,
  used: ReadonlySet<string>,
  survey: Survey,
): NonNullable<TrafficReport['unused']['types']> {
  const sent = (operation.body?.content ?? []).map((m) => m.type.toLowerCase());
  const returned = [...new Set(operation.responses.flatMap((r) => r.content.map((m) => m.type.toLowerCase())))];
  const idle = (types: readonly string[], header: string): readonly string[] =>
    types.length < 2 ? [] : types.filter((t) => !used.has(`${header} ${t.split(';', 1)[0]?.trim()}`));
  const title = survey.titleOf(operation);
  return [
    ...idle(sent, 'content-type').map((type) => ({ operation: title, side: 'request' as const, type })),
    ...idle(returned, 'accept').map((type) => ({ operation: title, side: 'response' as const, type })),
  ];
}
