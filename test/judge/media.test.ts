/** What clients get, against a plain reading of RFC 9110: follow, media and check say the same. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { contextOf, type Service } from '../../src/core/checks/engine/context.ts';
import { check } from '../../src/core/checks/index.ts';
import { readContract } from '../../src/core/contract/read/read-contract.ts';
import { type ClientProfile, negotiate } from '../../src/core/contract/resources/negotiated.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import type { Router } from '../../src/core/routes/index/router.ts';
import type { RouterSettings } from '../../src/core/routes/table/router-facts.ts';
import { tableOf } from '../core/tables.ts';
import { runs } from '../runs.ts';

const RUNS = runs(350);

interface Type {
  readonly name: string;
  readonly parameter: string;
}

interface Range extends Type {
  readonly weight: string | undefined;
}

const TYPES = ['application/json', 'text/csv', 'application/xml', 'application/problem+json'];
const parameter = fc.constantFrom('', '', '', 'level=1', 'level=2');
const type = fc.record({ name: fc.constantFrom(...TYPES), parameter });
const types = fc.uniqueArray(type, { minLength: 1, maxLength: 3, selector: written });
const range = fc.record({
  name: fc.constantFrom(...TYPES, 'text/*', 'application/*', '*/*'),
  parameter,
  weight: fc.constantFrom(undefined, undefined, '0', '0.5', '1.000', '0.333'),
});
/** What is no range or no weight, and what is left of it. */
const ODD: Readonly<Record<string, Range | undefined>> = {
  json: undefined,
  '*/csv': undefined,
  'text/csv;q=abc': { name: 'text/csv', parameter: '', weight: undefined },
  'text/csv;q=-1': { name: 'text/csv', parameter: '', weight: undefined },
  'application/json;q=0.1234': { name: 'application/json', parameter: '', weight: undefined },
  '*;q=0.5': { name: '*/*', parameter: '', weight: '0.5' },
  '': undefined,
};
const element = fc.oneof(
  { weight: 5, arbitrary: range.map((r) => ({ text: written(r), range: r as Range | undefined })) },
  { weight: 1, arbitrary: fc.constantFrom(...Object.entries(ODD)).map(([text, left]) => ({ text, range: left })) },
);
const accept = fc.option(fc.array(element, { minLength: 1, maxLength: 4 }), { nil: undefined });
/** Content-Type names one type; a range, a list or a word is handled by nobody. */
const sent = fc.option(
  fc.oneof(
    type.map((t) => ({ text: written(t), type: t as Type | undefined })),
    fc.constantFrom('text/*', 'text/csv, application/json', 'json').map((text) => ({ text, type: undefined })),
  ),
  { nil: undefined },
);

function written({ name, parameter: p, weight }: Type & { readonly weight?: string | undefined }): string {
  return `${name}${p === '' ? '' : `;${p}`}${weight === undefined ? '' : `;q=${weight}`}`;
}

interface Row {
  readonly takes: readonly Type[] | undefined;
  readonly returns: readonly Type[] | undefined;
}
const row = fc.record({ takes: fc.option(types, { nil: undefined }), returns: fc.option(types, { nil: undefined }) });
const facts: fc.Arbitrary<RouterSettings> = fc.record(
  {
    unacceptable: fc.constantFrom('refuse', 'send-default'),
    unsupported: fc.constantFrom('refuse', 'read-anyway'),
    mediaParameters: fc.constantFrom('must-match', 'ignored'),
  },
  { requiredKeys: [] },
);

/** RFC 9110, 12.5.1: the most precise range that names the type gives it its quality. */
function quality(ranges: readonly Range[], { name, parameter: p }: Type, useParameters: boolean): number {
  const rank = (r: Range): number => {
    const wild = r.name === '*/*' ? 1 : r.name === `${name.split('/')[0]}/*` ? 2 : r.name === name ? 3 : 0;
    if (wild === 0 || !useParameters || r.parameter === '') return wild;
    return r.parameter === p ? wild + 0.5 : 0;
  };
  const best = Math.max(0, ...ranges.map(rank));
  return best === 0 ? 0 : Math.max(...ranges.filter((r) => rank(r) === best).map((r) => Number(r.weight ?? 1)));
}

