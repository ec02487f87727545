/** What each client gets from each operation, in which form: a grid of operations by media types. */

import { grouped } from '../core/base/grouped.ts';
import type { Context } from '../core/checks/engine/context.ts';
import { type ClientProfile, type Exchange, type NegotiationResult, negotiate } from '../core/contract/resources/negotiated.ts';
import { readAccept } from '../core/media/ranges.ts';
import { acceptFor } from '../core/media/select.ts';
import type { Router } from '../core/routes/index/router.ts';
import { countsParameters } from '../core/routes/table/router-facts.ts';
import { type Column, columnsOf } from './media-columns.ts';
import { shortened } from './shorten.ts';
import { count, type Terminal, widthOf, wrap } from './terminal.ts';

export interface MediaView {
  readonly context: Context;
  readonly callers: readonly ClientProfile[];
}

/** What everybody gets: who sends no Accept first, then the clients of the settings, then those that are asked for. */
export function mediaView(context: Context, asked: readonly ClientProfile[] = []): MediaView {
  const plain = { name: 'no Accept', accept: undefined, sends: undefined };
  return { context, callers: [plain, ...(context.service.clients ?? []), ...asked] };
}

/** Operations with the same types, which get the same answers. */
interface Block {
  readonly exchanges: readonly [Exchange, ...Exchange[]];
  readonly got: readonly NegotiationResult[];
}

type Cell = 'both' | 'takes' | 'returns' | 'never' | 'asked' | 'default' | 'none';

const SIGNS: Readonly<Record<Cell, string>> = {
  both: '⇄',
  takes: '→',
  returns: '←',
  never: '✗',
  asked: '●',
  default: '○',
  none: '·',
};

const LEGEND: readonly (readonly [Cell, string])[] = [
  ['takes', 'accepted'],
  ['returns', 'returned'],
  ['both', 'accepted and returned'],
  ['never', 'returned, but no Accept selects it'],
  ['asked', 'what the client gets'],
  ['default', 'by default, the first declared'],
];

/** Operations with the same types stand together, and under them what each client gets: who sends no Accept comes first. */
export function mediaText({ context, callers }: MediaView, terminal: Terminal, all: boolean): string {
  const { paint } = terminal;
  const useParameters = countsParameters(context.router?.facts);
  const blocks = blocksOf({ context, callers });
  const operations = context.exchanges();
  const types = typesOf(operations);
  const shown = blocks.flatMap((b) => rowsOf(b, all));
  const longest = Math.min(Math.max(24, ...shown.map((r) => widthOf(r)), ...callers.map((c) => c.name.length + 2)), 48);
  const { columns, first } = fitting(types, longest, terminal.width - 2);
  const hidden = types.slice(columns.length);
  const used = new Set<Cell>();
  const cell = (state: Cell): string => {
    if (state !== 'none') used.add(state);
    return signOf(state, terminal);
  };
  const names = shortened([...shown, ...callers.map((c) => `  ${c.name}`)], first);
  const line = (name: string, states: readonly Cell[], more = ''): string => {
    const cells = states.map((s, i) => cell(s) + ' '.repeat((columns[i] as Column).width - 1));
    return `${(names.get(name) ?? name).padEnd(first + 2)}${cells.join('')}${more}`.trimEnd();
  };
  const texts = blocks.map((block) => {
    const [exchange] = block.exchanges;
    const own = columns.map(({ type }) => stateOf(exchange, type, useParameters));
    const rows = rowsOf(block, all);
    const lines = rows.map((name, i) => (i === rows.length - 1 && isRest(block, all) ? paint.dim(name) : line(name, own)));
    const also = hidden.flatMap((type) => {
      const state = stateOf(exchange, type, useParameters);
      return state === 'none' ? [] : `${cell(state)} ${type}`;
    });
    const others = also.length === 0 ? [] : [wrap(`also ${also.join(', ')}`, terminal, '  ', '    ')];
    return [...lines, ...others, ...gotLines(block, columns, line, terminal)].join('\n');
  });
  const head = ' '.repeat(first + 2) + columns.map((c) => c.label.padEnd(c.width)).join('');
  return [
    types.length === 0 ? '' : `${paint.dim(head.trimEnd())}\n`,
    `${texts.join('\n\n')}\n\n`,
    ...keyLines({ context, callers }, columns, used, terminal),
    `${wrap(summary({ context, callers }, operations.length, !all && blocks.some((b) => isRest(b, all))), terminal)}\n`,
  ].join('');
}

