/** Findings as JSON. */
import type { Witness } from '../core/checks/engine/finding.ts';
import { counts, type Rendered } from './rendered.ts';

/** `{ tool, summary, findings }`, indented by two; `known` counts those that were left out. */
export function findingsJson(
  findings: readonly Rendered[],
  version: string,
  printOf: (finding: Rendered) => string,
  known: number,
): string {
  const summary = { ...counts(findings), known };
  const list = findings.map((f) => findingJson(f, printOf(f)));
  return `${JSON.stringify({ tool: { name: 'elm-gate', version }, summary, findings: list }, null, 2)}\n`;
}

function findingJson({ finding, rule, level, message, at, related, advice }: Rendered, fingerprint: string): object {
  const { witness, restsOn, undecided, service, recorded } = finding;
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
    ...(recorded === undefined ? {} : { traffic: recorded }),
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
