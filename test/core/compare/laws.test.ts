/** What one comparison says of another: turned round, taken together, one after the other. */
import { resolve } from 'node:path';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Change } from '../../../src/core/compare/changes/change.ts';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { deserialize } from '../../../src/core/contract/request/parse-values.ts';
import { findInhabitant } from '../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../src/core/schema/validate/validate.ts';
import { runs, SEED } from '../../runs.ts';
import { plainSchemas, schemaFrom } from '../schemas.ts';

// biome-ignore lint/suspicious/noExplicitAny: documents are written and rewritten freely here
type Json = Record<string, any>;
const { messy } = (await import(resolve('bench/messy.mjs'))) as { messy: (options: Json) => Json };
const RUNS = runs(60);
const FIRST = SEED + 6;

function compared(old: Json, now: Json): readonly Change[] {
  const [a, b] = [old, now].map((d) => readContract(d, 'canal.json'));
  if (!a?.ok || !b?.ok) throw new Error('not read');
  return compareContracts(a.contract, b.contract, { versions: [] }).changes;
}

const document = (paths: Json): Json => ({ openapi: '3.1.0', info: { title: 'Canal', version: '1.0.0' }, paths });
const json = (schema: unknown): Json => ({ content: { 'application/json': { schema } } });
const takes = (schema: unknown): Json => ({ post: { requestBody: json(schema), responses: { 204: {} } } });
const answers = (schema: unknown): Json => ({ get: { responses: { 200: json(schema) } } });
const effects = (changes: readonly Change[], effect: Change['effect']): readonly Change[] =>
  changes.filter((c) => c.effect === effect);
const grown = fc.oneof(
  fc.tuple(plainSchemas, plainSchemas),
  fc.tuple(plainSchemas, plainSchemas).map(([a, b]) => [a, { allOf: [a, b] }] as const),
  fc.tuple(plainSchemas, plainSchemas).map(([a, b]) => [{ anyOf: [a, b] }, a] as const),
);

test('what a request breaks an answer the other way round breaks, and the same value shows it', () => {
  let broken = 0;
  fc.assert(
    fc.property(grown, ([a, b]) => {
      const request = compared(document({ '/locks': takes(a) }), document({ '/locks': takes(b) }));
      const answer = compared(document({ '/locks': answers(b) }), document({ '/locks': answers(a) }));
      if (effects([...request, ...answer], 'undecided').length > 0) return;
      const [sent, sentBack] = [effects(request, 'breaking'), effects(answer, 'breaking')];
      broken += sent.length;
      if (sent.length > 0) expect(sentBack).not.toEqual([]);
      // Beside that an answer may only lose something.
      const lost = ['versions/response-property-lost', 'versions/response-paged'];
      if (sent.length === 0) expect(sentBack.map((c) => c.rule).filter((rule) => !lost.includes(rule))).toEqual([]);
      for (const { witness } of [...sent, ...sentBack]) {
        if (witness?.kind !== 'value' || witness.lost !== undefined) continue;
        // As a sender means it, and as a taker takes it.
        const held = [
          isValid(schemaFrom(a), witness.body, 'either', 'producer'),
          isValid(schemaFrom(b), witness.body, 'either', 'consumer'),
        ];
        expect([witness.body, ...held]).toEqual([witness.body, true, false]);
      }
    }),
    { numRuns: RUNS },
  );
  expect(broken).toBeGreaterThan(RUNS / 10);
});

test('what breaks from the first version to the third breaks on the way', () => {
  let breaks = 0;
  const versions = fc.tuple(plainSchemas, plainSchemas, plainSchemas);
  fc.assert(
    fc.property(versions, fc.constantFrom(takes, answers), ([a, b, c], as) => {
      const [old, mid, now] = [a, b, c].map((s) => document({ '/locks': as(s) })) as [Json, Json, Json];
      const [first, second, both] = [compared(old, mid), compared(mid, now), compared(old, now)];
      if (effects([...first, ...second, ...both], 'undecided').length > 0) return;
      breaks += effects(both, 'breaking').length;
      if (effects(both, 'breaking').length > 0) expect(effects([...first, ...second], 'breaking')).not.toEqual([]);
    }),
    { numRuns: RUNS },
  );
  expect(breaks).toBeGreaterThan(RUNS / 10);
});

