/** Which changes a recorded request meets. */
import type { RecordedUse } from '../base/recorded-use.ts';
import type { Affected, Change } from '../compare/changes/change.ts';
import { pairedOperations } from '../compare/compare-contracts.ts';
import { type Asked, fareAlike, outcomeOf } from '../compare/table/routing-changes.ts';
import { askBoth, type Through } from '../compare/table/through-gateway.ts';
import type { Contract, Operation } from '../contract/model/contract.ts';
import { type Pairing, pair } from '../contract/pairing/pair-operations.ts';
import { tableFromContracts } from '../contract/pairing/table-from-contract.ts';
import { checkRequest } from '../contract/request/check-request.ts';
import type { RequestError } from '../contract/request/complaint.ts';
import { follow } from '../routes/follow/follow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import { buildRouter, type Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import { parseTarget } from '../routes/request/target.ts';
import type { Route } from '../routes/table/route.ts';
import { followed, operationOf, stripped, type TrafficService } from './survey.ts';
import { Counter, type Recorded } from './tally.ts';
import { useOf, type Weight } from './weigh.ts';

/** One side of a comparison, as a request sees it. */
interface Side {
  readonly router: Router;
  readonly pairing: Pairing | undefined;
  /** The path before all paths of a document, such as `/v1`. */
  readonly base: string;
}

type Met = 'sure' | 'perhaps' | 'no';

/** A change as it touches one operation, at each of these places. */
interface Touch {
  readonly change: Change;
  readonly at: Affected[];
  readonly weight: Weight;
}

/** How a recorded request is asked of both sides. */
interface Asking {
  readonly old: Side;
  readonly now: Side;
  /** The request as the old document knows it, without what stands before its paths; undefined where it is for none of its operations. */
  readonly restOf: (request: Request) => Request | undefined;
  /** Of two documents: the operation of the new one that each old one became. */
  readonly pairs: ReadonlyMap<Operation, Operation> | undefined;
  /** Of two route tables: what both say. */
  readonly routed?: (request: Request) => Asked;
}

export class ChangeWeights {
  readonly total = new Counter();
  private readonly touches = new Map<string, Map<Change, Touch>>();
  private readonly weights = new Map<Change, Weight>();

  constructor(
    private readonly asking: Asking,
    changes: readonly Change[],
  ) {
    for (const change of changes) {
      const weight = { sure: new Counter(), perhaps: new Counter() };
      this.weights.set(change, weight);
      for (const at of change.touches.flat()) this.touchOf(`${at.method} ${at.path}`, change, weight).at.push(at);
    }
  }

  /** The counters of the changes that a request meets. Costs following it through both sides. */
  meets(record: Recorded): readonly Counter[] {
    const { was, is } = bothOf(this.asking, record.request);
    const met = new Map<Change, Met>();
    for (const key of new Set([...was.keys, ...is.keys]))
      for (const { change, at } of this.touches.get(key)?.values() ?? []) {
        const own =
          change.at.part === 'routing' ? routedElsewhere(was) : anyOf(at.map((a) => meetsChange(change, a, record, was, is)));
        // One request meets a change once, whatever it touches.
        met.set(change, anyOf([own, met.get(change) ?? 'no']));
      }
    const counters = [...met].flatMap(([change, how]) => {
      const weight = this.weights.get(change);
      return how === 'no' || weight === undefined ? [] : [weight[how]];
    });
    return [this.total, ...counters];
  }

  use(change: Change): RecordedUse | undefined {
    const weight = this.weights.get(change);
    return weight === undefined ? undefined : useOf(weight, this.total);
  }

  private touchOf(key: string, change: Change, weight: Weight): Touch {
    const ofKey = this.touches.get(key) ?? new Map<Change, Touch>();
    this.touches.set(key, ofKey);
    const touch = ofKey.get(change) ?? { change, at: [], weight };
    ofKey.set(change, touch);
    return touch;
  }
}

