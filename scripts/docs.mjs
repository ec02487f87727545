/** Writes the pages that are made from the code; a test holds them to it. */
import { readFileSync, writeFileSync } from 'node:fs';
import { CHANGE_RULES, RULES, rulesMarkdown } from '../dist/docs.js';
import { withPicture } from './picture.mjs';

writeFileSync('docs/rules.md', rulesMarkdown(RULES, CHANGE_RULES));
writeFileSync('docs/architecture.md', withPicture(readFileSync('docs/architecture.md', 'utf8'), 'src'));
