/** What formats for other programs are made of: one thing that was found, whichever command found it. */

import type { Level } from '../core/checks/engine/finding.ts';
import { type Change, EFFECTS, type Effect } from '../core/compare/changes/change.ts';
import type { ComparisonView } from './comparison.ts';
import { witnessText } from './findings-text.ts';
import type { Located } from './place-text.ts';
import { recordedText } from './recorded.ts';
import { curlOf, type RehearsalView } from './rehearse.ts';
import type { Rendered } from './rendered.ts';
import { terminal } from './terminal.ts';

export interface Item {
  readonly rule: string;
  /** What the rule finds, where it is none of `check`. */
  readonly what?: string;
  readonly level: Level;
  /** The service, or the two versions. */
  readonly group: string;
  readonly message: string;
  /** What proves it, in words; empty where nothing does. */
  readonly witness: string;
  readonly advice: string;
  /** The recorded requests that meet it, in words. */
  readonly traffic?: string | undefined;
  readonly at: Located | undefined;
  readonly related: readonly (Located & { readonly role: string })[];
  readonly fingerprint: string | undefined;
  /** Against an earlier state: SARIF 2.1.0, 3.27.24. */
  readonly state?: 'new' | 'unchanged' | 'absent';
  /** What the change says, and what stands at its places, before and after. */
  readonly change?: { readonly change: Change; readonly old: unknown; readonly now: unknown };
  /** It fails nothing, whatever its level. */
  readonly passes?: boolean;
}

export interface ItemReport {
  readonly command: 'check' | 'compare' | 'review' | 'rehearse' | 'traffic';
  readonly version: string;
  readonly items: readonly Item[];
  /** What was looked at, and the verdict, each a sentence. */
  readonly summary: readonly string[];
  /** The lowest level that fails. */
  readonly failOn: Level;
  /** How many known findings were left out. */
  readonly known: number;
}

const PLAIN = terminal(Number.POSITIVE_INFINITY, false, false);

export function itemsOf(findings: readonly Rendered[], printOf: (finding: Rendered) => string): readonly Item[] {
  return findings.map((f): Item => {
    const { witness, service } = f.finding;
    const value =
      witness?.kind === 'value' ? `${JSON.stringify(witness.value)} fits ${witness.validUnder}, not ${witness.invalidUnder}` : '';
    return {
      rule: f.rule,
      level: f.level,
      group: service,
      message: f.message,
      witness: witness?.kind === 'request' ? witnessText(witness, PLAIN) : value,
      advice: f.advice,
      traffic: f.finding.recorded && recordedText(f.finding.recorded),
      at: f.at,
      related: f.related,
      fingerprint: printOf(f),
    };
  });
}

const LEVEL_OF: Readonly<Record<Effect, Level>> = {
  breaking: 'error',
  risky: 'warning',
  undecided: 'warning',
  compatible: 'note',
};

/** Changes, the most harmful first; compatible ones where the view tells them. */
export function itemsOfChanges({ comparison, names, locate, contentOf, all }: ComparisonView): readonly Item[] {
  const placed = (place: Change['old'], what: string): Located | undefined =>
    place === undefined
      ? undefined
      : { file: place.file, pointer: place.pointer, line: undefined, column: undefined, what, ...locate(place) };
  const shown = comparison.changes.filter((c) => all || c.effect !== 'compatible');
  const sorted = EFFECTS.flatMap((effect) => shown.filter((c) => c.effect === effect));
  return sorted.map((c): Item => {
    const title = [c.at.method, c.at.path, c.at.status ?? ''].join(' ').trim();
    const [was, is] = [placed(c.old, title), placed(c.new, title)];
    return {
      rule: c.rule,
      level: LEVEL_OF[c.effect],
      group: `${names[0]} -> ${names[1]}`,
      message: `${c.at.part === 'document' ? '' : `${title}: `}${c.message}`,
      witness: changeWitness(c),
      advice: c.advice ?? '',
      traffic: c.recorded && recordedText(c.recorded),
      at: is ?? was,
      related: is !== undefined && was !== undefined ? [{ role: 'was', ...was }] : [],
      fingerprint: undefined,
      change: { change: c, old: c.old && contentOf(c.old), now: c.new && contentOf(c.new) },
    };
  });
}

function changeWitness({ witness }: Change): string {
  if (witness === undefined) return '';
  if (witness.kind === 'request') return `${witness.method} ${witness.target}`;
  const end = `fits the ${witness.validUnder} ${witness.side}, not the ${witness.invalidUnder}`;
  return `${JSON.stringify(witness.body)} ${witness.lost === undefined ? end : `could come, and ${witness.lost} can't any more`}`;
}

/** What is wrong with the answers of a service, and with `all` those that were as expected too. */
export function itemsOfRehearsal({ sent, facts, origin }: RehearsalView, all: boolean): readonly Item[] {
  const item = (rule: string, level: Level, group: string, message: string, witness = ''): Item => ({
    ...{ rule, level, group, message, witness, advice: '', at: undefined, related: [], fingerprint: undefined },
  });
  const requests = sent.flatMap((s): readonly Item[] => {
    const title = `${s.request.method} ${s.request.target}`;
    const curl = curlOf(origin, s.request);
    const told = s.undocumented.map((text) => item('rehearse/undocumented', 'warning', s.service, `${title}: ${text}`, curl));
    if (s.verdict === 'contradicts')
      return [
        item('rehearse/contradicts', 'error', s.service, `${title} was expected to be ${s.expected}; came ${s.came}`, curl),
        ...told,
      ];
    return all && told.length === 0 ? [item(`rehearse/${s.verdict}`, 'note', s.service, `${title}: ${s.came}`)] : told;
  });
  const wrong = facts.filter((f) => f.state === 'contradicted');
  return [
    ...requests,
    ...wrong.map((f) =>
      item(
        'rehearse/fact',
        'error',
        f.service,
        `${f.fact}: ${f.assumed} was assumed, and the answers tell ${f.consistent.join(' or ') || f.together.join(' or ')}`,
      ),
    ),
  ];
}