function anyOf(all: readonly Met[]): Met {
  return all.includes('sure') ? 'sure' : all.includes('perhaps') ? 'perhaps' : 'no';
}

/** How requests are asked of two documents, whose paths are their routes; `services` are those that the old one may belong to. */
export function betweenContracts(
  old: Contract,
  now: Contract,
  versions: readonly string[],
  services: readonly TrafficService[],
): Asking {
  const sideOf = (contract: Contract): Side => {
    const table = tableFromContracts([contract], contract.title);
    return { router: buildRouter(table, undefined), pairing: pair(table, [contract], ''), base: contract.bases[0] ?? '' };
  };
  // A file of a revision is known to the services without it.
  const file = old.place.file.replace(/^[^:/]+:/u, '');
  const isKnown = services.some(({ context }) => context.service.contracts.some((c) => c.place.file === file));
  const side = sideOf(old);
  const restOf = isKnown ? restThrough(services, file) : restBelow(side);
  return { old: side, now: sideOf(now), restOf, pairs: pairedOperations(old, now, versions) };
}

/** How they are asked of two route tables, or of the services behind a gateway to which they belong. */
export function betweenTables(old: Router, now: Router, through: Through | undefined): Asking {
  const sideOf = (router: Router): Side => ({ router, pairing: undefined, base: '' });
  const routed = (request: Request): Asked =>
    through === undefined
      ? { path: '', was: outcomeOf(old, request), is: outcomeOf(now, request) }
      : askBoth(through, '', request);
  return { old: sideOf(old), now: sideOf(now), restOf: (request) => request, pairs: undefined, routed };
}

/** How requests are found in the old document where nothing else is known: behind its own base. */
function restBelow({ base }: Side): (request: Request) => Request | undefined {
  return (request) => {
    const target = stripped(request.target, base);
    return target === undefined ? undefined : { ...request, target };
  };
}

/** How they are found through the service that the document belongs to, whose routes have prefixes that it leaves out. */
function restThrough(services: readonly TrafficService[], file: string): (request: Request) => Request | undefined {
  return (request) => {
    const [asked, following] = followed(services, { request, status: undefined, hasHeaders: false, hasBody: false });
    const documented = asked.context.pairing()?.documentedBy.get(following.leaf?.route as Route) ?? [];
    const own = documented.find((d) => d.contract.place.file === file && d.operation.method === request.method);
    const target = parseTarget(request.target, 'kept');
    if (own === undefined || !target.ok) return undefined;
    const length = own.operation.path.split('/').length - 1;
    const tail = target.path.split('/').slice(-length).join('/');
    return { ...request, target: `/${tail}${target.query === undefined ? '' : `?${target.query}`}` };
  };
}

interface AskedSide {
  readonly following: RoutingOutcome | undefined;
  readonly operation: Operation | undefined;
  readonly complaints: readonly RequestError[];
  /** How changes name what is asked for. */
  readonly keys: readonly string[];
  /** Of route tables: it is handled or answered otherwise. */
  readonly isElsewhere?: boolean;
}

const NOT_ASKED: AskedSide = { following: undefined, operation: undefined, complaints: [], keys: [] };

/** What both sides say. Of documents the new one is asked for what the old operation became, with the same values. */
function bothOf(asking: Asking, request: Request): { readonly was: AskedSide; readonly is: AskedSide } {
  const { old, now, restOf, pairs, routed } = asking;
  if (routed !== undefined) return routedBoth(routed(request));
  const rest = restOf(request);
  // Nobody is hurt who did not ask for what the old document has.
  if (rest === undefined) return { was: NOT_ASKED, is: NOT_ASKED };
  const was = askedOf(old, { ...rest, target: below(old.base, rest.target) });
  const became = was.operation === undefined ? undefined : pairs?.get(was.operation);
  if (was.operation === undefined || became === undefined) return { was, is: NOT_ASKED };
  const target = below(now.base, withValues(rest.target, was.operation.path, became.path));
  const is = askedOf(now, { ...rest, target });
  return { was, is: { ...is, keys: [`${became.method} ${became.path}`] } };
}

