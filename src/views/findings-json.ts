/** Findings as JSON. */
import { counts, type Rendered } from './rendered.ts';

/** `{ tool, summary, findings }`, indented by two. */
export function findingsJson(findings: readonly Rendered[], version: string): string {
  const summary = { ...counts(findings), known: 0 };
  return `${JSON.stringify({ tool: { name: 'elm-gate', version }, summary, findings: findings.map(findingJson) }, null, 2)}\n`;
}

function findingJson({ finding, rule, level, message, at, related, advice, fingerprint }: Rendered): object {
  const { witness, restsOn, undecided, service } = finding;
  return {
    rule,
    level,
    service,
    message,
    at,
    related: related.map(({ role, ...rest }) => ({ role, ...rest })),
    witness:
      witness === undefined ? null : { kind: witness.kind, ...witness.request, takenBy: witness.takenBy, status: witness.status },
    advice,
    restsOn: restsOn ?? [],
    undecided: undecided ?? null,
    fingerprint,
  };
}
