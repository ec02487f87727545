/** What recorded requests meet: routes, operations, answers that the model does not explain, names that it does not know. */
import { invariant } from '../base/invariant.ts';
import { lazy } from '../base/lazy.ts';
import type { Asked } from '../checks/engine/follow-services.ts';
import { type Operation, operationTitle } from '../contract/model/contract.ts';
import { fullPath } from '../contract/pairing/full-path.ts';
import type { Pairing } from '../contract/pairing/pair-operations.ts';
import { checkRequest, type RequestCheck } from '../contract/request/check-request.ts';
import { judgeAnswer } from '../rehearse/answer.ts';
import { follow } from '../routes/follow/follow.ts';
import { answering, type Behind, passedToNobody } from '../routes/follow/gateway.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Router } from '../routes/index/router.ts';
import { parseTarget } from '../routes/request/target.ts';
import { type Near, nearest } from '../routes/suggest/nearest-routes.ts';
import { type Route, routeTitle } from '../routes/table/route.ts';
import { shapeOf, shownName, wordsOf } from './shape.ts';
import { Counter, type Recorded } from './tally.ts';

/** A service whose requests were recorded. */
export interface TrafficService extends Asked {
  readonly name: string;
  readonly behind: Behind;
}

/** Requests that no handler gets, told together. */
export interface Unmatched {
  readonly method: string;
  readonly shape: string;
  /** The status that the model predicts. */
  readonly expected: string;
  readonly near: Near | undefined;
  /** How it differs from the nearest route, in words that hold no value of the request. */
  readonly difference: string;
  readonly counter: Counter;
}

/** Answers that are not as the model says. */
export interface Contradiction {
  /** `GET /locks/{lockId}`, or the shape of what no route matches. */
  readonly what: string;
  readonly expected: string;
  readonly came: string;
  /** Some of the requests, for finding out why. */
  readonly samples: { readonly router: Router; readonly record: Recorded }[];
  readonly counter: Counter;
}

/** A name that came and is not declared. */
export interface Undeclared {
  /** As the document has it, with its base. */
  readonly what: string;
  readonly in: 'query' | 'header';
  readonly name: string;
  readonly counter: Counter;
}

/** So many lines of each kind are told apart; what comes beyond is counted together. */
const MOST_KINDS = 2_000;
const REST = 'others';

/** How a request differs from the nearest route, without quoting its values. */
const DIFFERENCE: Readonly<Record<Near['cause'], string>> = {
  slash: 'a trailing slash differs',
  suffix: 'the suffix differs',
  prefix: 'the prefix differs',
  missing: 'a segment is missing',
  extra: 'it has extra segments',
  different: 'one segment differs',
  spelling: 'a segment is spelled differently',
  type: 'a value does not match its type',
  version: 'the version differs',
};

/** So many requests of a contradiction are kept. */
const MOST_SAMPLES = 3;

/** Headers that every client or proxy sends, and those of standards: nobody declares them. */
const USUAL_HEADER = /^(?!x-)|^x-(?:forwarded|real-ip|request|correlation|requested-with|amzn|b3|cloud|envoy|original)/u;

export class Survey {
  readonly routes = new Map<Route, Counter>();
  readonly operations = new Map<Operation, Counter>();
  readonly unmatched = new Map<string, Unmatched>();
  readonly contradictions = new Map<string, Contradiction>();
  readonly undeclared = new Map<string, Undeclared>();
  /** Parameters that came, each as its operation and `in name`. */
  readonly usedParameters = new Map<Operation, Set<string>>();
  /** Media types that were sent or asked for by name, where headers are recorded. */
  readonly usedTypes = new Map<Operation, Set<string>>();
  readonly total = new Counter();
  /** Requests that are not below the path that was to be taken off. */
  readonly outside = new Counter();
  /** Whether any record has all headers. */
  hasHeaders = false;
  private readonly words: ReadonlySet<string>;
  private readonly titles = lazy(() => {
    const documented = this.services.flatMap(({ context }) => context.pairing()?.operations ?? []);
    return new Map(documented.map((d) => [d.operation, `${d.operation.method} ${d.path}`]));
  });

  constructor(
    readonly services: readonly TrafficService[],
    private readonly options: { readonly values: boolean },
  ) {
    this.words = wordsIn(services);
  }

