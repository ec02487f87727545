/**
 * What a finding is known by from run to run. It stays the same where lines move, files are reordered or renamed, parameters
 * and handlers get other names, and routes come from another source.
 */
import { createHash } from 'node:crypto';
import type { Rendered } from './rendered.ts';

/** One fingerprint for each finding, 16 hexadecimal digits; equal findings are told apart by their number. O(findings). */
export function fingerprints(findings: readonly Rendered[]): readonly string[] {
  const seen = new Map<string, number>();
  return findings.map((found) => {
    const base = baseOf(found);
    const nth = (seen.get(base) ?? 0) + 1;
    seen.set(base, nth);
    return createHash('sha256').update(`${base}\n${nth}`).digest('hex').slice(0, 16);
  });
}

function baseOf({ finding, message, related }: Rendered): string {
  const { rule, service, at, data, group } = finding;
  const spots = [at.what, ...related.map((r) => r.what)];
  const called = ['key', 'parameter', ...(rule.startsWith('types/') ? ['name'] : [])].map((k) => data[k]);
  const names = new Set([...spots.flatMap(namesIn), ...called.filter((n) => typeof n === 'string')]);
  // What stands for many places is the same one whichever of them comes first, and however many there are.
  if (group !== undefined) return [rule, service, finding.message, stable(group, names)].join('\n');
  // How many more there are says nothing of this one.
  const own = typeof data.more === 'string' && data.more !== '' ? message.replace(data.more, '') : message;
  return [rule, service, stable(own, names), pointerOf(at.place.pointer), ...spots.map((text) => stable(text, names))].join('\n');
}

/** A parameter in any of the styles, with its type. */
const PARAMETER = /\{[^{}]*(?:\{[^{}]*\}[^{}]*)*\}|\[+[^[\]]*\]+|<[^<>]*>|(?<=\/):\w+(?:\([^()]*\))?/gu;
const HANDLER = /\s->\s(\S+)/gu;

/** The names of parameters and handlers in the title of a route. */
function namesIn(text: string): readonly string[] {
  const parameters = [...text.matchAll(PARAMETER)].flatMap(([whole]) => /[A-Za-z_]\w*/u.exec(whole) ?? []);
  const handlers = [...text.matchAll(HANDLER)].map(([, name]) => name as string);
  return [...parameters, ...handlers];
}

/** The text without names that people change and nothing depends on. */
function stable(text: string, names: ReadonlySet<string>): string {
  const bare = text.replaceAll(HANDLER, '').replaceAll(PARAMETER, '{}');
  return bare.replaceAll(/[A-Za-z_][\w.-]*\w|[A-Za-z_]/gu, (word) => (names.has(word) ? '{}' : word));
}

/** In a document the place counts, but for the numbers of lists; in a table routes move about. */
function pointerOf(pointer: string): string {
  if (!/^\/(?:paths|components|definitions|webhooks)\//u.test(pointer)) return '';
  return pointer.replaceAll(PARAMETER, '{}').replaceAll(/\/(?:\d|[1-9]\d|\d{4,})(?=\/|$)/gu, '/#');
}
