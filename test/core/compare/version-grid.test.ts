/** The grid of versions against the comparison of the same two documents: they never say different things of an operation. */
import { resolve } from 'node:path';
import { expect, test } from 'vitest';
import { contextOf } from '../../../src/core/checks/engine/context.ts';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import { versionGrid } from '../../../src/core/compare/version-grid.ts';
import type { Contract } from '../../../src/core/contract/model/contract.ts';
import { tableFromContracts } from '../../../src/core/contract/pairing/table-from-contract.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { runs, SEED } from '../../runs.ts';

// biome-ignore lint/suspicious/noExplicitAny: documents are written and rewritten freely here
type Json = Record<string, any>;
const { messy } = (await import(resolve('bench/messy.mjs'))) as { messy: (options: Json) => Json };
const FIRST = SEED + 6;

function contractOf(document: Json, version: number): Contract {
  const named = { ...document, info: { title: 'Canal', version: `${version}.0.0` }, servers: [{ url: `/v${version}` }] };
  const read = readContract(named, `canal.v${version}.json`);
  if (!read.ok) throw new Error(read.message);
  return read.contract;
}

/** What the grid says of each operation in the second version, with paths as the documents write them. */
function standings(contracts: readonly Contract[], openEnumerations?: string): ReadonlyMap<string, string> {
  const place = { file: 'elm-gate.yaml', pointer: '/versioning' };
  const ids = contracts.map((_, i) => String(i + 1));
  const versioning = {
    selector: 'path',
    name: '',
    default: undefined,
    versions: ids,
    missing: 400,
    unknown: 400,
    elsewhere: 404,
  };
  const context = contextOf({
    name: 'canal',
    table: tableFromContracts(contracts, 'canal'),
    tableIsDocument: true,
    contracts,
    versions: ids.map((id) => ({ id, deprecated: undefined, sunset: undefined, place })),
    versioning,
    versionsAt: place,
  } as never);
  const rows = versionGrid(context.versioned(), context.presentVersions(), context.router, { openEnumerations, contracts });
  return new Map(rows.map((r) => [`${r.method} ${r.path}`, r.cells.at(-1)?.standing ?? '']));
}

const touched = (a: Contract, b: Contract, effects: readonly string[]): ReadonlySet<string> =>
  new Set(
    compareContracts(a, b, { versions: ['1', '2'] })
      .changes.filter((c) => effects.includes(c.effect))
      .flatMap((c) => c.touches.flatMap((list) => list.map(({ method, path }) => `${method} ${path}`))),
  );

test('what the grid calls breaking, changed and the same is what the comparison tells of the operation', () => {
  const met: Record<string, number> = {};
  for (let seed = FIRST; seed < FIRST + runs(4); seed++) {
    const [old, now] = [0, 0.04].map((changed) => messy({ components: 30, paths: 8, seed, changed })) as [Json, Json];
    const [first, second, ...others] = Object.keys(old.paths) as [string, string, ...string[]];
    // One goes, one comes, and one is as it was.
    delete now.paths[first];
    delete old.paths[second];
    now.paths[others[0] as string] = old.paths[others[0] as string];
    const contracts = [contractOf(old, 1), contractOf(now, 2)] as const;
    const grid = standings(contracts);
    const [breaking, told] = [
      touched(...contracts, ['breaking']),
      touched(...contracts, ['breaking', 'risky', 'undecided', 'compatible']),
    ];
    for (const [operation, standing] of grid) {
      const [, path = ''] = operation.split(' ');
      met[standing] = (met[standing] ?? 0) + 1;
      if (path === first) expect([operation, standing]).toEqual([operation, 'dropped']);
      else if (path === second) expect([operation, standing]).toEqual([operation, 'new']);
      else {
        const expected = breaking.has(operation) ? 'breaking' : told.has(operation) ? 'changed' : 'same';
        expect([seed, operation, standing]).toEqual([seed, operation, expected]);
      }
    }
  }
  for (const standing of ['breaking', 'changed', 'same', 'dropped', 'new'])
    expect(met[standing] ?? 0, standing).toBeGreaterThan(runs(1));
});

test('an enumeration that is marked as open breaks nothing in the grid either', () => {
  const document = (members: readonly string[]): Json => ({
    openapi: '3.1.0',
    paths: {
      '/locks': {
        get: {
          responses: {
            200: { description: 'All', content: { 'application/json': { schema: { enum: members, 'x-grows': true } } } },
          },
        },
      },
    },
  });
  const contracts = [contractOf(document(['open']), 1), contractOf(document(['open', 'closed']), 2)];
  expect([...standings(contracts).values()]).toEqual(['breaking']);
  expect([...standings(contracts, 'x-grows').values()]).toEqual(['changed']);
});
