/** JUnit XML as CI servers read it: a suite for each service, a case for each thing that was found. */

import { create } from 'xmlbuilder2';
import { grouped } from '../../core/base/grouped.ts';
import { isAtLeast } from '../../core/checks/engine/finding.ts';
import type { Item, ItemReport } from '../items.ts';
import { placeText } from '../place-text.ts';
import { visible } from '../visible.ts';

/** What is at or above the lowest failing level fails; the rest passes and is told. A run without findings has one passing case. */
export function junit({ command, items, summary, failOn }: ItemReport): string {
  const fails = ({ level, state, passes }: Item): boolean => state !== 'absent' && passes !== true && isAtLeast(level, failOn);
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', {
    name: `elm-gate ${command}`,
    tests: Math.max(1, items.length),
    failures: items.filter(fails).length,
  });
  if (items.length === 0)
    root
      .ele('testsuite', { name: command, tests: 1, failures: 0 })
      .ele('testcase', { classname: command, name: text(summary.join(' ')) });
  for (const own of grouped(items, (i) => i.group)) {
    const [{ group }] = own;
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
  const where = at === undefined ? '' : placeText(at);
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
