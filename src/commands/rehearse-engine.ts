/** What `rehearse` puts together: requests and experiments of each service, and their answers judged. */
import { grouped } from '../core/base/grouped.ts';
import { type Context, contextOf, routerOf, type Service } from '../core/checks/engine/context.ts';
import { type Answer, goneAfter, judgeAnswer, judgeExpectation, type NoAnswer } from '../core/rehearse/answer.ts';
import { undocumentedIn } from '../core/rehearse/contract.ts';
import { type Experiment, experimentsFor, type FactResult, factsBy } from '../core/rehearse/experiments.ts';
import { belowWith, jsonOf, KnownKeys, keyIn } from '../core/rehearse/keys.ts';
import { type Plan, type Planned, planFor } from '../core/rehearse/plan.ts';
import { follow } from '../core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../core/routes/follow/outcome.ts';
import type { Router } from '../core/routes/index/router.ts';
import type { Request } from '../core/routes/request/request.ts';
import { itemsOfRehearsal } from '../views/items.ts';
import type { RehearsalView, Sent } from '../views/rehearse.ts';
import { count } from '../views/terminal.ts';
import type { Format } from './base.ts';
import { formatted } from './formats.ts';

export { withSender } from '../files/send.ts';
export { rehearsalJson, rehearsalText } from '../views/rehearse.ts';

/** For other programs: JUnit has a case for each request, the others what is wrong. */
export function rehearsalAs(
  format: Exclude<Format, 'text' | 'json'>,
  view: RehearsalView,
  { version, root }: { readonly version: string; readonly root: string },
): string {
  const items = itemsOfRehearsal(view, format === 'junit');
  const wrong = view.sent.filter((s) => s.verdict === 'contradicts').length;
  const summary = [`${view.origin}: ${count(view.sent.length, 'request')} sent, ${wrong} answered otherwise than expected.`];
  return formatted(
    format,
    { command: 'rehearse', version, items, summary, failOn: 'warning', known: 0 },
    { title: view.origin, services: [], sources: undefined, root },
  );
}

export interface ServicePlan {
  readonly service: Service;
  readonly context: Context;
  readonly router: Router;
  readonly plan: Plan;
  readonly experiments: readonly Experiment[];
  readonly withoutEffect: readonly string[];
}

export function planOf(service: Service, methods: ReadonlySet<string>, asksFacts: boolean): ServicePlan {
  const context = contextOf(service);
  const router = routerOf(service);
  const plan = planFor(context, router, methods);
  const { list: experiments, withoutEffect } = asksFacts ? experimentsFor(router, methods) : { list: [], withoutEffect: [] };
  return { service, context, router, plan, experiments, withoutEffect };
}

/** How many requests the plans stand for, at most. */
export function countOf(plans: readonly ServicePlan[]): number {
  const of = ({ plan, experiments }: ServicePlan): number =>
    plan.planned.length + plan.lives.reduce((n, l) => n + 1 + l.steps.length, 0) + experiments.length * 2;
  return plans.reduce((n, p) => n + of(p), 0);
}

type Answers = readonly (Answer | NoAnswer | undefined)[];

export interface Rehearsing {
  readonly origin: string;
  readonly send: (requests: readonly Request[]) => Promise<Answers>;
  readonly handlerHeader: string | undefined;
  /** Values for parameters, by name or by path and name. */
  readonly given: ReadonlyMap<string, string>;
  readonly isStopped: () => boolean;
}

/** Sends what the plans say, lists before their items, and puts together what came of it. */
export async function rehearseAll(plans: readonly ServicePlan[], options: Rehearsing): Promise<RehearsalView> {
  const sent: Sent[] = [];
  const facts: RehearsalView['facts'][number][] = [];
  const notes: string[] = [];
  const failures: (string | undefined)[] = [];
  for (const plan of plans) {
    const one = new OneRehearsal(plan, options);
    await one.routes();
    await one.lives();
    one.hint();
    facts.push(...(await one.facts()).map((f) => ({ ...f, service: plan.service.name })));
    sent.push(...one.sent);
    notes.push(...one.notes);
    failures.push(...one.failures());
  }
  return {
    origin: options.origin,
    sent,
    facts,
    withoutEffect: [...new Set(plans.flatMap((p) => p.withoutEffect))],
    unsafe: plans.reduce((n, p) => n + p.plan.unsafe, 0),
    notes,
    stopped: options.isStopped(),
    reason: failures.every((f) => f !== undefined) ? failures[0] : undefined,
  };
}

/** One service that is asked, and what is known of it so far. */
class OneRehearsal {
  readonly sent: Sent[] = [];
  readonly notes: string[] = [];
  private readonly keys: KnownKeys;
  private readonly answers = new Map<string, Answer | NoAnswer | undefined>();

  constructor(
    private readonly own: ServicePlan,
    private readonly options: Rehearsing,
  ) {
    this.keys = new KnownKeys(options.given);
  }

