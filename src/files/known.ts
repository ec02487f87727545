/** Known findings: read, left out, written. */
import { dirname, join } from 'node:path';
import { dump } from 'js-yaml';
import { type KnownFinding, type KnownFindings, knownFindings } from './formats/known-findings.ts';
import type { Sources } from './sources.ts';
import { validate } from './validate.ts';

export const KNOWN_FILE = 'elm-gate.known.yaml';

export interface Known {
  readonly file: string;
  readonly findings: ReadonlyMap<string, KnownFinding>;
}

/** Those that stand beside the settings, or in the folder where there are none. Fails with a problem in its place. */
export function readKnown(sources: Sources, settingsFile: string | undefined): Known {
  const file = settingsFile === undefined ? KNOWN_FILE : join(dirname(settingsFile), KNOWN_FILE);
  if (!sources.exists(file)) return { file, findings: new Map() };
  const { findings } = validate(sources.load(file), knownFindings) as KnownFindings;
  return { file, findings: new Map(Object.entries(findings)) };
}

export interface Split<T> {
  readonly open: readonly T[];
  readonly known: readonly T[];
  /** Past their date, so that they are told again. */
  readonly expired: readonly KnownFinding[];
  /** That no longer occur. */
  readonly idle: readonly KnownFinding[];
}

/** Takes known findings out; `today` such as `2027-03-14`. O(findings). */
export function withoutKnown<T>(findings: readonly T[], prints: readonly string[], known: Known, today: string): Split<T> {
  const isOver = ({ until }: KnownFinding): boolean => until !== undefined && until <= today;
  const entryOf = (i: number): KnownFinding | undefined => known.findings.get(prints[i] as string);
  const isKnown = (i: number): boolean => {
    const entry = entryOf(i);
    return entry !== undefined && !isOver(entry);
  };
  const met = new Set(prints);
  return {
    open: findings.filter((_, i) => !isKnown(i)),
    known: findings.filter((_, i) => isKnown(i)),
    expired: findings.flatMap((_, i) => {
      const entry = entryOf(i);
      return entry !== undefined && isOver(entry) ? [entry] : [];
    }),
    idle: [...known.findings].flatMap(([print, entry]) => (met.has(print) ? [] : [entry])),
  };
}

const HEAD = `# Findings that are known and may stay. Written by elm-gate acknowledge; sorted, so that branches merge.\n`;

/** One block an entry, sorted by fingerprint, with a blank line between: two branches that add others merge where git can. */
export function knownText(findings: ReadonlyMap<string, KnownFinding>): string {
  const blocks = [...findings]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([print, { rule, at, message, reason, by, until }]) => {
      const entry = { rule, at, message, reason, ...(by === undefined ? {} : { by }), ...(until === undefined ? {} : { until }) };
      const lines = dump(entry, { lineWidth: -1 }).trimEnd().split('\n');
      return [`  "${print}":`, ...lines.map((line) => `    ${line}`)].join('\n');
    });
  return `${HEAD}knownFindings: 1\n${blocks.length === 0 ? 'findings: {}' : `findings:\n${blocks.join('\n\n')}`}\n`;
}
