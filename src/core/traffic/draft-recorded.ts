/** Expectations from recorded requests: one for each route, and each way in which requests are refused. */
import { routeRequest } from '../checks/engine/endpoint.ts';
import { type Draft, distinct, drafted } from '../rehearse/draft.ts';
import { routeTitle } from '../routes/table/route.ts';
import { shapeOf } from './shape.ts';
import { followed, type TrafficService } from './survey.ts';
import { Counter, type Recorded } from './tally.ts';

/** So many classes are told apart. */
const MOST_CLASSES = 500;

/** Requests that the model answers in the same way. */
interface Class {
  readonly draft: Draft | undefined;
  readonly counter: Counter;
}

export class RecordedDrafts {
  private readonly classes = new Map<string, Class>();

  constructor(
    private readonly services: readonly TrafficService[],
    private readonly words: ReadonlySet<string>,
  ) {}

  /** The counter of the class of a request. Costs following it. */
  meets(record: Recorded): readonly Counter[] {
    const [{ router }, following] = followed(this.services, record);
    const { method, target } = record.request;
    const { leaf, outcome, status } = following;
    const shape = leaf === undefined ? shapeOf(target, this.words) : routeTitle(leaf.route);
    const key = `${method} ${shape} ${outcome} ${status}`;
    const known = this.classes.get(key);
    if (known !== undefined) return [known.counter];
    if (this.classes.size >= MOST_CLASSES) return [];
    // No value of a log is written down: parameters get samples, and what is hidden gets a word.
    const request =
      leaf === undefined
        ? { method, target: shape.replaceAll('{…}', 'x'), headers: {} }
        : routeRequest(router, leaf.route, method);
    const draft = shape.endsWith('…') ? undefined : drafted('recorded requests', router, request);
    const isSame =
      (draft?.handler ?? null) === (status === null ? (leaf?.route.handler ?? null) : null) && (draft?.status ?? null) === status;
    const counter = new Counter();
    this.classes.set(key, { draft: isSame ? draft : undefined, counter });
    return [counter];
  }

  /** What was asked most first. */
  drafts(): readonly Draft[] {
    const sorted = [...this.classes.values()].sort((a, b) => b.counter.requests - a.counter.requests);
    return distinct(sorted.flatMap((c) => c.draft ?? []));
  }
}
