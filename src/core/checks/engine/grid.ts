/** Resources by methods: what is served, documented, missing, or handled by another route. */
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { answeredSchema, keyIn, sentSchema, stepOf } from '../../contract/resources/lifecycle.ts';
import { missingOf, USUAL_POLICY } from '../../contract/resources/method-policy.ts';
import { isReadOnly, type Resource, STEPS, type Step } from '../../contract/resources/resources.ts';
import { follow } from '../../routes/follow/follow.ts';
import type { Context } from './context.ts';
import { requestFor } from './endpoint.ts';

export const STATES = ['both', 'served', 'documented', 'missing', 'taken', 'none'] as const;
export type State = (typeof STATES)[number];

export interface Cell {
  readonly state: State;
  readonly methods: readonly string[];
  /** The handler that gets the request instead. */
  readonly takenBy: string | undefined;
}

export interface Row {
  readonly resource: Resource;
  readonly readOnly: boolean;
  readonly cells: Readonly<Record<Step, Cell>>;
  /** Tasks, views and unusual methods. */
  readonly others: readonly Endpoint[];
}

const NONE: Cell = { state: 'none', methods: [], takenBy: undefined };

/** One row for each resource, in the order of the table. */
export function gridOf(context: Context): readonly Row[] {
  return context.resources().map((resource): Row => {
    const missing = missingOf(resource, context.service.policy ?? USUAL_POLICY);
    const cells = Object.fromEntries(
      STEPS.map((step) => [step, cellOf(context, resource, step, missing.find((m) => m.step === step)?.methods)]),
    );
    return {
      resource,
      readOnly: isReadOnly(resource),
      cells: cells as Row['cells'],
      others: resource.members.filter((m) => m.step === undefined).map((m) => m.endpoint),
    };
  });
}

function cellOf(context: Context, resource: Resource, step: Step, missing: string | undefined): Cell {
  const endpoints = resource.members.filter((m) => m.step === step).map((m) => m.endpoint);
  const [first] = endpoints;
  const methods = [...new Set(endpoints.map((e) => e.method))];
  if (first === undefined) {
    if (missing === undefined) return NONE;
    const wanted = missing.split('|');
    const takenBy = takerOf(context, resource, step, wanted[0] as string);
    return { state: takenBy === undefined ? 'missing' : 'taken', methods: wanted, takenBy };
  }
  const served = endpoints.some((e) => e.route !== undefined);
  const documented = endpoints.some((e) => e.operation !== undefined);
  if (served)
    return { state: documented || context.service.contracts.length === 0 ? 'both' : 'served', methods, takenBy: undefined };
  const { router } = context;
  const taker = router === undefined ? undefined : follow(router, requestFor(context, first)).leaf?.route.handler;
  return { state: taker === undefined ? 'documented' : 'taken', methods, takenBy: taker };
}

/** Who gets a request for a step that the resource lacks. */
function takerOf(context: Context, resource: Resource, step: Step, method: string): string | undefined {
  const role = step === 'list' || step === 'create' ? 'collection' : 'item';
  const like = resource.members.find((m) => m.role === role)?.endpoint;
  if (like === undefined || context.router === undefined) return undefined;
  return follow(context.router, { ...requestFor(context, like), method }).leaf?.route.handler;
}

export interface Stage {
  /** `read again` comes after delete. */
  readonly step: Step | 'read again';
  readonly endpoint: Endpoint | undefined;
  /** Where the key of the item comes from, in words. */
  readonly key: string | undefined;
  readonly takes: readonly string[];
  readonly returns: readonly string[];
  readonly statuses: readonly string[];
}

/** The life of one resource, from create to gone. */
export function lifeOf(context: Context, resource: Resource): readonly Stage[] {
  const order: readonly Step[] =
    resource.kind === 'collection'
      ? ['create', 'list', 'read', 'replace', 'modify', 'delete']
      : ['read', 'replace', 'modify', 'delete'];
  const stages = order.map((step) => stageOf(context, resource, step));
  const gone = stages.find((s) => s.step === 'delete')?.endpoint;
  const read = stages.find((s) => s.step === 'read');
  return gone === undefined || read === undefined
    ? stages
    : [
        ...stages,
        { ...read, step: 'read again', key: undefined, statuses: read.statuses.filter((s) => s === '404' || s === '410') },
      ];
}

function stageOf(context: Context, resource: Resource, step: Step): Stage {
  const endpoint = stepOf(resource, step);
  const exchange = context
    .exchanges()
    .find((e) => e.endpoint.path.keys.join('/') === endpoint?.path.keys.join('/') && e.endpoint.method === endpoint.method);
  const operation = endpoint?.operation;
  return {
    step,
    endpoint,
    key: endpoint === undefined ? undefined : keyText(resource, step, operation),
    takes: exchange?.sends === true ? exchange.takes : [],
    returns: exchange?.returns ?? [],
    statuses: operation?.responses.map((r) => r.status) ?? [],
  };
}

function keyText(resource: Resource, step: Step, operation: Endpoint['operation']): string | undefined {
  const parameter = resource.item?.parameter;
  if (parameter === undefined) return undefined;
  if (step !== 'create' && step !== 'list') return `${parameter} from the path`;
  if (operation === undefined) return undefined;
  const known = sentSchema(operation) ?? answeredSchema(operation);
  const told = keyIn(operation, parameter, step === 'list');
  if (told === undefined) return known === undefined ? undefined : `${parameter} is not told`;
  return `${parameter} told by ${told}`;
}