test('operations that share nothing are told of as if they stood alone, in whatever order', () => {
  const told = (changes: readonly Change[]): readonly string[] =>
    changes.map(({ effect, rule, at, value, message }) => JSON.stringify([effect, rule, at, value, message])).sort();
  fc.assert(
    fc.property(fc.array(grown, { minLength: 2, maxLength: 4 }), (pairs) => {
      const whole = (side: 0 | 1, turned: boolean): Json => {
        const items = pairs.map((p, i) => [`/lock${i}`, { ...takes(p[side]), ...answers(p[side]) }] as const);
        return document(Object.fromEntries(turned ? items.reverse() : items));
      };
      const alone = pairs.flatMap((p, i) =>
        compared(
          document({ [`/lock${i}`]: { ...takes(p[0]), ...answers(p[0]) } }),
          document({ [`/lock${i}`]: { ...takes(p[1]), ...answers(p[1]) } }),
        ),
      );
      expect(told(compared(whole(0, false), whole(1, true)))).toEqual(told(alone));
    }),
    { numRuns: RUNS / 3 },
  );
});

/** What a parameter or a header may be, and texts that tell such schemas apart. */
const scalar = fc.oneof(
  fc.record({ type: fc.constantFrom('integer', 'number', 'string', 'boolean') }),
  fc.record({
    type: fc.constant('integer'),
    minimum: fc.integer({ min: -3, max: 8 }),
    maximum: fc.integer({ min: 5, max: 12 }),
  }),
  fc.record({ type: fc.constant('string'), minLength: fc.nat(3), maxLength: fc.integer({ min: 3, max: 6 }) }),
  fc.record({ type: fc.constant('string'), pattern: fc.constantFrom('^[a-z]+$', '^[0-9]{1,2}$', 'e') }),
  fc.record({ enum: fc.uniqueArray(fc.constantFrom('elm', 'tarn', '7', 7, 12, true), { minLength: 1 }) }),
);
const schema = fc.oneof(
  scalar,
  fc.record({ type: fc.constant('array'), items: scalar, maxItems: fc.integer({ min: 1, max: 3 }) }),
);
const texts = ['', '7', '-2', '12', '7.5', 'true', 'elm', 'tarn', 'elm,tarn', '7,12', 'true,elm', 'a', 'abcdefg', '99', '100'];

/** Does some value that the text stands for fit? */
function takesText(raw: object, style: 'form' | 'simple', text: string): boolean {
  const schema = schemaFrom(raw);
  const read = deserialize({ style, explode: false, schema }, [text]);
  return read !== undefined && isValid(schema, read.value);
}

test('a text that the old parameter took and the new one refuses is told, and the one that is told is such a text', () => {
  const side = fc.record({ required: fc.boolean(), explode: fc.constant(false), schema });
  let refused = 0;
  fc.assert(
    fc.property(side, side, (a, b) => {
      const [old, now] = [a, b].map((p) => document({ '/locks': { get: { parameters: [{ name: 'p', in: 'query', ...p }] } } }));
      const changes = compared(old as Json, now as Json);
      const rules = changes.filter((c) => c.effect === 'breaking').map((c) => c.rule);
      const shown = changes.find((c) => c.rule === 'versions/parameter-narrowed');
      if (!a.required && b.required) expect(rules).toContain('versions/parameter-required');
      const lost = texts.filter((t) => takesText(a.schema, 'form', t) && !takesText(b.schema, 'form', t));
      refused += lost.length;
      if (lost.length > 0) expect([lost, shown?.effect]).toEqual([lost, 'breaking']);
      if (shown?.witness?.kind !== 'value') return;
      const { body } = shown.witness;
      const text = Array.isArray(body) ? body.join(',') : String(body);
      expect([text, takesText(a.schema, 'form', text), takesText(b.schema, 'form', text)]).toEqual([text, true, false]);
    }),
    { numRuns: RUNS },
  );
  expect(refused).toBeGreaterThan(RUNS);
});