/** What the signs and the short names of types stand for, and what an Accept was read as. */
function keyLines(
  { callers }: MediaView,
  columns: readonly Column[],
  used: ReadonlySet<Cell>,
  terminal: Terminal,
): readonly string[] {
  const { paint } = terminal;
  const legend = LEGEND.filter(([state]) => used.has(state)).map(([state, words]) => `${signOf(state, terminal)} ${words}`);
  const named = columns.filter((c) => c.label !== c.type).map((c) => `${c.label} = ${c.type}`);
  const types = named.length > 4 ? named.join('\n') : wrap(named.join(', '), terminal);
  const notes = callers.flatMap((c) =>
    c.accept === undefined ? [] : readAccept(c.accept).notes.map((n) => `Accept of ${c.name}: ${n}.`),
  );
  return [
    legend.length === 0 ? '' : `${wrap(legend.join('   '), terminal)}\n`,
    named.length === 0 ? '' : `${paint.dim(types)}\n`,
    ...notes.map((note) => `${wrap(note, terminal)}\n`),
  ];
}

function summary({ context, callers }: MediaView, operations: number, isFolded: boolean): string {
  const none =
    callers.length === 1 ? ' Name clients: in elm-gate.yaml to see what each of them gets, or ask with --accept and --send.' : '';
  const rest = isFolded ? ' --all prints every operation on a line of its own.' : '';
  return `${count(operations, 'operation')} of ${context.service.name}.${none}${rest}`;
}

const STATUS = 8;
const LEAST_NAME = 24;

/** The types that have a column, those of the most operations, and how wide the names before them may be. */
function fitting(
  types: readonly string[],
  longest: number,
  width: number,
): { readonly columns: readonly Column[]; readonly first: number } {
  const columns = columnsOf(types, width - longest - STATUS);
  const room = (all: readonly Column[]): number => width - all.reduce((sum, c) => sum + c.width, 0);
  let shown = columns;
  while (shown.length > 1 && room(shown) < Math.min(longest, LEAST_NAME)) shown = shown.slice(0, -1);
  return { columns: shown, first: Math.min(longest, Math.max(Math.min(longest, LEAST_NAME), room(shown))) };
}

/** So many operations of a block are named where not all are asked for. */
const MOST = 5;

function isRest({ exchanges }: Block, all: boolean): boolean {
  return !all && exchanges.length > MOST + 1;
}

function rowsOf(block: Block, all: boolean): readonly string[] {
  const names = block.exchanges.map((e) => `${e.endpoint.method} ${e.endpoint.path.text}`);
  return isRest(block, all) ? [...names.slice(0, MOST), `and ${names.length - MOST} more`] : names;
}

function blocksOf({ context, callers }: MediaView): readonly Block[] {
  const { router } = context;
  const all = context.exchanges().map((exchange) => ({
    exchange,
    got: router === undefined ? [] : callers.map((c) => negotiate(c, exchange, router)),
  }));
  const blocks = grouped(all, ({ exchange: { sends, takes, returns }, got }) =>
    JSON.stringify([sends ? takes : '-', returns, got.map((g) => [g.type, g.status, g.byDefault, takerOf(g)])]),
  ).map((group): Block => ({ exchanges: group.map((g) => g.exchange) as unknown as Block['exchanges'], got: group[0].got }));
  // Those that leave somebody without an answer are what one looks for.
  const refused = (b: Block): number => b.got.filter((g) => g.status === 406 || g.status === 415).length;
  return blocks.sort((a, b) => refused(b) - refused(a));
}

