/** Forms of which nothing is refused after all, because other forms of the union take it. */
import type { Side } from '../schema/fits.ts';
import { inside } from '../schema/inside.ts';
import type { Pair, PairStep } from '../schema/web-pair.ts';
import type { Direction, Flaw } from './memory.ts';
import { soundIn } from './wholes.ts';

/** So many forms are asked about in one direction; what more there are is taken to be refused where its parts are. */
const MOST_FORMS = 200;

/** What was asked in one direction. */
export interface Absorbing {
  readonly seen: Set<Pair<Flaw>>;
  readonly asked: Set<PairStep<Flaw>>;
}

export function newAbsorbing(): Absorbing {
  return { seen: new Set(), asked: new Set() };
}

/** Takes away the ways that lead through such forms, so that only those are told of a change who meet it. Each is asked once. */
export function cutAbsorbed(direction: Direction, root: Pair<Flaw>, side: Side): void {
  const { web, absorbing } = direction;
  for (;;) {
    const idle = idleForms(direction, root, side);
    if (idle.length === 0) return;
    for (const { union, step } of idle) web.cut(union, step);
    web.settle();
    absorbing.seen.clear();
  }
}

interface Form {
  readonly union: Pair<Flaw>;
  readonly step: PairStep<Flaw>;
}

function idleForms({ web, answers, absorbing }: Direction, root: Pair<Flaw>, side: Side): readonly Form[] {
  const { seen, asked } = absorbing;
  const out: Form[] = [];
  const queue = [root];
  for (const pair of queue) {
    if (!pair.fails || seen.has(pair)) continue;
    seen.add(pair);
    for (const step of pair.steps) {
      queue.push(step.to);
      const isForm = step.pointer === '' && pair.twin === undefined && pair.group === undefined;
      if (!isForm || !step.to.fails || asked.has(step) || asked.size >= MOST_FORMS) continue;
      asked.add(step);
      const verdict = inside(step.to.a, pair.b, side, 'sent', answers, soundIn(web), 'little');
      if (verdict.kind === 'inside') out.push({ union: pair, step });
    }
  }
  return out;
}