  /** `GET /v2/locks/{lockId}`: an operation with its base. */
  titleOf(operation: Operation): string {
    return this.titles().get(operation) ?? operationTitle(operation);
  }

  /** The counters that a request belongs to. Costs following it through the services. */
  meets(record: Recorded): readonly Counter[] {
    this.hasHeaders ||= record.hasHeaders;
    const [asked, following] = followed(this.services, record);
    const counters = [this.total];
    if (following.leaf !== undefined) counters.push(counterOf(this.routes, following.leaf.route));
    const pairing = asked.context.pairing();
    const operation = operationOf(following, pairing);
    if (operation !== undefined) counters.push(counterOf(this.operations, operation));
    const checked = checkRequest(following, pairing);
    const contradictions = this.contradictionsOf(asked, record, following, checked);
    counters.push(...contradictions);
    const isOpen = following.leaf !== undefined || following.outcome === 'undecided' || following.outcome === 'ambiguous';
    // What was answered in another way is told as that.
    if (!isOpen && contradictions.length === 0) counters.push(this.unmatchedOf(asked, record, following).counter);
    if (operation !== undefined) counters.push(...this.namesOf(record, operation, checked));
    return counters;
  }

  private shown(record: Recorded, { leaf }: RoutingOutcome): string {
    if (this.options.values) return `${record.request.method} ${record.request.target}`;
    return leaf === undefined ? `${record.request.method} ${shapeOf(record.request.target, this.words)}` : routeTitle(leaf.route);
  }

  private unmatchedOf(asked: TrafficService, record: Recorded, following: RoutingOutcome): Unmatched {
    const { method, target } = record.request;
    const shape = this.options.values ? target : shapeOf(target, this.words);
    const expected = String(following.status ?? following.outcome);
    return remembered(this.unmatched, `${method} ${shape} ${expected}`, (isRest) => ({
      method: isRest ? '' : method,
      shape: isRest ? REST : shape,
      expected: isRest ? '' : expected,
      ...(isRest || following.outcome !== 'not-found' ? { near: undefined, difference: '' } : this.nearestOf(asked, following)),
      counter: new Counter(),
    }));
  }

  private nearestOf({ router }: TrafficService, following: RoutingOutcome): Pick<Unmatched, 'near' | 'difference'> {
    const [near] = nearest(router, following);
    // The message of a near route quotes the request.
    return { near, difference: near === undefined ? '' : this.options.values ? near.message : DIFFERENCE[near.cause] };
  }

  private contradictionsOf(
    asked: TrafficService,
    record: Recorded,
    following: RoutingOutcome,
    checked: RequestCheck | undefined,
  ): readonly Counter[] {
    const { status } = record;
    if (status === undefined) return [];
    const told: { readonly expected: string; readonly came: string }[] = [];
    const judged = judgedStatus(following, status);
    if (judged.verdict === 'contradicts') told.push({ expected: judged.expected, came: `answered ${status}` });
    else if (following.outcome === 'routed' && status >= 200 && status < 300)
      for (const { in: at, name, status: refusal } of checked?.complaints ?? [])
        if (refusal !== null && isRecorded(at, record))
          told.push({
            expected: `answered ${refusal}, because the document refuses the ${at === 'body' ? 'body' : `${at} parameter ${shownName(name)}`}`,
            came: `answered ${status}`,
          });
    const what = this.shown(record, following);
    return told.map(({ expected, came }) => {
      const found = remembered(this.contradictions, `${what} ${expected} ${came}`, (isRest) => ({
        ...(isRest ? { what: REST, expected: '', came: '' } : { what, expected, came }),
        samples: [],
        counter: new Counter(),
      }));
      if (found.samples.length < MOST_SAMPLES) found.samples.push({ router: asked.router, record });
      return found.counter;
    });
  }

