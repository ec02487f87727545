/** Findings that were asked for. */
import type { Rendered } from './rendered.ts';

export interface Selection {
  /** `paths/shadowed`, or `paths` for the whole group. */
  readonly rules: readonly string[];
  /** The start of a path: `/v2/locks` stands for all below it too. */
  readonly path: string | undefined;
  readonly service: string | undefined;
  /** A file, or a file and a line: `canal.routes.yaml:7`. */
  readonly at: string | undefined;
}

/** Those that meet all of it. O(findings). */
export function selected(findings: readonly Rendered[], { rules, path, service, at }: Selection): readonly Rendered[] {
  const [, file, line] = /^(.*?)(?::(\d+))?$/su.exec(at ?? '') ?? [];
  return findings.filter(
    (f) =>
      (rules.length === 0 || rules.some((r) => f.rule === r || f.rule.startsWith(`${r}/`))) &&
      (service === undefined || f.finding.service === service) &&
      (path === undefined || [f.at, ...f.related].some(({ what }) => hasPath(what, path))) &&
      (at === undefined || [f.at, ...f.related].some((l) => l.file === file && (line === undefined || l.line === Number(line)))),
  );
}

/** Does the title of a route or an operation name this path, or one below it? */
export function hasPath(what: string, path: string): boolean {
  const bare = path.replace(/\/$/u, '');
  return what.split(/[\s:]+(?=\/)/u).some((part) => part === bare || part.startsWith(`${bare}/`) || part.startsWith(`${bare} `));
}