/** Who answers where it is none of the exchange's own routes. */
function takerOf({ elsewhere, following }: NegotiationResult): string | undefined {
  return elsewhere ? following.leaf?.route.handler : undefined;
}

/** The types of all operations, those of the most first. */
function typesOf(exchanges: readonly Exchange[]): readonly string[] {
  const counts = new Map<string, number>();
  for (const e of exchanges) {
    for (const type of new Set([...(e.sends ? e.takes : []), ...e.returns])) counts.set(type, (counts.get(type) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1]).map(([type]) => type);
}

function stateOf({ takes, returns, sends }: Exchange, type: string, useParameters: boolean): Cell {
  const taken = sends && takes.includes(type);
  const at = returns.indexOf(type);
  if (at < 0) return taken ? 'takes' : 'none';
  if (acceptFor(returns, at, useParameters) === undefined) return 'never';
  return taken ? 'both' : 'returns';
}

/** What each client gets; clients that get the same nothing are one line. */
function gotLines(
  { exchanges, got }: Block,
  columns: readonly Column[],
  line: (name: string, states: readonly Cell[], more?: string) => string,
  { paint }: Terminal,
): readonly string[] {
  const [{ sends, takes }] = exchanges;
  const none = columns.map((): Cell => 'none');
  if (got.every((g) => g.type === undefined && g.following.outcome === 'routed' && !g.elsewhere)) {
    const open = sends && takes.length === 0 ? 'any body is taken, ' : '';
    return [paint.dim(`  everybody: ${open}the answer has no declared type`)];
  }
  const [first] = got;
  if (first !== undefined && first.type === undefined && first.status !== 406 && got.every((g) => g.status === first.status))
    return [
      line(
        '  everybody',
        none,
        first.status === null ? paint.dim(first.following.outcome) : paint.red(paint.bold(String(first.status))),
      ),
    ];
  return got.map((g) => {
    const { caller, type, status, byDefault, following } = g;
    const states =
      type === undefined ? none : columns.map((c): Cell => (c.type !== type ? 'none' : byDefault ? 'default' : 'asked'));
    if (status !== null) return line(`  ${caller.name}`, states, paint.red(paint.bold(String(status))));
    const taker = takerOf(g);
    const said = following.outcome !== 'routed' ? following.outcome : type === undefined ? 'no type' : '';
    return line(`  ${caller.name}`, states, paint.dim(taker === undefined ? said : `from ${taker}`));
  });
}

function signOf(state: Cell, { paint }: Terminal): string {
  const text = SIGNS[state];
  switch (state) {
    case 'asked':
      return paint.green(text);
    case 'default':
      return paint.yellow(text);
    case 'never':
      return paint.red(paint.bold(text));
    case 'none':
      return paint.dim(text);
    default:
      return paint.cyan(text);
  }
}

/** Every operation with what each client gets, and a header that selects each type that it returns. */
export function mediaJson({ context, callers }: MediaView): object {
  const useParameters = countsParameters(context.router?.facts);
  return {
    service: context.service.name,
    operations: context.exchanges().map((exchange) => ({
      method: exchange.endpoint.method,
      path: exchange.endpoint.path.text,
      takes: exchange.sends ? exchange.takes : [],
      returns: exchange.returns,
      selectedBy: exchange.returns.map((type, i) => ({ type, accept: acceptFor(exchange.returns, i, useParameters) ?? null })),
      clients: callers.map((c) => {
        const { type, status, byDefault, following } = negotiate(c, exchange, context.router as Router);
        return {
          client: c.name,
          accept: c.accept ?? null,
          sends: c.sends ?? null,
          outcome: following.outcome,
          handler: following.leaf?.route.handler ?? null,
          type: type ?? null,
          status,
          byDefault,
          request: following.request,
          notes: c.accept === undefined ? [] : readAccept(c.accept).notes,
        };
      }),
    })),
  };
}
