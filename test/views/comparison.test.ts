/** What is printed of a comparison, and what is written as JSON, against the changes themselves. */
import { resolve } from 'node:path';
import { expect, test } from 'vitest';
import { EFFECTS } from '../../src/core/compare/changes/change.ts';
import { CHANGE_RULES } from '../../src/core/compare/changes/rules/index.ts';
import { type Comparison, compareContracts } from '../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../src/core/contract/read/read-contract.ts';
import { type ComparisonView, comparisonJson, comparisonText } from '../../src/views/comparison.ts';
import { terminal } from '../../src/views/terminal.ts';
import { together } from '../../src/views/together.ts';
import { touchedBy } from '../../src/views/touched.ts';
import { SEED } from '../runs.ts';

// biome-ignore lint/suspicious/noExplicitAny: documents are written and rewritten freely here
type Json = Record<string, any>;
const { messy } = (await import(resolve('bench/messy.mjs'))) as { messy: (options: Json) => Json };
const FIRST = SEED + 6;
const SEEDS = [0, 1, 3, 4].map((n) => FIRST + n);

function compared(seed: number): Comparison {
  const [a, b] = [0, 0.1].map((changed) => {
    const read = readContract(messy({ components: 40, paths: 8, seed, changed }), 'canal.json');
    if (!read.ok) throw new Error(read.message);
    return read.contract;
  });
  return compareContracts(a as never, b as never, { versions: [] });
}

const CALLERS = [
  { name: 'lock-keeper app', accept: 'application/json', sends: 'application/json' },
  { name: 'signal box', accept: 'text/csv', sends: 'text/csv' },
] as ComparisonView['callers'];
const viewOf = (comparison: Comparison, all: boolean): ComparisonView => ({
  comparison,
  names: ['old', 'new'],
  locate: () => ({ line: 7, column: 5 }),
  contentOf: () => undefined,
  callers: CALLERS,
  all,
});

test.each(SEEDS)('%i: the JSON holds every change, whole, with all that it touches once for each time', (seed) => {
  const comparison = compared(seed);
  const json = JSON.parse([...comparisonJson(viewOf(comparison, false))].join(''));
  expect([json.verdict, json.claimed]).toEqual([comparison.verdict, comparison.claimed]);
  expect(json.changes).toHaveLength(comparison.changes.length);
  for (const [i, change] of comparison.changes.entries()) {
    const told = json.changes[i];
    expect(CHANGE_RULES).toHaveProperty([told.rule]);
    expect(told).toMatchObject({
      rule: change.rule,
      effect: change.effect,
      operation: { method: change.at.method, path: change.at.path },
      message: change.message,
      undecided: change.undecided,
    });
    expect(told.witness).toEqual(change.witness === undefined ? null : JSON.parse(JSON.stringify(change.witness)));
    expect(told.affects).toEqual(JSON.parse(JSON.stringify(change.touches.flat())));
    for (const place of [told.old, told.new])
      if (place !== null) expect(place).toMatchObject({ file: 'canal.json', line: 7, column: 5 });
  }
});

test.each(
  SEEDS,
)('%i: the counts come first, each change that is not compatible is told, and what it touches is counted once', (seed) => {
  const comparison = compared(seed);
  const counts = EFFECTS.map((effect) => [effect, comparison.changes.filter((c) => c.effect === effect).length] as const);
  for (const all of [false, true]) {
    const text = comparisonText(viewOf(comparison, all), terminal(100, false));
    const [head = '', ...blocks] = text.trimEnd().split('\n\n');
    for (const [effect, n] of counts) expect(head.replaceAll('\n', ' ').includes(`${n} ${effect}`)).toBe(n > 0);
    const shown = comparison.changes.filter((c) => all || c.effect !== 'compatible');
    const told = blocks.filter((b) => /^(?:breaking|risky|undecided|compatible) /u.test(b));
    const groups = together(
      shown,
      touchedBy(({ method, path }) => `${method} ${path}`),
    );
    expect(told.map((b) => b.split(' ')[0])).toEqual(groups.map((g) => g.first.effect));
    expect(groups.reduce((n, g) => n + 1 + g.also.length, 0)).toBe(shown.length);
    const hidden = comparison.changes.length - shown.length;
    expect(text.includes('not shown; --all lists them')).toBe(hidden > 0);
    for (const [i, { first: change, also }] of groups.entries()) {
      const block = (told[i] as string).replaceAll(/\n +/gu, ' ');
      const operations = new Set(change.touches.flat().map(({ method, path }) => `${method} ${path}`));
      expect(/ also {5}(.*?) rule {5}/u.exec(block)?.[1] ?? '').toBe(also.join(', ').replaceAll(/ +/gu, ' '));
      const more = /touches +.*? and (\d+) more/u.exec(block)?.[1];
      expect([change.rule, more ?? 'none']).toEqual([change.rule, operations.size > 6 ? String(operations.size - 6) : 'none']);
      // Who sends or accepts JSON is touched by JSON, and nobody else.
      const isJson = change.at.media === 'application/json';
      if (change.at.media !== null)
        expect([change.rule, block.includes('clients  lock-keeper app')]).toEqual([change.rule, isJson]);
    }
  }
});

test('what goes from one schema is told together, each name once, and apart where it touches others', () => {
  const lost = (name: string, path: string, place = '/lock') => ({
    ...{
      rule: 'versions/response-property-lost',
      effect: 'breaking',
      parameter: null,
      message: `${name} is no longer returned`,
    },
    ...{ old: { file: 'a', pointer: place }, new: undefined, at: { part: 'response' }, touches: [[{ path }]] },
  });
  const changes = [lost('id', '/locks'), lost('rise', '/gates'), lost('the note', '/locks'), lost('id', '/locks', '/gate')];
  const groups = together(
    changes as never,
    touchedBy(({ path }) => path),
  );
  expect(groups.map((g) => [changes.indexOf(g.first as never), ...g.also])).toEqual([[0, 'the note'], [1], [3]]);
});

test('an operation that stands in several lists is one, and is named once', () => {
  const at = (path: string) => ({ method: 'GET', path, part: 'response' as const, status: '200', media: null });
  const [first, second] = [
    [at('/locks'), at('/gates'), at('/locks')],
    [at('/gates'), at('/tolls')],
  ];
  let asked = 0;
  const touched = touchedBy(({ path }) => {
    asked += 1;
    return path;
  });
  const change = (...touches: readonly (typeof first)[]) => ({ touches }) as never;
  for (let i = 0; i < 3; i++) {
    for (const [lists, names] of [
      [
        [first, second],
        ['/locks', '/gates', '/tolls'],
      ],
      [[second], ['/gates', '/tolls']],
      [[], []],
    ] as const) {
      const operations = touched(change(...lists));
      expect([operations.size, operations.first(9), operations.first(2)]).toEqual([names.length, names, names.slice(0, 2)]);
    }
  }
  expect(asked).toBe(3);
});
