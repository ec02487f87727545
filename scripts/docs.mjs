/** Writes the pages that are made from the code; a test holds them to it. */
import { writeFileSync } from 'node:fs';
import { CHANGE_RULES, RULES, rulesMarkdown } from '../dist/docs.js';

writeFileSync('docs/rules.md', rulesMarkdown(RULES, CHANGE_RULES));
