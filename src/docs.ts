/** What the pages that are made from the code need. */
export { RULES } from './core/checks/index.ts';
export { CHANGE_RULES } from './core/compare/changes/rules/index.ts';
export { rulesMarkdown } from './views/rules.ts';
