/** What `traffic` needs, and those that weigh by it: a survey of recorded requests. */
import { contextOf } from '../core/checks/engine/context.ts';
import type { Draft } from '../core/rehearse/draft.ts';
import { RecordedDrafts } from '../core/traffic/draft-recorded.ts';
import { type Asked, type Survey, stripped, wordsIn } from '../core/traffic/survey.ts';
import { type Counter, type Recorded, Tally } from '../core/traffic/tally.ts';
import type { LoadedService } from '../files/load-services.ts';
import { fail } from '../files/problem.ts';
import { FIELDS, type Field, type FieldPaths } from '../files/traffic/json-records.ts';
import { type LogFormat, type ReadOptions, readTraffic } from '../files/traffic/read-traffic.ts';
import { Sink } from '../files/traffic/sink.ts';
import type { Item } from '../views/items.ts';
import { clientsText, statusesText, type TrafficView } from '../views/traffic.ts';

export { draftsFor } from '../core/rehearse/draft.ts';
export { reportOf } from '../core/traffic/report.ts';
export { Survey } from '../core/traffic/survey.ts';
export { headLines, routesGrid, trafficJson, trafficText } from '../views/traffic.ts';

/** The services that have a table, in the order in which a gateway asks them. */
export function askedServices(services: readonly LoadedService[]): readonly Asked[] {
  return services.flatMap((service) => {
    const context = contextOf(service);
    return context.router === undefined ? [] : [{ name: service.name, context, router: context.router }];
  });
}

/** Reads logs; `meets` names the counters of each distinct request, whose target has the base of the proxy taken off. */
export async function counted(
  files: readonly string[],
  base: string,
  options: ReadOptions,
  meets: (record: Recorded) => readonly Counter[],
  outside: readonly Counter[],
): Promise<Sink> {
  const tally = new Tally((record) => {
    const target = stripped(record.request.target, base);
    return target === undefined ? outside : meets({ ...record, request: { ...record.request, target } });
  });
  const sink = new Sink(tally);
  await readTraffic(files, sink, options);
  tally.settle();
  return sink;
}

/** Expectations from recorded requests. */
export async function recordedDrafts(
  services: readonly Asked[],
  files: readonly string[],
  flags: { readonly strip: string; readonly as?: LogFormat | undefined; readonly fields?: string | undefined },
): Promise<readonly Draft[]> {
  const drafts = new RecordedDrafts(services, wordsIn(services));
  await counted(files, flags.strip, { format: flags.as, fields: fieldPaths(flags.fields) }, (r) => drafts.meets(r), []);
  return drafts.drafts();
}

/** `method=request.method,status=response.status` as paths of keys. */
export function fieldPaths(text: string | undefined): FieldPaths {
  const names = Object.keys(FIELDS);
  const pairs = (text ?? '').split(',').filter((p) => p.trim() !== '');
  return Object.fromEntries(
    pairs.map((pair) => {
      const [name = '', path = ''] = pair.trim().split(/=(.*)/su);
      if (!names.includes(name) || path === '')
        fail('', `--fields: expected a list such as method=request.method,status=code of ${names.join(', ')}; found ${pair}`);
      return [name as Field, path.split('.')];
    }),
  );
}

/** What each kind of line is, in a sentence. */
const WHAT = {
  contradicts: 'Requests that were answered otherwise than the model says, and how many of them.',
  unmatched: 'Requests that no handler gets, told together by their shape, and how many of them.',
  undeclared: 'Names that came and that no document declares, and how many requests had them.',
  deprecated: 'What is deprecated, and how many requests still asked for it.',
} as const;

/** What is wrong, for the formats of other programs. */
export function trafficItems({ report }: TrafficView): readonly Item[] {
  const item = (rule: keyof typeof WHAT, level: Item['level'], message: string, counter: Counter): Item => ({
    ...{ rule: `traffic/${rule}`, what: WHAT[rule], level, group: 'traffic', message: `${message} (${counter.requests})` },
    ...{ witness: '', advice: '', at: undefined, related: [], fingerprint: undefined },
  });
  return [
    ...report.contradictions.map((c) =>
      item('contradicts', 'warning', `${c.what} was expected to be ${c.expected}, and was ${c.came}`, c.counter),
    ),
    ...report.unmatched.map((u) =>
      item(
        'unmatched',
        'note',
        `${u.method} ${u.shape}: ${u.expected} by the model, answered ${statusesText(u.counter)}`,
        u.counter,
      ),
    ),
    ...report.undeclared.map((u) => item('undeclared', 'note', `${u.what}: the ${u.in} ${u.name} is not declared`, u.counter)),
    ...report.deprecated.map((d) =>
      item('deprecated', 'note', `${d.what} is deprecated, and ${clientsText(d.counter)} ask for it`, d.counter),
    ),
  ];
}

/** The sums of a survey that was not asked for more. */
export function isEmpty(survey: Survey): boolean {
  return survey.total.requests + survey.outside.requests === 0;
}