test('a text that the new header may be and the old one was not is told, and the one that is told is such a text', () => {
  let widened = 0;
  fc.assert(
    fc.property(schema, schema, fc.boolean(), fc.boolean(), (a, b, was, is) => {
      const answered = (raw: object, required: boolean): Json =>
        document({ '/locks': { get: { responses: { 200: { headers: { 'X-Lock': { required, schema: raw } } } } } } });
      const breaking = effects(compared(answered(a, was), answered(b, is)), 'breaking');
      const rules = breaking.map((c) => c.rule);
      expect(rules.includes('versions/response-header-optional')).toBe(was && !is);
      const more = texts.filter((t) => takesText(b, 'simple', t) && !takesText(a, 'simple', t));
      const shown = breaking.find((c) => c.rule === 'versions/response-header-widened');
      widened += more.length;
      if (more.length > 0) expect([more, shown?.effect]).toEqual([more, 'breaking']);
      if (shown?.witness?.kind !== 'value') return;
      const { body } = shown.witness;
      const text = Array.isArray(body) ? body.join(',') : String(body);
      expect([text, takesText(b, 'simple', text), takesText(a, 'simple', text)]).toEqual([text, true, false]);
    }),
    { numRuns: RUNS },
  );
  expect(widened).toBeGreaterThan(RUNS);
});

/** Can nobody send such a body? Then it is told of what it leads to, and can't show it. */
function isUnsendable(d: Json, method: string, path: string, part: string): boolean {
  const read = readContract(d, 'canal.json');
  if (!read.ok) throw new Error('not read');
  const operation = read.contract.operations.find((o) => o.method === method && o.path === path);
  const content = part === 'request' ? operation?.body?.content : operation?.responses.flatMap((r) => r.content);
  const side = part === 'request' ? 'request' : 'response';
  return content?.some(({ schema }) => schema !== undefined && findInhabitant(schema, side).kind === 'none') === true;
}

test('the more was changed, the more is told: none is lost among others', () => {
  let shown = 0;
  for (let seed = FIRST; seed < FIRST + runs(2); seed++) {
    const [old, now] = [0, 0.15].map((changed) => messy({ components: 14, paths: 4, seed, changed })) as [Json, Json];
    const whole = compared(old, now);
    const named = (list: Change['touches'][number]): readonly string[] => list.map((a) => `${a.method} ${a.path} ${a.part}`);
    if (effects(whole, 'undecided').length > 0) continue;
    const touched = new Set(effects(whole, 'breaking').flatMap((c) => c.touches.flatMap(named)));
    // Each operation by itself, against all of them at once.
    for (const [path, item] of Object.entries(old.paths) as [string, Json][]) {
      for (const method of Object.keys(item).filter((m) => m !== 'parameters')) {
        const only = (d: Json): Json => ({ [path]: { parameters: d.paths[path].parameters, [method]: d.paths[path][method] } });
        const alone = compared({ ...old, paths: only(old) }, { ...now, paths: only(now) });
        if (effects(alone, 'undecided').length > 0) continue;
        const own = new Set(effects(alone, 'breaking').flatMap((c) => c.touches.flatMap(named)));
        const upper = method.toUpperCase();
        const mine = [...touched].filter((t) => t.startsWith(`${upper} ${path} `));
        const idle = (t: string): boolean => {
          const part = t.split(' ')[2] ?? '';
          return !own.has(t) && isUnsendable(part === 'request' ? old : now, upper, path, part);
        };
        expect([seed, ...own].sort()).toEqual([seed, ...mine.filter((t) => !idle(t))].sort());
        shown += own.size;
      }
    }
  }
  expect(shown).toBeGreaterThan(runs(8));
});
