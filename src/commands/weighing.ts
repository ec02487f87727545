/** `--traffic`: findings and changes weighed by recorded requests. */
import * as Flags from '@oclif/core/flags';
import { invariant } from '../core/base/invariant.ts';
import type { Finding } from '../core/checks/engine/finding.ts';
import type { Change } from '../core/compare/changes/change.ts';
import { EFFECTS } from '../core/compare/changes/change.ts';
import { pairedOperations } from '../core/compare/compare-contracts.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import type { Router } from '../core/routes/index/router.ts';
import { byRequests } from '../core/traffic/weigh.ts';
import type { LoadedService } from '../files/load-services.ts';
import type { Rendered } from '../views/rendered.ts';

/** How a log is read. */
export const logFlags = {
  as: Flags.option({ options: ['access', 'jsonl', 'har'] as const, summary: 'What the logs are, where it is not seen' })(),
  fields: Flags.string({ summary: 'Where the parts of a JSON record stand, such as method=req.method', helpValue: 'LIST' }),
  strip: Flags.string({ summary: 'A base path that a proxy takes off before the service', helpValue: 'PATH', default: '' }),
};

export const trafficFlags = {
  traffic: Flags.string({
    summary: 'Recorded requests to weigh by: an access log, JSON Lines or HAR; may be given more than once',
    helpValue: 'FILE',
    multiple: true,
    multipleNonGreedy: true,
  }),
  strip: Flags.string({ summary: 'With --traffic: a base path that a proxy takes off before the service', helpValue: 'PATH' }),
};

export interface TrafficFlags {
  readonly traffic?: readonly string[] | undefined;
  readonly strip?: string | undefined;
}

/** Findings with the requests that meet them, the most first within a level; as they are where no log is named. */
export async function weighedFindings(
  findings: readonly Rendered[],
  services: readonly LoadedService[],
  { traffic, strip = '' }: TrafficFlags,
): Promise<readonly Rendered[]> {
  if (traffic === undefined || findings.length === 0) return findings;
  const { askedServices, counted } = await import('./traffic-engine.ts');
  const { FindingWeights } = await import('../core/traffic/weigh-findings.ts');
  const asked = askedServices(services);
  if (asked.length === 0) return findings;
  const weights = new FindingWeights(
    asked,
    findings.map((f) => f.finding),
  );
  await counted(traffic, strip, { format: undefined, fields: {} }, (r) => weights.meets(r), []);
  const uses = weights.uses();
  const weighed = findings.map((f): Rendered => {
    const finding: Finding = { ...f.finding, recorded: uses.get(f.finding) };
    return { ...f, finding };
  });
  return byRequests(
    weighed,
    (f) => f.level,
    (f) => f.finding.recorded,
  );
}

/** What is compared: two route tables or two documents. */
export type Sides =
  | { readonly routers: readonly [Router, Router] }
  | {
      readonly contracts: readonly [Contract, Contract];
      /** The service of the old document, where one is known: its routes say where its paths are mounted. */
      readonly services: readonly LoadedService[];
      /** Ids of versions that stand in paths. */
      readonly versions: readonly string[];
    };

/** Changes with the requests that meet them, the most first within an effect. */
export async function weighedChanges(
  changes: readonly Change[],
  sides: Sides,
  { traffic, strip = '' }: TrafficFlags,
): Promise<readonly Change[]> {
  const { askedServices, counted } = await import('./traffic-engine.ts');
  const weigh = await import('../core/traffic/weigh-changes.ts');
  const [old, now] = 'routers' in sides ? sides.routers.map(weigh.sideOfTable) : sides.contracts.map(weigh.sideOfContract);
  invariant(old !== undefined && now !== undefined, 'two sides are compared');
  const services = 'routers' in sides ? [] : askedServices(sides.services.filter((s) => s.tableIsDocument !== true));
  const file = 'routers' in sides ? '' : sides.contracts[0].place.file.replace(/^[^:/]+:/u, '');
  const isKnown = services.some(({ context }) => context.service.contracts.some((c) => c.place.file === file));
  const restOf = isKnown ? weigh.restThrough(services, file) : weigh.restBelow(old);
  const pairs = 'routers' in sides ? undefined : pairedOperations(...sides.contracts, sides.versions);
  const weights = new weigh.ChangeWeights({ old, now, restOf, pairs }, changes);
  await counted(traffic ?? [], strip, { format: undefined, fields: {} }, (r) => weights.meets(r), []);
  const weighed = changes.map((c): Change => ({ ...c, recorded: weights.use(c) }));
  const sorted = EFFECTS.flatMap((effect) => weighed.filter((c) => c.effect === effect));
  return byRequests(
    sorted,
    (c) => c.effect,
    (c) => c.recorded,
  );
}
