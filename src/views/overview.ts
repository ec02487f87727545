/** What a folder holds, at a glance. */

import type { LoadedService } from '../files/load-services.ts';
import { placeText } from './place-text.ts';
import { counts, type Rendered } from './rendered.ts';
import { scopeOf } from './scope.ts';
import { count, type Terminal, wrap } from './terminal.ts';

interface Looked {
  readonly service: LoadedService;
  readonly findings: readonly Rendered[];
}

/** Counts by family, the most serious finding, and the next command to run. */
export function overviewText(looked: readonly Looked[], discovered: string | undefined, terminal: Terminal): string {
  const { paint } = terminal;
  const blocks = looked.map(({ service, findings }) => {
    const files = [service.files.routes, ...service.files.documents].filter((f) => f !== undefined);
    const head = wrap(`${paint.bold(service.name)}  ${paint.dim(files.join(', '))}`, terminal, '', '  ');
    const lines = [head, `  ${scopeOf([service])}`, ''];
    const families = [...new Set(findings.map((f) => f.rule.split('/')[0] as string))];
    for (const family of families)
      lines.push(
        `  ${family.padEnd(10)} ${countsText(
          findings.filter((f) => f.rule.startsWith(`${family}/`)),
          terminal,
        )}`,
      );
    if (families.length === 0) lines.push(`  ${paint.green('Nothing found.')}`);
    const [first] = findings;
    if (first !== undefined) lines.push('', wrap(`Most serious: ${first.message} (${placeText(first.at)})`, terminal, '  '));
    for (const u of service.unchecked) lines.push('', wrap(u, terminal, '  '));
    return lines.join('\n');
  });
  const any = looked.some((l) => l.findings.length > 0);
  const next = any
    ? [
        `${paint.cyan('elm-gate check')}               every finding, with a request that shows it`,
        `${paint.cyan('elm-gate table')}               the routes, prefixes and shorthands expanded`,
      ]
    : [`${paint.cyan('elm-gate table')}               the routes, prefixes and shorthands expanded`];
  next.push(`${paint.cyan('elm-gate follow GET /path')}    which route handles a request, and why`);
  return `${[...(discovered === undefined ? [] : [paint.dim(wrap(discovered, terminal))]), ...blocks, `Next:\n${next.map((n) => `  ${n}`).join('\n')}`].join('\n\n')}\n`;
}

function countsText(findings: readonly Rendered[], { paint }: Terminal): string {
  const n = counts(findings);
  const parts = [
    n.error > 0 ? paint.red(count(n.error, 'error')) : '',
    n.warning > 0 ? paint.yellow(count(n.warning, 'warning')) : '',
    n.note > 0 ? paint.cyan(count(n.note, 'note')) : '',
  ];
  return parts.filter((p) => p !== '').join(', ');
}
