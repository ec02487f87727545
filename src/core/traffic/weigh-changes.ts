/** Which changes a recorded request meets. */
import type { RecordedUse } from '../base/recorded-use.ts';
import type { Affected, Change } from '../compare/changes/change.ts';
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
import { type Asked, followed, operationOf, stripped } from './survey.ts';
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

export class ChangeWeights {
  readonly total = new Counter();
  private readonly byOperation = new Map<string, { readonly change: Change; readonly at: Affected; readonly weight: Weight }[]>();
  private readonly weights = new Map<Change, Weight>();

  constructor(
    private readonly old: Side,
    private readonly now: Side,
    changes: readonly Change[],
    /** The request as a document knows it, without what stands before its paths; undefined where it is asked as it is. */
    private readonly restOf: (request: Request) => Request | undefined,
  ) {
    for (const change of changes) {
      const weight = { sure: new Counter(), perhaps: new Counter() };
      this.weights.set(change, weight);
      // One request meets a change once, whatever it touches.
      const touched = new Map(change.touches.flat().map((at) => [`${at.method} ${at.path}`, at]));
      for (const [key, at] of touched) this.byOperation.set(key, [...(this.byOperation.get(key) ?? []), { change, at, weight }]);
    }
  }

  /** The counters of the changes that a request meets. Costs following it through both sides. */
  meets(record: Recorded): readonly Counter[] {
    const counters = [this.total];
    const rest = this.restOf(record.request);
    const [was, is] = [this.old, this.now].map((side) =>
      askedOf(side, rest === undefined ? record.request : below(side.base, rest)),
    );
    if (was === undefined || is === undefined) return counters;
    // Of documents nobody is hurt who did not ask for what the old one has; a route may take what nobody got before.
    const keys = new Set([...was.keys, ...(this.now.pairing === undefined ? is.keys : [])]);
    const seen = new Set<Change>();
    for (const key of keys)
      for (const { change, at, weight } of this.byOperation.get(key) ?? []) {
        if (seen.has(change)) continue;
        const met = change.at.part === 'routing' ? routedElsewhere(was, is) : meetsChange(change, at, record, was, is);
        if (met === 'no') continue;
        seen.add(change);
        counters.push(met === 'sure' ? weight.sure : weight.perhaps);
      }
    return counters;
  }

  use(change: Change): RecordedUse | undefined {
    const weight = this.weights.get(change);
    return weight === undefined ? undefined : useOf(weight, this.total);
  }
}

/** The side of a document: its paths are its routes. */
export function sideOfContract(contract: Contract): Side {
  const table = tableFromContracts([contract], contract.title);
  return { router: buildRouter(table, undefined), pairing: pair(table, [contract], ''), base: contract.bases[0] ?? '' };
}

export function sideOfTable(router: Router): Side {
  return { router, pairing: undefined, base: '' };
}

/** A request below the base of a document. */
function below(base: string, request: Request): Request {
  return { ...request, target: `${base.replace(/\/$/u, '')}${request.target}` };
}

/** How requests are found in the old document where nothing else is known: behind its own base. */
export function restBelow({ base }: Side): (request: Request) => Request | undefined {
  return (request) => {
    const target = stripped(request.target, base);
    return target === undefined ? undefined : { ...request, target };
  };
}

/** A request that is for no operation of the document. */
const ELSEWHERE = { target: '*' };

/** How they are found through the service that the document belongs to, whose routes have prefixes that it leaves out. */
export function restThrough(services: readonly Asked[], file: string): (request: Request) => Request {
  return (request) => {
    const [asked, following] = followed(services, { request, status: undefined, hasHeaders: false, hasBody: false });
    const documented = asked.context.pairing()?.documentedBy.get(following.leaf?.route as Route) ?? [];
    const own = documented.find((d) => d.contract.place.file === file && d.operation.method === request.method);
    const target = parseTarget(request.target, 'kept');
    if (own === undefined || !target.ok) return { ...request, ...ELSEWHERE };
    const length = own.operation.path.split('/').length - 1;
    const tail = target.path.split('/').slice(-length).join('/');
    return { ...request, target: `/${tail}${target.query === undefined ? '' : `?${target.query}`}` };
  };
}

interface AskedSide {
  readonly following: RoutingOutcome;
  readonly operation: Operation | undefined;
  readonly complaints: readonly RequestError[];
  /** How changes name what is asked for. */
  readonly keys: readonly string[];
}

function askedOf({ router, pairing }: Side, request: Request): AskedSide {
  const following = follow(router, request);
  const operation = operationOf(following, pairing);
  const complaints = checkRequest(following, pairing)?.complaints ?? [];
  const { leaf } = following;
  const routes = pairing !== undefined || leaf === undefined ? [] : leaf.route.methods.map((m) => `${m} ${leaf.route.path}`);
  const routeKeys = leaf === undefined || pairing !== undefined ? [] : [...routes, `${request.method} ${leaf.route.path}`];
  return {
    following,
    operation,
    complaints,
    keys: operation === undefined ? routeKeys : [`${operation.method} ${operation.path}`],
  };
}

/** Another handler, or another answer. */
function routedElsewhere(was: AskedSide, is: AskedSide): Met {
  const seen = ({ following: f }: AskedSide): string => `${f.outcome} ${f.status} ${f.leaf?.route.handler}`;
  return seen(was) === seen(is) ? 'no' : 'sure';
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