  /** Notes the names that came, and counts those that are not declared. */
  private namesOf(record: Recorded, operation: Operation, checked: RequestCheck | undefined): readonly Counter[] {
    const { request } = record;
    const used = this.usedParameters.get(operation) ?? new Set<string>();
    this.usedParameters.set(operation, used);
    const query = new URLSearchParams(request.target.split('?').slice(1).join('?'));
    for (const name of query.keys()) used.add(`query ${name}`).add(`query ${name.split('[', 1)[0]}`);
    const headers = Object.entries(request.headers).map(([name, value]) => [name.toLowerCase(), value] as const);
    const types = this.usedTypes.get(operation) ?? new Set<string>();
    this.usedTypes.set(operation, types);
    for (const [name, value] of headers) {
      used.add(`header ${name}`);
      if (name === 'accept' || name === 'content-type')
        for (const range of value.split(',')) types.add(`${name} ${range.split(';', 1)[0]?.trim().toLowerCase()}`);
    }
    const declared = new Set(operation.parameters.filter((p) => p.in === 'header').map((p) => p.name.toLowerCase()));
    const undeclared = [
      ...(checked?.complaints ?? []).flatMap((c) => (c.in === 'query' && c.status === null ? [['query', c.name] as const] : [])),
      ...headers.flatMap(([name]) => (USUAL_HEADER.test(name) || declared.has(name) ? [] : [['header', name] as const])),
    ];
    return undeclared.map(([at, name]) => {
      const what = this.titleOf(operation);
      return remembered(this.undeclared, `${what} ${at} ${shownName(name)}`, (isRest) => ({
        what: isRest ? REST : what,
        in: at,
        name: isRest ? '' : shownName(name),
        counter: new Counter(),
      })).counter;
    });
  }
}

/** The words of the paths of tables and documents. */
export function wordsIn(services: readonly TrafficService[]): ReadonlySet<string> {
  const paths = services.flatMap(({ router, context }) => [
    ...router.table.routes.map((r) => r.path),
    ...context.service.contracts.flatMap((c) => c.operations.map((o) => fullPath((o.bases ?? c.bases)[0] ?? '', o.path))),
  ]);
  return wordsOf(paths);
}

/** The service that answers, and what it says; the first service stands for nobody where a gateway passes the request to none. */
export function followed(services: readonly TrafficService[], { request }: Recorded): readonly [TrafficService, RoutingOutcome] {
  const [first] = services;
  invariant(first !== undefined, 'somebody is asked');
  const { gateway, versioning } = first.context.service;
  const chosen = answering(services, request, gateway && { choice: gateway.choice, versioning });
  return chosen === undefined ? [first, passedToNobody(request)] : [chosen, follow(chosen.router, request)];
}

/** A log holds no headers of the answer, so an Allow is not asked for. */
export function judgedStatus(following: RoutingOutcome, status: number): ReturnType<typeof judgeAnswer> {
  return judgeAnswer({ ...following, allow: null }, { status, headers: {}, body: '' });
}

/** The operation that documents the request. */
export function operationOf({ leaf, request }: RoutingOutcome, pairing: Pairing | undefined): Operation | undefined {
  if (leaf === undefined) return undefined;
  const all = pairing?.documentedBy.get(leaf.route) ?? [];
  const method = (m: string): Operation | undefined => all.find((d) => d.operation.method === m)?.operation;
  return method(request.method) ?? (request.method === 'HEAD' ? method('GET') : undefined);
}

/** What is not in the record can't be held against it. */
function isRecorded(at: string, { hasHeaders, hasBody }: Recorded): boolean {
  return at === 'body' ? hasBody : at === 'query' || at === 'path' || hasHeaders;
}

function counterOf<K>(counters: Map<K, Counter>, key: K): Counter {
  const known = counters.get(key) ?? new Counter();
  counters.set(key, known);
  return known;
}

/** The one of a key; those beyond the most are one. */
function remembered<T>(all: Map<string, T>, key: string, make: (isRest: boolean) => T): T {
  const isRest = !all.has(key) && all.size >= MOST_KINDS;
  const own = isRest ? REST : key;
  const known = all.get(own) ?? make(isRest);
  all.set(own, known);
  return known;
}

/** A target in origin form with the base that a proxy took off taken off; undefined where it is not below it. */
export function stripped(target: string, base: string): string | undefined {
  if (base === '' || base === '/') return target;
  const parsed = parseTarget(target, 'kept');
  if (!parsed.ok) return undefined;
  const own = base.endsWith('/') ? base.slice(0, -1) : base;
  const path = parsed.path;
  if (path !== own && !path.startsWith(`${own}/`)) return undefined;
  return `${path.slice(own.length) || '/'}${parsed.query === undefined ? '' : `?${parsed.query}`}`;
}
