/** Findings as JSON. */
import type { Witness } from '../core/checks/engine/finding.ts';
import { fingerprints } from './fingerprint.ts';
import { counts, type Rendered } from './rendered.ts';

/** `{ tool, summary, findings }`, indented by two. */
export function findingsJson(findings: readonly Rendered[], version: string): string {
  const prints = fingerprints(findings);
  const summary = { ...counts(findings), known: 0 };
  return `${JSON.stringify({ tool: { name: 'elm-gate', version }, summary, findings: findings.map((f, i) => findingJson(f, prints[i] as string)) }, null, 2)}\n`;
}

function findingJson({ finding, rule, level, message, at, related, advice }: Rendered, fingerprint: string): object {
  const { witness, restsOn, undecided, service } = finding;
  return {
    rule,
    level,
    service,
    message,
    at,
    related: related.map(({ role, ...rest }) => ({ role, ...rest })),
    witness: witness === undefined ? null : witnessJson(witness),
    advice,
    restsOn: restsOn ?? [],
    undecided: undecided ?? null,
    fingerprint,
  };
}

function witnessJson(witness: Witness): object {
  if (witness.kind === 'value') {
    const { kind, value, validUnder, invalidUnder } = witness;
    return { kind, validUnder, invalidUnder, body: value };
  }
  return { kind: witness.kind, ...witness.request, takenBy: witness.takenBy, status: witness.status };
}
