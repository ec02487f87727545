/** What recorded requests show, for the formats of other programs. */
import type { Counter } from '../core/traffic/tally.ts';
import type { Item } from './items.ts';
import { clientsText, statusesText, type TrafficView } from './traffic.ts';

/** What each kind of line is, in a sentence. */
const WHAT = {
  contradicts: 'Requests whose answer differs from what the model predicts, with their number.',
  unmatched: 'Requests that no route matches, grouped by shape, with their number.',
  undeclared: 'Names that were sent and that no document declares, with the number of requests.',
  deprecated: 'Deprecated operations that are still in use, with the number of requests.',
} as const;

/** What is wrong, for the formats of other programs. */
export function trafficItems({ report }: TrafficView): readonly Item[] {
  const item = (rule: keyof typeof WHAT, level: Item['level'], message: string, counter: Counter): Item => ({
    ...{ rule: `traffic/${rule}`, what: WHAT[rule], level, group: 'traffic', message: `${message} (${counter.requests})` },
    ...{ witness: '', advice: '', at: undefined, related: [], fingerprint: undefined },
  });
  return [
    ...report.contradictions.map((c) =>
      item('contradicts', 'warning', `${c.what} was expected to be ${c.expected}, but was ${c.came}`, c.counter),
    ),
    ...report.unmatched.map((u) =>
      item('unmatched', 'note', `${u.method} ${u.shape}: expected ${u.expected}, answered ${statusesText(u.counter)}`, u.counter),
    ),
    ...report.undeclared.map((u) => item('undeclared', 'note', `${u.what}: the ${u.in} ${u.name} is not declared`, u.counter)),
    ...report.deprecated.map((d) =>
      item('deprecated', 'note', `${d.what} is deprecated, and ${clientsText(d.counter)} ask for it`, d.counter),
    ),
  ];
}
