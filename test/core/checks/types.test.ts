/** The type of a parameter in the route and in the document, against requests that were followed one by one. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { check } from '../../../src/core/checks/index.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { deserialize } from '../../../src/core/contract/request/parse-values.ts';
import { follow } from '../../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../../src/core/routes/index/router.ts';
import { isValid } from '../../../src/core/schema/validate/validate.ts';
import { runs } from '../../runs.ts';
import { schemaFrom } from '../schemas.ts';
import { tableOf } from '../tables.ts';

const RUNS = runs(220);
const TEXTS = [
  '7',
  '0',
  '-3',
  '42',
  '100',
  '1234',
  'elm',
  'Elm',
  'a',
  'ab-1',
  'TE-4821',
  'open',
  '7.5',
  '2027-03-14',
  'true',
  '3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b',
];

const routeTypes = fc.constantFrom(
  'int',
  'uint',
  'int(1..99)',
  'uuid',
  'date',
  'alpha',
  'slug',
  'bool',
  '[A-Z]{2}-[0-9]{4}',
  'among(open,elm)',
  '',
);
const bound = fc.integer({ min: -5, max: 120 });
const documentTypes = fc.oneof(
  fc.record({ type: fc.constant('integer'), minimum: bound, maximum: bound }, { requiredKeys: ['type'] }),
  fc.record({ type: fc.constant('string'), minLength: fc.nat(3), maxLength: fc.nat(8) }, { requiredKeys: ['type'] }),
  fc.record({ type: fc.constant('string'), format: fc.constantFrom('uuid', 'date') }),
  fc.record({ type: fc.constant('string'), pattern: fc.constantFrom('^[a-z]+$', '^[A-Z]{2}-[0-9]{4}$', '^[0-9]+$') }),
  fc.record({ type: fc.constant('string'), enum: fc.uniqueArray(fc.constantFrom('open', 'elm', '7', 'a'), { minLength: 1 }) }),
  fc.constant({ type: 'boolean' }),
);

const RELATIONS = ['types/clash', 'types/refuses-documented', 'types/takes-undocumented'];

/** Which of the sample the route takes, which the document has, and what the checks say of the two. */
function sides(type: string, schema: object, refusal: object) {
  const table = tableOf([`GET /locks/{lockId${type === '' ? '' : `:${type}`}} -> locks.read`], refusal);
  const parameters = [{ name: 'lockId', in: 'path', required: true, schema }];
  const read = readContract(
    { openapi: '3.1.0', info: { title: 'Canal', version: '1.0.0' }, paths: { '/locks/{lockId}': { get: { parameters } } } },
    'canal.openapi.yaml',
  );
  if (!read.ok) throw new Error(read.message);
  const router = buildRouter(table);
  const parameter = { name: 'lockId', in: 'path', style: 'simple', explode: false, schema: schemaFrom(schema) } as const;
  const documented = (text: string): boolean => {
    const value = deserialize(parameter, [text]);
    return value !== undefined && isValid(parameter.schema, value.value);
  };
  const taken = (text: string): boolean =>
    follow(router, { method: 'GET', target: `/locks/${encodeURIComponent(text)}`, headers: {} }).outcome === 'routed';
  const findings = check({ name: 'canal', table, contracts: [read.contract] });
  return { documented, taken, router, found: findings.filter((f) => RELATIONS.includes(f.rule)) };
}

test('whatever one side takes and the other does not is told, and nothing is told of two that take the same', () => {
  const told: Record<string, number> = {};
  fc.assert(
    fc.property(routeTypes, documentTypes, fc.constantFrom('in-match', 'after-match'), (type, schema, types) => {
      const { documented, taken, found } = sides(type, schema, { types });
      if (!TEXTS.some(documented)) return;
      const rules = found.map((f) => f.rule);
      for (const rule of rules) told[rule] = (told[rule] ?? 0) + 1;
      const refused = TEXTS.filter((t) => documented(t) && !taken(t));
      const more = TEXTS.filter((t) => taken(t) && !documented(t));
      expect(rules.length).toBeLessThan(2);
      const all = JSON.stringify({ refused, more, rules });
      if (refused.length > 0) expect(['types/clash', 'types/refuses-documented'], all).toContain(rules[0]);
      else if (more.length > 0) expect(RELATIONS, all).toContain(rules[0]);
      if (rules[0] === 'types/clash')
        expect(
          TEXTS.filter((t) => documented(t) && taken(t)),
          all,
        ).toEqual([]);
      if (rules[0] === 'types/takes-undocumented') expect(refused, all).toEqual([]);
    }),
    { numRuns: RUNS },
  );
  for (const rule of RELATIONS) expect(told[rule] ?? 0, rule).toBeGreaterThan(RUNS / 50);
});

test('the request of a finding does what the finding says', () => {
  let shown = 0;
  fc.assert(
    fc.property(routeTypes, documentTypes, (type, schema) => {
      const { documented, router, found } = sides(type, schema, {});
      for (const { rule, witness } of found) {
        if (witness?.kind !== 'request') continue;
        const text = decodeURIComponent(witness.request.target.split('/').at(-1) ?? '');
        const { outcome } = follow(router, witness.request);
        shown += 1;
        // Shown is what is documented and refused, where anything is; otherwise what is taken and was never documented.
        const expected = rule === 'types/takes-undocumented' ? ['routed', false] : ['not-found', true];
        expect([rule, text, outcome, documented(text)]).toEqual([rule, text, ...expected]);
      }
    }),
    { numRuns: RUNS },
  );
  expect(shown).toBeGreaterThan(RUNS / 4);
});
