/** Documents as they are found in the wild: unions that overlap, inheritance, maps, circles. */
import { resolve } from 'node:path';
import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { expect, test } from 'vitest';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { runs, SEED } from '../../runs.ts';

// biome-ignore lint/suspicious/noExplicitAny: documents are written and rewritten freely here
type Json = Record<string, any>;
const { messy } = (await import(resolve('bench/messy.mjs'))) as { messy: (options: Json) => Json };

const compared = (old: Json, now: Json) => {
  const [a, b] = [old, now].map((d) => readContract(d, 'canal.json'));
  if (!a?.ok || !b?.ok) throw new Error('not read');
  return compareContracts(a.contract, b.contract, { versions: [] }).changes;
};
const turned = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(turned);
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).map(([k, v]) => [k, turned(v)] as const);
  return Object.fromEntries(entries.reverse());
};
const SIDES = ['readOnly', 'writeOnly'];
const plain = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(plain);
  if (typeof value !== 'object' || value === null) return value;
  const kept = Object.entries(value).filter(([k]) => !SIDES.includes(k));
  return Object.fromEntries(kept.map(([k, v]) => [k === 'oneOf' ? 'anyOf' : k, plain(v)]));
};

test.each(['3.0.3', '3.1.0'])('%s, with other names of components and another order of keys: nothing changed', (edition) => {
  for (let seed = SEED; seed < SEED + 5; seed++) {
    const old = messy({ components: 40, paths: 6, seed, edition });
    const renamed = JSON.parse(JSON.stringify(old).replaceAll(/schemas\/(?=[A-Z])/gu, 'schemas/New')) as Json;
    renamed.components.schemas = Object.fromEntries(
      Object.entries<Json>(renamed.components.schemas).map(([name, schema]) => [`New${name}`, schema]),
    );
    const now = turned(renamed) as Json;
    // The order of media types and of methods counts, or is made anew.
    now.paths = renamed.paths;
    expect(compared(old, now).map((c) => `${seed} ${c.effect} ${c.rule} ${c.value}`)).toEqual([]);
  }
});

test('what is shown of changed documents is what another validator sees', () => {
  const ajv = new Ajv2020.default({ strict: false, logger: false });
  addFormats.default(ajv, ['date', 'date-time', 'uuid', 'uri', 'email', 'hostname', 'ipv4', 'int32', 'int64']);
  let shown = 0;
  for (let seed = SEED; seed < SEED + runs(2); seed++) {
    const [old, now] = [0, 0.2].map((changed) => plain(messy({ components: 30, paths: 5, seed, changed })) as Json) as [
      Json,
      Json,
    ];
    for (const { at, witness } of compared(old, now)) {
      if (witness?.kind !== 'value' || witness.lost !== undefined || at.part === 'parameter') continue;
      const judge = (d: Json): boolean | undefined => {
        const found = (node: Json): Json => (node.$ref === undefined ? node : d.components.responses[node.$ref.split('/').pop()]);
        const operation = d.paths[at.path][at.method.toLowerCase()];
        const { content } = at.part === 'request' ? operation.requestBody : found(operation.responses[at.status as string]);
        ajv.removeSchema();
        try {
          return ajv.validate({ ...content[at.media as string].schema, components: d.components }, witness.body);
        } catch (error) {
          // It never ends where a schema is one of its own forms.
          if (error instanceof RangeError) return undefined;
          throw error;
        }
      };
      const [first, second] = witness.validUnder === 'old' ? [old, now] : [now, old];
      expect([seed, witness.body, judge(first) ?? true, judge(second) ?? false]).toEqual([seed, witness.body, true, false]);
      shown += 1;
    }
  }
  expect(shown).toBeGreaterThan(runs(5));
});