function chosen(ranges: readonly Range[] | undefined, offered: readonly Type[], useParameters: boolean): Type | undefined {
  if (ranges === undefined) return offered[0];
  const best = Math.max(...offered.map((t) => quality(ranges, t, useParameters)));
  return best === 0 ? undefined : offered.find((t) => quality(ranges, t, useParameters) === best);
}

interface Answer {
  readonly by: number | undefined;
  readonly status: number | null;
  readonly type: string | undefined;
}

/** Routes of one path are asked one by one; the document counts where none of them names types. */
function reading(
  rows: readonly Row[],
  document: Row | undefined,
  ranges: readonly Range[] | undefined,
  body: { readonly type: Type | undefined } | undefined,
  { unacceptable, unsupported, mediaParameters }: RouterSettings,
): Answer {
  const useParameters = mediaParameters !== 'ignored';
  const documented = {
    takes: rows.some((r) => r.takes !== undefined) ? undefined : document?.takes,
    returns: rows.some((r) => r.returns !== undefined) ? undefined : document?.returns,
  };
  const judged = (r: Row): Answer => {
    const isTaken = (t: Type): boolean =>
      body?.type?.name === t.name && (!useParameters || t.parameter === '' || t.parameter === body.type.parameter);
    const refuses = body !== undefined && unsupported !== 'read-anyway' && r.takes?.some(isTaken) === false;
    if (refuses) return { by: undefined, status: 415, type: undefined };
    const type = r.returns === undefined ? undefined : (chosen(ranges, r.returns, useParameters) ?? 'none');
    if (type === 'none' && unacceptable !== 'send-default') return { by: undefined, status: 406, type: undefined };
    return { by: undefined, status: null, type: type === 'none' ? written(r.returns?.[0] as Type) : type && written(type) };
  };
  const answers = rows.map((r, by) => ({ ...judged(r), by }));
  const first = answers.find((a) => a.status === null);
  if (first === undefined) return { by: undefined, status: Math.min(...answers.map((a) => a.status ?? 999)), type: undefined };
  const told = judged(documented);
  return { by: first.by, status: told.status, type: told.status === null ? (first.type ?? told.type) : undefined };
}

function serviceOf(rows: readonly Row[], document: Row | undefined, settings: RouterSettings, client: ClientProfile): Service {
  const place = { file: 'elm-gate.yaml', pointer: '/clients/0' };
  const list = (of: readonly Type[] | undefined): readonly string[] | undefined => of?.map(written);
  const routes = rows.map(({ takes, returns }, i) => ({
    route: 'POST /locks',
    handler: `h${i}`,
    ...(takes === undefined ? {} : { takes: list(takes) }),
    ...(returns === undefined ? {} : { returns: list(returns) }),
  }));
  const content = (of: readonly Type[] | undefined): object => Object.fromEntries((of ?? []).map((t) => [written(t), {}]));
  const read = readContract(
    {
      openapi: '3.1.0',
      paths: {
        '/locks': {
          post: {
            ...(document?.takes === undefined ? {} : { requestBody: { content: content(document.takes) } }),
            responses: { 200: { description: 'Made', content: content(document?.returns) } },
          },
        },
      },
    },
    'canal.openapi.yaml',
  );
  return {
    name: 'canal',
    table: tableOf(routes as never, { precedence: 'first-declared', ...settings }),
    contracts: document !== undefined && read.ok ? [read.contract] : [],
    clients: [{ ...client, place }],
  };
}

