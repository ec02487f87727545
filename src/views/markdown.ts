/** Text of an input inside a Markdown page: it is shown, and is never a link, a heading, a list or a tag. */
import { bounded } from './visible.ts';

const SPECIAL = /[\\`*_[\]|~$]/gu;

/** One line of plain text, every character that means something to Markdown or HTML escaped (CommonMark 2.4). O(length). */
export function markdownText(text: string): string {
  return bounded(text)
    .replace(/\s+/gu, ' ')
    .trim()
    .replace(SPECIAL, '\\$&')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('@', '&#64;')
    .replaceAll('://', ':&#47;/')
    .replace(/\bwww\./giu, 'www&#46;');
}
