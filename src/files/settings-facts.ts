/** What the settings say of versions, clients, methods and expectations, as the core wants it. */
import type { Client, Expectation, Service } from '../core/checks/engine/context.ts';
import type { Version } from '../core/contract/resources/api-versions.ts';
import { type Policy, USUAL_POLICY } from '../core/contract/resources/method-policy.ts';
import type { Request } from '../core/routes/request/request.ts';
import { type Versioning, withRanges } from '../core/routes/request/requested-version.ts';
import type { Settings } from './formats/settings.ts';

export function versioningOf(settings: Settings | undefined): Versioning | undefined {
  const v = settings?.versioning;
  if (v === undefined) return undefined;
  const { selector, name = '', missing = 400, unknown = 400, elsewhere = 404 } = v;
  const also = v.also ?? [];
  return { selector, name, also, default: v.default, versions: v.versions.map((x) => x.id), missing, unknown, elsewhere };
}

export function declaredVersions(settings: Settings | undefined, file: string): readonly Version[] {
  return (settings?.versioning?.versions ?? []).map(({ id, deprecated, sunset }, i) => ({
    id,
    deprecated,
    sunset,
    place: { file, pointer: `/versioning/versions/${i}` },
  }));
}

export function policyOf(settings: Settings | undefined): Policy {
  const { collection, item, resources } = settings?.methods ?? {};
  const upper = (list: readonly string[]): readonly string[] => list.map((m) => m.toUpperCase());
  return {
    collection: upper(collection ?? USUAL_POLICY.collection),
    item: upper(item ?? USUAL_POLICY.item),
    resources: resources ?? {},
  };
}

/** The clients of one service, or all. */
export function clientsOf(settings: Settings | undefined, file: string, service?: string): readonly Client[] {
  return (settings?.clients ?? []).flatMap(({ name, accept, sends, services }, i) =>
    service === undefined || services === undefined || services.includes(service)
      ? [{ name, accept, sends, place: { file, pointer: `/clients/${i}` } }]
      : [],
  );
}

/** The expectations of one service. */
export function expectationsOf(
  settings: Settings | undefined,
  file: string,
  /** How it is passed to the service: undefined where it is for another one. */
  passed: (index: number) => 'passed' | 'nobody' | undefined,
): readonly Expectation[] {
  return (settings?.expect ?? []).flatMap((e, i): Expectation[] => {
    const how = passed(i);
    if (how === undefined) return [];
    const { handler, status, parameters, allow } = e;
    const isPassedToNobody = how === 'nobody';
    const place = { file, pointer: `/expect/${i}` };
    return [{ request: requestOf(e), handler, status, parameters, allow, isPassedToNobody, place }];
  });
}

export function requestOf({ request, headers = {} }: NonNullable<Settings['expect']>[number]): Request {
  const [method = '', target = ''] = request.split(/\s+/u);
  return { method: method.toUpperCase(), target, headers };
}

/** What the settings say to no effect, in words. */
export function idleSettings(settings: Settings | undefined): readonly string[] {
  const { versioning } = settings ?? {};
  if (versioning?.missing === undefined || versioning.default === undefined) return [];
  return [
    `versioning: missing: ${versioning.missing} has no effect, because requests without a version get the default ${versioning.default}.`,
  ];
}

/** The declared versions that no path, route or document of any service is for; none where nothing names a version at all. */
export function unservedVersions(settings: Settings | undefined, services: readonly Service[]): readonly string[] {
  const ids = settings?.versioning?.versions.map((v) => v.id) ?? [];
  const named = new Set<string>();
  const addPath = (path: string): void => {
    for (const word of path.split('/')) for (const id of ids) if (word === id || word.toLowerCase() === `v${id}`) named.add(id);
  };
  for (const { table, contracts } of services) {
    const routes = table === undefined ? [] : withRanges(table, ids).routes;
    for (const { conditions, path } of routes) {
      for (const id of conditions.version ?? []) named.add(id);
      addPath(path);
    }
    for (const { bases, operations, version } of contracts) {
      for (const base of [...bases, ...operations.flatMap((o) => [o.path, ...(o.bases ?? [])])]) addPath(base);
      if (contracts.length > 1) for (const id of ids) if (version === id || version?.startsWith(`${id}.`)) named.add(id);
    }
  }
  return named.size === 0 ? [] : ids.filter((id) => !named.has(id));
}
