/** One comment for a review, in Markdown: the verdict, a table of counts, and the findings by cause. */

import { grouped } from '../../core/base/grouped.ts';
import { byLevel, LEVELS } from '../../core/checks/engine/finding.ts';
import type { Item, ItemReport } from '../items.ts';
import { markdownText } from '../markdown.ts';
import { nearPlace } from '../place-text.ts';
import { count } from '../terminal.ts';

/** A comment may have so many characters; what has no room is counted. */
const MAX_LENGTH = 60_000;
/** So many places of one cause are listed. */
const MAX_PLACES = 5;

export function markdownReport({ command, items, summary, known }: ItemReport): string {
  const rows = LEVELS.flatMap((level) => {
    const n = items.filter((i) => i.level === level && i.state !== 'absent').length;
    return n === 0 ? [] : [`| ${level} | ${n} |`];
  });
  const head = [
    `### elm-gate ${command}`,
    ...summary.map((s) => markdownText(s)),
    ...(rows.length === 0 ? [] : [['| level | count |', '| --- | ---: |', ...rows].join('\n')]),
    ...(known === 0 ? [] : [`${count(known, 'known finding')} left out.`]),
  ].join('\n\n');
  const blocks = byCause(items).map(causeText);
  let text = head;
  for (const [i, block] of blocks.entries()) {
    const rest = `\n\nAnd ${count(blocks.length - i, 'cause')} more; run elm-gate ${command} to see all of them.`;
    if (text.length + block.length + 2 > MAX_LENGTH - rest.length) return `${text}${rest}\n`;
    text += `\n\n${block}`;
  }
  return `${text}\n`;
}

/** Those of one rule and level, the most serious first. */
function byCause(items: readonly Item[]): readonly (readonly [Item, ...Item[]])[] {
  return [...grouped(items, (i) => `${i.state ?? ''} ${i.level} ${i.rule}`)].sort(([a], [b]) => byLevel(a, b));
}

function causeText(items: readonly [Item, ...Item[]]): string {
  const [first] = items;
  const state = first.state === 'absent' ? 'gone: ' : first.state === 'new' ? 'new: ' : '';
  const lines = items.slice(0, MAX_PLACES).map((item) => {
    const where = item.at === undefined ? '' : ` (${markdownText(nearPlace(item.at))})`;
    const witness = item.witness === '' ? '' : `<br>witness: ${markdownText(item.witness)}`;
    const traffic = item.traffic === undefined ? '' : `<br>traffic: ${markdownText(item.traffic)}`;
    return `- ${markdownText(item.message)}${where}${witness}${traffic}`;
  });
  const more = items.length > MAX_PLACES ? [`- and ${items.length - MAX_PLACES} more`] : [];
  const advice = first.advice === '' ? [] : ['', markdownText(first.advice)];
  const title = `${state}${first.level}, ${first.rule}: ${items.length}`;
  const open = first.level === 'error' && first.state !== 'absent' ? ' open' : '';
  return [`<details${open}><summary>${markdownText(title)}</summary>`, '', ...lines, ...more, ...advice, '', '</details>'].join(
    '\n',
  );
}