function below(base: string, target: string): string {
  return `${base.replace(/\/$/u, '')}${target}`;
}

/** A target for one path template as one for another: the segments that hold parameters keep their values, in their order. */
function withValues(target: string, from: string, to: string): string {
  const [path = '', query] = target.split(/\?(.*)/su);
  const isHeld = (segment: string): boolean => segment.includes('{');
  const [sent, template] = [path.split('/'), from.split('/')];
  const values = template.flatMap((segment, i) => (isHeld(segment) ? [sent[i] ?? ''] : []));
  const made = to.split('/').map((segment) => (isHeld(segment) ? (values.shift() ?? segment) : segment));
  return `${made.join('/')}${query === undefined ? '' : `?${query}`}`;
}

function askedOf({ router, pairing }: Side, request: Request): AskedSide {
  const following = follow(router, request);
  const operation = operationOf(following, pairing);
  const complaints = checkRequest(following, pairing)?.complaints ?? [];
  return { following, operation, complaints, keys: operation === undefined ? [] : [`${operation.method} ${operation.path}`] };
}

function routedElsewhere({ isElsewhere }: AskedSide): Met {
  return isElsewhere === true ? 'sure' : 'no';
}

/** Two sides that are route tables. */
function routedBoth(asked: Asked): { readonly was: AskedSide; readonly is: AskedSide } {
  const isElsewhere = !fareAlike(asked);
  const sideOf = (following: RoutingOutcome): AskedSide => {
    const { leaf, request } = following;
    const keys = leaf === undefined ? [] : [...leaf.route.methods, request.method].map((m) => `${m} ${leaf.route.path}`);
    return { following, operation: undefined, complaints: [], keys, isElsewhere };
  };
  return { was: sideOf(asked.was), is: sideOf(asked.is) };
}

function meetsChange(change: Change, at: Affected, record: Recorded, was: AskedSide, is: AskedSide): Met {
  if (at.part === 'webhook' || at.part === 'callback') return 'no';
  if (at.part === 'parameter') return meetsParameter(change, record, was, is);
  if (at.part === 'request') {
    if (!record.hasBody) return 'perhaps';
    return differs(was, is, (c) => c.in === 'body') ? 'sure' : 'no';
  }
  if (at.part === 'response' && at.status !== null && record.status !== undefined)
    return isStatus(at.status, record.status) ? 'sure' : 'no';
  return 'sure';
}

/** A parameter is met by requests of which the two sides think otherwise; headers that were not recorded decide nothing. */
function meetsParameter({ parameter }: Change, record: Recorded, was: AskedSide, is: AskedSide): Met {
  if (parameter === null) return 'sure';
  const { name, in: place } = parameter;
  if ((place === 'header' || place === 'cookie') && !record.hasHeaders) return 'perhaps';
  if (is.operation === undefined) return 'sure';
  return differs(was, is, (c) => c.in === place && (c.name === name || place === 'querystring')) ? 'sure' : 'no';
}

/** Does one side object to what the other one takes? */
function differs(was: AskedSide, is: AskedSide, concerns: (c: RequestError) => boolean): boolean {
  const told = ({ complaints }: AskedSide): string =>
    complaints
      .filter(concerns)
      .map((c) => `${c.in} ${c.name} ${c.pointer} ${c.status}`)
      .sort()
      .join('\n');
  return told(was) !== told(is);
}

/** `200`, `2XX` and `default` as a status of a record. */
function isStatus(declared: string, status: number): boolean {
  if (declared === 'default') return status >= 400;
  return /^[1-5]XX$/iu.test(declared) ? declared[0] === String(status)[0] : declared === String(status);
}
