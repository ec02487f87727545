/** JUnit XML as CI servers read it: a suite for each service, a case for each thing that was found. */
import { create } from 'xmlbuilder2';
import type { Item, ItemReport } from '../items.ts';
import { visible } from '../visible.ts';

const LEVELS = ['error', 'warning', 'note'] as const;

/** What is at or above the lowest failing level fails; the rest passes and is told. A run without findings has one passing case. */
export function junit({ command, items, summary, failOn }: ItemReport): string {
  const fails = ({ level, state }: Item): boolean => state !== 'absent' && LEVELS.indexOf(level) <= LEVELS.indexOf(failOn);
  const groups = new Map<string, Item[]>();
  for (const item of items) groups.set(item.group, [...(groups.get(item.group) ?? []), item]);
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', {
    name: `elm-gate ${command}`,
    tests: Math.max(1, items.length),
    failures: items.filter(fails).length,
  });
  if (items.length === 0)
    root
      .ele('testsuite', { name: command, tests: 1, failures: 0 })
      .ele('testcase', { classname: command, name: text(summary.join(' ')) });
  for (const [group, own] of groups) {
    const suite = root.ele('testsuite', { name: text(group), tests: own.length, failures: own.filter(fails).length });
    for (const item of own) {
      const place =
        item.at === undefined ? {} : { file: text(item.at.file), ...(item.at.line === undefined ? {} : { line: item.at.line }) };
      const one = suite.ele('testcase', { classname: text(`${group}.${item.rule}`), name: text(item.message), ...place });
      if (fails(item)) one.ele('failure', { type: item.level, message: text(item.message) }).txt(text(detail(item, false)));
      else one.ele('system-out').txt(text(`${item.level}: ${detail(item, true)}`));
    }
  }
  return `${root.end({ prettyPrint: true })}\n`;
}

function detail({ at, rule, message, witness, advice }: Item, isWhole: boolean): string {
  const where = at === undefined ? '' : `${at.file}${at.line === undefined ? '' : `:${at.line}:${at.column}`}`;
  return [isWhole ? message : '', `${where}  ${rule}`.trim(), witness === '' ? '' : `witness: ${witness}`, advice]
    .filter((t) => t !== '')
    .join('\n');
}

/** XML 1.0 has no place for most control characters, and none for half a surrogate pair. */
function text(value: string): string {
  return value
    .split('\n')
    .map((line) => visible(line))
    .join('\n')
    .replaceAll(/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]|[\uFFFE\uFFFF]/gu, '\uFFFD');
}
