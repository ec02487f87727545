/** `--traffic`: findings and changes weighed by recorded requests. */
import { type Change, EFFECTS } from '../core/compare/changes/change.ts';
import type { Through } from '../core/compare/table/through-gateway.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import type { Router } from '../core/routes/index/router.ts';
import { Counter, type Recorded } from '../core/traffic/tally.ts';
import { byRequests } from '../core/traffic/weigh.ts';
import { betweenContracts, betweenTables, ChangeWeights } from '../core/traffic/weigh-changes.ts';
import { FindingWeights } from '../core/traffic/weigh-findings.ts';
import type { LoadedService } from '../files/load-services.ts';
import { fail } from '../files/problem.ts';
import type { Rendered } from '../views/rendered.ts';
import { visible } from '../views/visible.ts';
import type { TrafficFlags } from './log-flags.ts';
import { brokenText, counted, trafficServices } from './traffic-engine.ts';

/** What counts the recorded requests that meet it. */
interface Weights {
  readonly meets: (record: Recorded) => readonly Counter[];
}

/**
 * Reads the logs once, for all weights together. Lines that can't be read are counted on standard error. Fails if no request could
 * be read: then nothing is known of how many are affected.
 */
export async function readWeights(all: readonly Weights[], flags: TrafficFlags): Promise<void> {
  const files = flags.traffic ?? [];
  const outside = new Counter();
  const read = new Counter();
  const meets = (record: Recorded): readonly Counter[] => [read, ...all.flatMap((w) => w.meets(record))];
  const sink = await counted(files, flags, meets, [outside]);
  for (const line of brokenText([...sink.broken.values()])) process.stderr.write(`${visible(line)}\n`);
  if (read.requests > 0) return;
  const why =
    outside.requests > 0
      ? `no request in ${files.join(', ')} is below ${flags.strip}`
      : `no request could be read in ${files.join(', ')}`;
  fail('', why);
}

/** The weights of findings; undefined where there is no table to follow requests through. */
export function findingWeights(findings: readonly Rendered[], services: readonly LoadedService[]): FindingWeights | undefined {
  const asked = trafficServices(services);
  if (asked.length === 0) return undefined;
  return new FindingWeights(
    asked,
    findings.map((f) => f.finding),
  );
}

/** Findings with the requests that meet them, the most first within a level; as they are without weights. */
export function weighedFindings(findings: readonly Rendered[], weights: FindingWeights | undefined): readonly Rendered[] {
  if (weights === undefined) return findings;
  const uses = weights.uses();
  const weighed = findings.map((f): Rendered => ({ ...f, finding: { ...f.finding, recorded: uses.get(f.finding) } }));
  return byRequests(
    weighed,
    (f) => f.level,
    (f) => f.finding.recorded,
  );
}

/** What is compared: two route tables or two documents. */
export type Sides =
  | {
      readonly routers: readonly [Router, Router];
      /** The gateway that they are behind, where one is known. */
      readonly through?: Through | undefined;
    }
  | {
      readonly contracts: readonly [Contract, Contract];
      /** The service of the old document, where one is known: its routes say where its paths are mounted. */
      readonly services: readonly LoadedService[];
      /** Ids of versions that stand in paths. */
      readonly versions: readonly string[];
    };

/** The weights of changes. */
export function changeWeights(changes: readonly Change[], sides: Sides): ChangeWeights {
  if ('routers' in sides) {
    const [old, now] = sides.routers;
    return new ChangeWeights(betweenTables(old, now, sides.through), changes);
  }
  const [old, now] = sides.contracts;
  const services = trafficServices(sides.services.filter((s) => s.tableIsDocument !== true));
  return new ChangeWeights(betweenContracts(old, now, sides.versions, services), changes);
}

/** Changes with the requests that meet them, the most first within an effect. */
export function weighedChanges(changes: readonly Change[], weights: ChangeWeights): readonly Change[] {
  const weighed = changes.map((c): Change => ({ ...c, recorded: weights.use(c) }));
  const sorted = EFFECTS.flatMap((effect) => weighed.filter((c) => c.effect === effect));
  return byRequests(
    sorted,
    (c) => c.effect,
    (c) => c.recorded,
  );
}

/** Findings weighed by the logs that the flags name. */
export async function findingsByTraffic(
  findings: readonly Rendered[],
  services: readonly LoadedService[],
  flags: TrafficFlags,
): Promise<readonly Rendered[]> {
  const weights = findingWeights(findings, services);
  await readWeights(weights === undefined ? [] : [weights], flags);
  return weighedFindings(findings, weights);
}

/** Changes weighed by the logs that the flags name. */
export async function changesByTraffic(
  changes: readonly Change[],
  sides: Sides,
  flags: TrafficFlags,
): Promise<readonly Change[]> {
  const weights = changeWeights(changes, sides);
  await readWeights([weights], flags);
  return weighedChanges(changes, weights);
}
