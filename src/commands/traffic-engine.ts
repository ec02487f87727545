/** What `traffic` needs, and those that weigh by it: a survey of recorded requests. */
import { contextOf } from '../core/checks/engine/context.ts';
import type { Draft } from '../core/rehearse/draft.ts';
import { RecordedDrafts } from '../core/traffic/draft-recorded.ts';
import { stripped, type TrafficService, wordsIn } from '../core/traffic/survey.ts';
import { type Counter, type Recorded, Tally } from '../core/traffic/tally.ts';
import type { LoadedService } from '../files/load-services.ts';
import { fail } from '../files/problem.ts';
import { FIELDS, type Field, type FieldPaths } from '../files/traffic/json-records.ts';
import { readTraffic } from '../files/traffic/read-traffic.ts';
import { Sink } from '../files/traffic/sink.ts';
import type { LogFlags } from './log-flags.ts';

export { draftsFor } from '../core/rehearse/draft.ts';
export { reportOf } from '../core/traffic/report.ts';
export { Survey } from '../core/traffic/survey.ts';
export { brokenText, headLines, routesGrid, trafficJson, trafficText } from '../views/traffic.ts';
export { trafficItems } from '../views/traffic-items.ts';

/** The services that have a table, in the order in which a gateway asks them. */
export function trafficServices(services: readonly LoadedService[]): readonly TrafficService[] {
  return services.flatMap((service) => {
    const context = contextOf(service);
    return context.router === undefined
      ? []
      : [{ name: service.name, behind: service.behind ?? { mount: '/' }, context, router: context.router }];
  });
}

/** Reads logs; `meets` names the counters of each distinct request, whose target has the base of the proxy taken off. */
export async function counted(
  files: readonly string[],
  { strip, as: format, fields }: LogFlags,
  meets: (record: Recorded) => readonly Counter[],
  outside: readonly Counter[],
): Promise<Sink> {
  const tally = new Tally((record) => {
    const target = stripped(record.request.target, strip);
    return target === undefined ? outside : meets({ ...record, request: { ...record.request, target } });
  });
  const sink = new Sink(tally);
  await readTraffic(files, sink, { format, fields: fieldPaths(fields) });
  tally.settle();
  return sink;
}

/** Expectations from recorded requests. */
export async function recordedDrafts(
  services: readonly TrafficService[],
  files: readonly string[],
  flags: LogFlags,
): Promise<readonly Draft[]> {
  const drafts = new RecordedDrafts(services, wordsIn(services));
  await counted(files, flags, (r) => drafts.meets(r), []);
  return drafts.drafts();
}

/** `method=request.method,status=response.status` as paths of keys. */
function fieldPaths(text: string | undefined): FieldPaths {
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
