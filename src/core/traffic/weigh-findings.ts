/** Which findings a recorded request meets. */
import type { RecordedUse } from '../base/recorded-use.ts';
import type { Finding } from '../checks/engine/finding.ts';
import type { Operation } from '../contract/model/contract.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Route } from '../routes/table/route.ts';
import { followed, operationOf, type TrafficService } from './survey.ts';
import { Counter, type Recorded } from './tally.ts';
import { useOf } from './weigh.ts';

/** Findings about requests that a route loses to others: those count that it matches and does not get. */
const LOST = new Set(['paths/shadowed', 'paths/partly-shadowed', 'paths/duplicate', 'paths/ambiguous', 'paths/claimed-twice']);

/** What the requests of a finding have in common. */
interface Concern {
  readonly finding: Finding;
  readonly routes: ReadonlySet<Route>;
  readonly operations: ReadonlySet<Operation>;
  readonly counter: Counter;
}

export class FindingWeights {
  readonly total = new Counter();
  private readonly concerns: readonly Concern[];
  private readonly byRoute = new Map<Route, Concern[]>();
  private readonly byOperation = new Map<Operation, Concern[]>();

  constructor(
    private readonly services: readonly TrafficService[],
    findings: readonly Finding[],
  ) {
    const placed = placesOf(services);
    this.concerns = findings.map((finding) => ({ finding, ...placed(finding), counter: new Counter() }));
    for (const concern of this.concerns) {
      for (const route of concern.routes) this.byRoute.set(route, [...(this.byRoute.get(route) ?? []), concern]);
      for (const o of concern.operations) this.byOperation.set(o, [...(this.byOperation.get(o) ?? []), concern]);
    }
  }

  /** The counters of the findings that a request meets. Costs following it. */
  meets(record: Recorded): readonly Counter[] {
    const [asked, following] = followed(this.services, record);
    const operation = operationOf(following, asked.context.pairing());
    const met = new Set<Concern>(operation === undefined ? [] : this.byOperation.get(operation));
    for (const route of routesIn(following))
      for (const concern of this.byRoute.get(route) ?? [])
        if (LOST.has(concern.finding.rule) !== (route === following.leaf?.route)) met.add(concern);
    return [this.total, ...[...met].map((c) => c.counter)];
  }

  /** Undefined where a finding speaks of no route and no operation. */
  uses(): ReadonlyMap<Finding, RecordedUse | undefined> {
    return new Map(
      this.concerns.map(({ finding, routes, operations, counter }) => {
        const isWeighed = routes.size + operations.size > 0;
        return [finding, isWeighed ? useOf({ sure: counter, perhaps: new Counter() }, this.total) : undefined];
      }),
    );
  }
}

/** The route that gets a request, and those that match it too. */
function routesIn({ leaf, alsoMatched }: RoutingOutcome): ReadonlySet<Route> {
  return new Set([...(leaf === undefined ? [] : [leaf.route]), ...alsoMatched.map((a) => a.leaf.route)]);
}

/** By the places of a finding: the routes, and the operations in whose part of the document it stands. */
function placesOf(services: readonly TrafficService[]): (finding: Finding) => Pick<Concern, 'routes' | 'operations'> {
  const routes = new Map(services.flatMap(({ router }) => router.table.routes.map((r) => [placeKey(r.place), r] as const)));
  const operations = new Map(
    services.flatMap(({ context }) =>
      context.service.contracts.flatMap((c) => c.operations.map((o) => [placeKey(o.place), o] as const)),
    ),
  );
  return ({ rule, at, related = [] }) => {
    const spots = LOST.has(rule) ? [at] : [at, ...related.filter((r) => r.role === 'the same')];
    const found = spots.map(({ place }) => ({ route: routes.get(placeKey(place)), operation: enclosing(place, operations) }));
    return {
      routes: new Set(found.flatMap((f) => f.route ?? [])),
      operations: new Set(found.flatMap((f) => f.operation ?? [])),
    };
  };
}

interface At {
  readonly file: string;
  readonly pointer: string;
  readonly line?: number;
}

function placeKey({ file, pointer, line }: At): string {
  return `${file}#${pointer}#${line ?? ''}`;
}

/** The operation that a place lies in. */
function enclosing(place: At, operations: ReadonlyMap<string, Operation>): Operation | undefined {
  let { pointer } = place;
  while (pointer !== '') {
    const known = operations.get(placeKey({ file: place.file, pointer }));
    if (known !== undefined) return known;
    pointer = pointer.slice(0, pointer.lastIndexOf('/'));
  }
  return undefined;
}
