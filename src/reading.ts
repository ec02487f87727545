/** For the benchmarks: reads one document, or compares two, as the commands do. */
import { compareContracts } from './core/compare/compare-contracts.ts';
import type { Contract } from './core/contract/model/contract.ts';
import { readContract } from './core/contract/read/read-contract.ts';
import { openSources } from './files/sources.ts';

export function read(file: string): Contract | undefined {
  const result = readContract(openSources('/').load(file).value, file);
  return result.ok ? result.contract : undefined;
}

/** The effects of all changes. */
export function compare(old: string, now: string): readonly string[] {
  const [a, b] = [read(old), read(now)];
  return a === undefined || b === undefined ? [] : compareContracts(a, b, { versions: [] }).changes.map((c) => c.effect);
}