  /** Paths with fewer parameters first, because their answers tell the keys of the others. */
  async routes(): Promise<void> {
    const byDepth = grouped(this.own.plan.planned, (p) => String(p.following.parameters.size));
    for (const batch of [...byDepth].sort((a, b) => a[0].following.parameters.size - b[0].following.parameters.size)) {
      const filled = batch.map((p) => this.withKeys(p));
      await this.ask(filled.map((p) => p.request));
      for (const p of filled) this.record(p);
    }
  }

  /** What is created is read, changed and deleted again, one request after the other. */
  async lives(): Promise<void> {
    const { router, plan } = this.own;
    for (const { create, parameter, steps } of plan.lives) {
      if (this.options.isStopped()) return;
      const made = this.withKeys(create);
      await this.ask([made.request]);
      this.record(made);
      const answer = answerOf(this.answers.get(keyOf(made.request)));
      if (answer === undefined || answer.status < 200 || answer.status > 299) {
        this.notes.push(`${made.request.method} ${made.request.target} created nothing, so no change of an item was sent`);
        continue;
      }
      const key = locationKey(router, answer, parameter) ?? keyIn(jsonOf(answer), parameter);
      if (key === undefined) {
        this.notes.push(
          `the answer to ${made.request.method} ${made.request.target} names no ${parameter}, so what it created stays`,
        );
        continue;
      }
      for (const step of steps) {
        const filled = withFollowing(step, belowWith(router, step.following, made.following, key));
        this.answers.delete(keyOf(filled.request));
        await this.ask([filled.request]);
        this.record(filled);
      }
    }
  }

  async facts(): Promise<readonly FactResult[]> {
    const { router, experiments } = this.own;
    await this.ask(experiments.flatMap((e) => [e.control.request, e.request]));
    return factsBy(router, experiments, (r) => answerOf(this.answers.get(keyOf(r))));
  }

  /** Only what changes nothing is sent with a key that a list named. */
  private withKeys(planned: Planned): Planned {
    if (planned.why === 'expectation') return planned;
    return withFollowing(planned, this.keys.fill(this.own.router, planned.following, SAFE.has(planned.request.method)));
  }

  /** Of each request that was sent, why it was not answered; undefined where it was. */
  failures(): readonly (string | undefined)[] {
    return [...this.answers.values()].flatMap((a) => (a === undefined ? [] : ['failed' in a ? a.failed : undefined]));
  }

  private async ask(requests: readonly Request[]): Promise<void> {
    const open = [...new Map(requests.map((r) => [keyOf(r), r])).values()].filter((r) => !this.answers.has(keyOf(r)));
    const answers = await this.options.send(open);
    for (const [i, request] of open.entries()) this.answers.set(keyOf(request), answers[i]);
  }

  /** A mount that the service itself does not have is what most often goes wrong. */
  hint(): void {
    const { mount } = this.own.service;
    const isLost = this.sent.length > 0 && this.sent.every((s) => s.came.startsWith('404'));
    if (isLost && mount !== undefined && mount !== '' && mount !== '/')
      this.notes.push(
        `every request was answered 404; if the service is asked directly, and not below ${mount}, add --unmounted`,
      );
  }

  private record(planned: Planned): void {
    const answer = this.answers.get(keyOf(planned.request));
    if (answer === undefined) return;
    const { context, service } = this.own;
    if (!('failed' in answer)) this.keys.learn(planned.following, answer);
    const judged = sentOf(context, planned, answer, this.options.handlerHeader);
    this.sent.push({ service: service.name, request: planned.request, ...judged });
  }
}

function withFollowing(planned: Planned, following: RoutingOutcome): Planned {
  return { ...planned, request: following.request, following };
}

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** The key in a Location, where that leads to a route that has the parameter. */
function locationKey(router: Router, { headers }: Answer, parameter: string): string | undefined {
  const { location } = headers;
  if (location === undefined) return undefined;
  const target = location.replace(/^[a-z]+:\/\/[^/]*/iu, '');
  return follow(router, { method: 'GET', target, headers: {} }).parameters.get(parameter)?.text;
}

function keyOf({ method, target, headers }: Request): string {
  return `${method} ${target} ${JSON.stringify(headers)}`;
}

function answerOf(answer: Answer | NoAnswer | undefined): Answer | undefined {
  return answer === undefined || 'failed' in answer ? undefined : answer;
}

function sentOf(
  context: Context,
  { following, expectation, why }: Planned,
  answer: Answer | NoAnswer,
  handlerHeader: string | undefined,
): Omit<Sent, 'service' | 'request'> {
  const restsOn = following.restsOn.filter((r) => r.assumed).map((r) => `${r.fact}: ${r.value}`);
  if ('failed' in answer) {
    const { expected } = judgeAnswer(following, { status: 0, headers: {}, body: '' });
    return { verdict: 'open', expected, came: answer.failed, restsOn, undocumented: [] };
  }
  if (why === 'end') return { ...goneAfter(answer), restsOn, undocumented: [] };
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
