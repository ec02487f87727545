/** What `rehearse` puts together: requests and experiments of each service, and their answers judged. */
import { type Context, contextOf, routerOf, type Service } from '../core/checks/engine/context.ts';
import { type Answer, judgeAnswer, judgeExpectation, type NoAnswer } from '../core/rehearse/answer.ts';
import { undocumentedIn } from '../core/rehearse/contract.ts';
import { type Experiment, experimentsFor, factsBy } from '../core/rehearse/experiments.ts';
import { type Plan, type Planned, planFor } from '../core/rehearse/plan.ts';
import type { Router } from '../core/routes/index/router.ts';
import type { Request } from '../core/routes/request/request.ts';
import type { RehearsalView, Sent } from '../views/rehearse.ts';

export { sendAll } from '../files/send.ts';
export { rehearsalJson, rehearsalText } from '../views/rehearse.ts';

export interface ServicePlan {
  readonly service: Service;
  readonly context: Context;
  readonly router: Router;
  readonly plan: Plan;
  readonly experiments: readonly Experiment[];
  readonly withoutEffect: readonly string[];
  /** Those of the plan, and of the experiments with their controls, each once. */
  readonly requests: readonly Request[];
}

export function planOf(service: Service, methods: ReadonlySet<string>, asksFacts: boolean): ServicePlan {
  const context = contextOf(service);
  const router = routerOf(service);
  const plan = planFor(context, router, methods);
  const { list: experiments, withoutEffect } = asksFacts ? experimentsFor(router, methods) : { list: [], withoutEffect: [] };
  const all = [...plan.planned.map((p) => p.request), ...experiments.flatMap((e) => [e.control.request, e.request])];
  const requests = [...new Map(all.map((r) => [keyOf(r), r])).values()];
  return { service, context, router, plan, experiments, withoutEffect, requests };
}

/** `answers` are in the order of the plans' requests; those that were not sent are undefined. */
export function viewOf(
  origin: string,
  plans: readonly ServicePlan[],
  answers: readonly (Answer | NoAnswer | undefined)[],
  handlerHeader: string | undefined,
  stopped: boolean,
): RehearsalView {
  let from = 0;
  const sent: Sent[] = [];
  const facts: RehearsalView['facts'][number][] = [];
  for (const { service, context, router, plan, experiments, requests } of plans) {
    const own = new Map(requests.map((r, i) => [keyOf(r), answers[from + i]]));
    from += requests.length;
    for (const planned of plan.planned) {
      const answer = own.get(keyOf(planned.request));
      if (answer !== undefined)
        sent.push({ service: service.name, request: planned.request, ...sentOf(context, planned, answer, handlerHeader) });
    }
    facts.push(...factsBy(router, experiments, (r) => answerOf(own.get(keyOf(r)))).map((f) => ({ ...f, service: service.name })));
  }
  return {
    origin,
    sent,
    facts,
    withoutEffect: [...new Set(plans.flatMap((p) => p.withoutEffect))],
    unsafe: plans.reduce((n, p) => n + p.plan.unsafe, 0),
    stopped,
  };
}

function keyOf({ method, target, headers }: Request): string {
  return `${method} ${target} ${JSON.stringify(headers)}`;
}

function answerOf(answer: Answer | NoAnswer | undefined): Answer | undefined {
  return answer === undefined || 'failed' in answer ? undefined : answer;
}

function sentOf(
  context: Context,
  { following, expectation }: Planned,
  answer: Answer | NoAnswer,
  handlerHeader: string | undefined,
): Omit<Sent, 'service' | 'request'> {
  const restsOn = following.restsOn.filter((r) => r.assumed).map((r) => `${r.fact}: ${r.value}`);
  if ('failed' in answer) {
    const { expected } = judgeAnswer(following, { status: 0, headers: {}, body: '' });
    return { verdict: 'open', expected, came: answer.failed, restsOn, undocumented: [] };
  }
  const judged =
    expectation === undefined
      ? judgeAnswer(following, answer, handlerHeader)
      : judgeExpectation(expectation, following, answer, handlerHeader);
  const method = following.request.method === 'HEAD' ? 'GET' : following.request.method;
  const operation =
    following.leaf === undefined
      ? undefined
      : context
          .pairing()
          ?.documentedBy.get(following.leaf.route)
          ?.find((d) => d.operation.method === method)?.operation;
  const isOwn =
    judged.verdict === 'agrees' &&
    following.outcome === 'routed' &&
    operation !== undefined &&
    following.request.method !== 'HEAD';
  return { ...judged, restsOn, undocumented: isOwn ? undocumentedIn(operation, answer) : [] };
}
