/**
 * Everything that a command needs once it knows what it is asked: loaded in one go, because opening many small files
 * takes longer than reading one large one. What few runs ask for - drawn tables, JSON,
 * streams of requests - has files of its own, because the parts of Node.js that it opens take their time.
 */
export { contextOf, routerOf } from '../core/checks/context.ts';
export { gridOf, lifeOf } from '../core/checks/grid.ts';
export { check, RULE_IDS, RULES, ruleOf } from '../core/checks/index.ts';
export { compareContracts } from '../core/compare/contracts.ts';
export { editionsOf } from '../core/compare/editions.ts';
export { weighed } from '../core/compare/levels.ts';
export { CHANGE_RULES } from '../core/compare/rules/index.ts';
export { compareTables } from '../core/compare/tables.ts';
export { judge } from '../core/contract/judge.ts';
export { readContract } from '../core/contract/read.ts';
export { samplesOf } from '../core/contract/sample.ts';
export { answer } from '../core/routes/answer.ts';
export { nearest, nearestOf } from '../core/routes/nearest.ts';
export { tryOrder } from '../core/routes/precedence.ts';
export { suggest } from '../core/suggest.ts';
export { closedServices, openWorkspace, readSettings, tableRouter } from '../files/workspace.ts';
export { findingsText } from '../views/findings-text.ts';
export { followingJson, followingLine, followingText } from '../views/following.ts';
export { overviewText } from '../views/overview.ts';
export { placesOf, render } from '../views/rendered.ts';
export { changeText, rulesText, ruleText } from '../views/rules.ts';
export { scopeOf } from '../views/scope.ts';
export { terminal } from '../views/terminal.ts';
