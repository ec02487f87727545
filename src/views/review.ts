/** What a change does: findings that are new and gone, what it breaks, one verdict. */
import { BUMPS, type Bump } from '../core/compare/changes/change.ts';
import { type ComparisonView, comparisonText } from './comparison.ts';
import { briefLine, findingsBlocks } from './findings-text.ts';
import type { Rendered } from './rendered.ts';
import { count, type Terminal, wrap } from './terminal.ts';

export interface ReviewView {
  /** What is compared with what: `main (1a2b3c4) -> the work tree`. */
  readonly title: string;
  readonly added: readonly Rendered[];
  readonly gone: readonly Rendered[];
  readonly stayed: number;
  /** Documents and tables; a breaking change fails where it is counted. */
  readonly parts: readonly { readonly title: string; readonly view: ComparisonView; readonly isCounted: boolean }[];
  /** Clients that a breaking change touches. */
  readonly clients: readonly string[];
  /** Each a sentence. */
  readonly notes: readonly string[];
  /** Why it fails, in words; empty where it does not. */
  readonly fails: readonly string[];
}

/** The greatest of what changed. */
export function verdictOf({ parts }: Pick<ReviewView, 'parts'>): Bump {
  const bumps = parts.map((p) => p.view.comparison.verdict);
  return BUMPS.find((b) => bumps.includes(b)) ?? 'none';
}

/** The verdict as a sentence. */
export function reviewHead(view: ReviewView): string {
  const { title, added, gone, parts, fails } = view;
  const effects = parts.flatMap((p) => p.view.comparison.changes.map((c) => c.effect));
  const of = (effect: string): number => effects.filter((e) => e === effect).length;
  const counted = [
    ...[`${count(added.length, 'new finding')}`, `${gone.length} gone`],
    ...(['breaking', 'risky', 'undecided', 'compatible'] as const).flatMap((e) =>
      of(e) === 0 ? [] : [count(of(e), `${e} change`)],
    ),
  ].join(', ');
  return `${title}: ${fails.length === 0 ? 'passes' : `fails (${fails.join(', ')})`}. For clients: ${verdictOf(view)}; ${counted}.`;
}

export function reviewText(view: ReviewView, terminal: Terminal): string {
  const { paint } = terminal;
  const colour = view.fails.length === 0 ? paint.green : paint.red;
  const changed = view.parts.filter(({ view: own }) => own.comparison.changes.some((c) => own.all || c.effect !== 'compatible'));
  const blocks = [
    colour(wrap(reviewHead(view), terminal)),
    ...view.notes.map((n) => paint.dim(wrap(n, terminal))),
    ...(view.added.length === 0 ? [] : [paint.bold('New findings'), ...findingsBlocks(view.added, false, terminal)]),
    ...(view.gone.length === 0 ? [] : [[paint.bold('Gone'), ...view.gone.map((f) => `  ${briefLine(f, terminal)}`)].join('\n')]),
    ...changed.flatMap(({ title, view: own }) => [paint.bold(title), comparisonText(own, terminal).trimEnd()]),
    ...(view.clients.length === 0 ? [] : [wrap(`Clients that break: ${view.clients.join(', ')}.`, terminal)]),
  ];
  return `${blocks.join('\n\n')}\n`;
}

export function reviewJson(view: ReviewView, printOf: (f: Rendered) => string): object {
  const finding = (f: Rendered): object => ({
    rule: f.rule,
    level: f.level,
    message: f.message,
    at: f.at,
    fingerprint: printOf(f),
    ...(f.finding.recorded === undefined ? {} : { traffic: f.finding.recorded }),
  });
  return {
    compared: view.title,
    verdict: verdictOf(view),
    fails: view.fails,
    added: view.added.map(finding),
    gone: view.gone.map(finding),
    stayed: view.stayed,
    changes: view.parts.flatMap(({ title, view: { comparison } }) =>
      comparison.changes.map(({ rule, effect, at, message, advice, witness, recorded }) => ({
        ...{ of: title, rule, effect, at, message, advice, witness: witness ?? null },
        ...(recorded === undefined ? {} : { traffic: recorded }),
      })),
    ),
    clients: view.clients,
    notes: view.notes,
  };
}
