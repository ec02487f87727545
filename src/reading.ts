/** For the benchmark: reads one document from a file, as every command does. */
import type { Contract } from './core/contract/model.ts';
import { readContract } from './core/contract/read.ts';
import { openSources } from './files/sources.ts';

export function read(file: string): Contract | undefined {
  const result = readContract(openSources('/').load(file).value, file);
  return result.ok ? result.contract : undefined;
}