test('follow, media and check answer as the standard has it', () => {
  const met: Record<string, number> = {};
  const rows = fc.array(row, { minLength: 1, maxLength: 3 });
  fc.assert(
    fc.property(rows, fc.option(row, { nil: undefined }), facts, accept, sent, (list, document, settings, asked, body) => {
      const left = asked?.flatMap((e) => e.range ?? []);
      const ranges = left?.length === 0 ? [{ name: '*/*', parameter: '', weight: undefined }] : left;
      const expected = reading(list, document, ranges, body, settings);
      const client: ClientProfile = { name: 'tablet', accept: asked?.map((e) => e.text).join(', '), sends: body?.text };
      const service = serviceOf(list, document, settings, client);
      const context = contextOf(service);
      const headers = {
        ...(client.accept === undefined ? {} : { Accept: client.accept }),
        ...(client.sends === undefined ? {} : { 'Content-Type': client.sends }),
      };
      const followed = follow(context.router as Router, { method: 'POST', target: '/locks', headers });
      const { leaf, status, responseType } = followed;
      const by = leaf === undefined ? undefined : Number(leaf.route.handler.slice(1));
      expect({ by, status, type: responseType?.type }).toEqual(expected);
      met[status ?? 'taken'] = (met[status ?? 'taken'] ?? 0) + 1;
      // One exchange at least takes it, and the settings' client is told of where it is refused.
      for (const exchange of context.exchanges()) {
        const got = negotiate(client, exchange, context.router as Router);
        if (exchange.sends) expect([got.status, got.type]).toEqual([expected.status, expected.type]);
      }
      // An operation that is documented without a body is sent none.
      if (!context.exchanges().some((e) => e.sends) && body !== undefined) return;
      const told = check(service).filter((f) => f.rule === 'media/client');
      expect(told.map((f) => (f.witness?.kind === 'request' ? f.witness.status : undefined))).toEqual(
        expected.status === null ? [] : [expected.status],
      );
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(met['406'] ?? 0, met['415'] ?? 0, met.taken ?? 0)).toBeGreaterThan(RUNS / 20);
});

test('what nobody knows is undecided where it could change the answer, and what is answered holds however it is', () => {
  let [settled, open] = [0, 0];
  const rows = fc.array(row, { minLength: 1, maxLength: 3 });
  fc.assert(
    fc.property(rows, facts, accept, sent, fc.array(type, { maxLength: 2 }), (list, settings, asked, body, guess) => {
      const left = asked?.flatMap((e) => e.range ?? []);
      const ranges = left?.length === 0 ? [{ name: '*/*', parameter: '', weight: undefined }] : left;
      const client: ClientProfile = { name: 'tablet', accept: asked?.map((e) => e.text).join(', '), sends: body?.text };
      const headers = {
        ...(client.accept === undefined ? {} : { Accept: client.accept }),
        ...(client.sends === undefined ? {} : { 'Content-Type': client.sends }),
      };
      const service = serviceOf(list, undefined, { ...settings, undeclared: 'unknown' }, client);
      const { outcome, leaf, status } = follow(contextOf(service).router as Router, {
        method: 'POST',
        target: '/locks',
        headers,
      });
      // Whatever they take and return in truth, all the same or each its own: a type that somebody names, or one that nobody does.
      const other = { name: 'image/x-other', parameter: '' };
      const truths = [
        guess.length === 0 ? [other] : guess,
        [other],
        undefined,
        ...TYPES.map((name) => [{ name, parameter: '' }]),
      ];
      const answers = truths.flatMap((takes) =>
        truths.map((returns) => {
          const { by, status: s } = reading(
            list.map((r) => ({ takes: r.takes ?? takes, returns: r.returns ?? returns })),
            undefined,
            ranges,
            body,
            settings,
          );
          return `${by} ${s}`;
        }),
      );
      if (outcome === 'undecided') {
        open += 1;
        return;
      }
      settled += 1;
      const mine = `${leaf === undefined ? undefined : Number(leaf.route.handler.slice(1))} ${status}`;
      expect(new Set(answers)).toEqual(new Set([mine]));
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(settled, open)).toBeGreaterThan(RUNS / 20);
});
