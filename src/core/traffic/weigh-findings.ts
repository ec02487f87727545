/** Which findings a recorded request meets. */
import type { RecordedUse } from '../base/recorded-use.ts';
import type { Finding } from '../checks/engine/finding.ts';
import type { Operation } from '../contract/model/contract.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Route } from '../routes/table/route.ts';
import { type Concerned, concernedOf, LOST } from './concerned.ts';
import { followed, operationOf, type TrafficService } from './survey.ts';
import { Counter, type Recorded } from './tally.ts';
import { useOf } from './weigh.ts';

/** What the requests of a finding have in common. */
interface Concern extends Concerned {
  readonly finding: Finding;
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
    const concerned = concernedOf(services, findings);
    this.concerns = findings.map((finding, i) => ({ finding, ...(concerned[i] as Concerned), counter: new Counter() }));
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
