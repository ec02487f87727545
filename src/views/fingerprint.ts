/** What a finding is known by from run to run: neither line numbers nor the order of the file change it. */
import { createHash } from 'node:crypto';
import type { Rendered } from './rendered.ts';

/** One fingerprint for each finding, 16 hexadecimal digits; equal findings are told apart by their number. */
export function fingerprints(findings: readonly Rendered[]): readonly string[] {
  const seen = new Map<string, number>();
  return findings.map(({ finding, related }) => {
    const { rule, service, message, at } = finding;
    const base = [rule, service, message, at.place.file, at.what, ...related.map((r) => r.what)].join('\n');
    const nth = (seen.get(base) ?? 0) + 1;
    seen.set(base, nth);
    return createHash('sha256').update(`${base}\n${nth}`).digest('hex').slice(0, 16);
  });
}
