/** What each client gets from each operation, in which form. */

import type { Context } from '../core/checks/context.ts';
import type { Caller } from '../core/contract/clients.ts';
import { type Exchange, type Got, gotBy } from '../core/contract/clients.ts';
import { count, type Terminal, wrap } from './terminal.ts';

export interface MediaView {
  readonly context: Context;
  readonly callers: readonly Caller[];
}

interface Block {
  readonly exchanges: readonly [Exchange, ...Exchange[]];
  readonly got: readonly Got[];
}

/** Operations with the same types are one block; who sends no Accept comes first. */
export function mediaText({ context, callers }: MediaView, terminal: Terminal): string {
  const { paint } = terminal;
  const blocks = blocksOf({ context, callers });
  const widest = Math.max(12, ...callers.map((c) => c.name.length)) + 2;
  const texts = blocks.map(({ exchanges, got }) => {
    const [first] = exchanges;
    const names = exchanges.map((e) => `${e.endpoint.method} ${e.endpoint.path.text}`);
    const shown =
      names.length > MOST
        ? `${names.slice(0, MOST).join(', ')} and ${count(names.length - MOST, 'more', 'more')}`
        : names.join(', ');
    const lines = [wrap(paint.bold(shown), terminal), wrap(typesText(first, terminal), terminal, '  ')];
    const silent = got.every((g) => g.type === undefined && g.status === null);
    if (silent) lines.push(`  ${'everybody'.padEnd(widest)}${gotText(got[0] as Got, terminal)}`);
    else for (const g of got) lines.push(`  ${g.caller.name.padEnd(widest)}${gotText(g, terminal)}`);
    return lines.join('\n');
  });
  const operations = context.exchanges().length;
  const none =
    callers.length === 1 ? ' Name clients: in elm-gate.yaml to see what each of them gets, or ask with --accept and --send.' : '';
  return `${texts.join('\n\n')}\n\n${wrap(`${count(operations, 'operation')} of ${context.service.name}.${none}`, terminal)}\n`;
}

const MOST = 6;

function blocksOf({ context, callers }: MediaView): readonly Block[] {
  const groups = new Map<string, { exchanges: [Exchange, ...Exchange[]]; got: readonly Got[] }>();
  for (const exchange of context.exchanges()) {
    const key = `${exchange.sends ? exchange.takes.join() : '-'}|${exchange.returns.join()}`;
    const known = groups.get(key);
    if (known !== undefined) known.exchanges.push(exchange);
    else groups.set(key, { exchanges: [exchange], got: callers.map((c) => gotBy(c, exchange, context.router?.facts)) });
  }
  // Those that leave somebody without an answer are what one looks for.
  const refused = (b: Block): number => b.got.filter((g) => g.status !== null).length;
  return [...groups.values()].sort((a, b) => refused(b) - refused(a));
}

function typesText({ takes, returns, sends }: Exchange, { paint }: Terminal): string {
  const list = (types: readonly string[]): string => (types.length === 0 ? 'anything' : types.join(', '));
  return paint.dim(
    [sends ? `takes ${list(takes)}` : '', `returns ${returns.length === 0 ? 'nothing that is declared' : returns.join(', ')}`]
      .filter((t) => t !== '')
      .join('; '),
  );
}

function gotText({ type, status, byDefault }: Got, { paint }: Terminal): string {
  if (status !== null) return paint.red(paint.bold(String(status)));
  if (type === undefined) return paint.dim('an answer without a declared type');
  return byDefault ? `${type} ${paint.yellow('by default, the first declared')}` : paint.green(type);
}

/** Every operation with what each client gets. */
export function mediaJson({ context, callers }: MediaView): object {
  return {
    service: context.service.name,
    operations: context.exchanges().map((exchange) => ({
      method: exchange.endpoint.method,
      path: exchange.endpoint.path.text,
      takes: exchange.sends ? exchange.takes : [],
      returns: exchange.returns,
      clients: callers.map((c) => {
        const { type, status, byDefault } = gotBy(c, exchange, context.router?.facts);
        return { client: c.name, accept: c.accept ?? null, sends: c.sends ?? null, type: type ?? null, status, byDefault };
      }),
    })),
  };
}
