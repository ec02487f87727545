/** The grids of the page: who has which methods, who gets which media type, what is in which version. Words, not signs: they are read aloud too. */
import { grouped } from '../../core/base/grouped.ts';
import { gridOf, type State } from '../../core/checks/engine/grid.ts';
import type { CellStatus } from '../../core/compare/version-grid.ts';
import { type Exchange, negotiate } from '../../core/contract/resources/negotiated.ts';
import { STEPS } from '../../core/contract/resources/resources.ts';
import type { MediaView } from '../media.ts';
import { count } from '../terminal.ts';
import type { Editions } from '../versions.ts';

export interface Grid {
  readonly title: string;
  /** What the rows are. */
  readonly of: string;
  /** How many of them there are, in words. */
  readonly count: string;
  readonly columns: readonly string[];
  /** Those with the same cells stand together where their order says nothing. */
  readonly rows: readonly { readonly head: string; readonly cells: readonly GridCell[] }[];
}

/** `good`, `odd` and `bad` are colours; the word says it alone. */
export interface GridCell {
  readonly text: string;
  readonly look: 'good' | 'odd' | 'bad' | '';
}

const EMPTY: GridCell = { text: '', look: '' };

const METHOD_CELLS: Readonly<Record<State, GridCell>> = {
  both: { text: 'both', look: 'good' },
  served: { text: 'served', look: 'odd' },
  documented: { text: 'documented', look: 'odd' },
  missing: { text: 'missing', look: 'bad' },
  taken: { text: 'elsewhere', look: 'bad' },
  none: EMPTY,
};

const VERSION_CELLS: Readonly<Record<CellStatus, GridCell>> = {
  new: { text: 'new', look: '' },
  same: { text: 'same', look: 'good' },
  changed: { text: 'changed', look: 'odd' },
  breaking: { text: 'breaks', look: 'bad' },
  dropped: { text: 'dropped', look: 'bad' },
  none: EMPTY,
};

/** Those of a service that have more than one row, or say anything. O(operations x columns). */
export function gridsOf(media: MediaView, editions: Editions): readonly Grid[] {
  return [methodsGrid(media), mediaGrid(media), versionsGrid(editions)].filter((g) => g.rows.length > 0 && g.columns.length > 0);
}

function methodsGrid({ context }: MediaView): Grid {
  const rows = gridOf(context);
  const columns = STEPS.filter((s) => rows.some((r) => r.cells[s].state !== 'none'));
  const cell = (state: State): GridCell => {
    const alone = context.service.contracts.length === 0 || context.service.tableIsDocument === true;
    return alone && state === 'both' ? { text: 'yes', look: 'good' } : METHOD_CELLS[state];
  };
  return {
    title: `Methods of ${context.service.name}`,
    of: 'resource',
    count: count(rows.length, 'resource'),
    columns,
    rows: rows.map((r) => ({ head: r.resource.path.text, cells: columns.map((c) => cell(r.cells[c].state)) })),
  };
}

/** What each client gets; operations with the same types all through stand in one row. */
function mediaGrid({ context, callers }: MediaView): Grid {
  const { router } = context;
  const got = (exchange: Exchange): readonly GridCell[] =>
    router === undefined
      ? []
      : callers.map((caller): GridCell => {
          const { status, type = '', byDefault, elsewhere } = negotiate(caller, exchange, router);
          if (status !== null) return { text: String(status), look: 'bad' };
          return { text: `${type}${byDefault && callers.length > 1 ? ' by default' : ''}`, look: elsewhere ? 'odd' : '' };
        });
  const all = context
    .exchanges()
    .filter((e) => e.returns.length > 0 || e.takes.length > 0)
    .map((e) => {
      const takes = e.sends ? e.takes.join(', ') : '';
      const own: readonly GridCell[] = [takes, e.returns.join(', ')].map((text) => ({ text, look: '' as const }));
      return { head: `${e.endpoint.method} ${e.endpoint.path.text}`, cells: [...own, ...got(e)] };
    });
  const rows = grouped(all, (row) => JSON.stringify(row.cells)).map((same) => ({
    head: same.map((row) => row.head).join('\n'),
    cells: same[0].cells,
  }));
  const asked = router === undefined ? [] : callers.map((c) => c.name);
  const title = `Media types of ${context.service.name}`;
  return { title, of: 'operation', count: count(all.length, 'operation'), columns: ['accepts', 'returns', ...asked], rows };
}

function versionsGrid({ service, versions, rows, named }: Editions): Grid {
  // One version is held against nothing.
  const columns = named && versions.all.length > 1 ? versions.all.map((v) => v.id) : [];
  return {
    title: `Versions of ${service}`,
    of: 'operation',
    count: count(rows.length, 'operation'),
    columns,
    rows: rows.map((r) => ({
      head: `${r.method} ${r.path}`,
      cells: r.cells.map(({ standing, deprecated, endpoint }): GridCell => {
        const { text, look } = VERSION_CELLS[standing];
        return { text: deprecated && endpoint !== undefined ? `${text}, deprecated` : text, look };
      }),
    })),
  };
}
