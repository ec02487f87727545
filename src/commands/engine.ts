/**
 * Everything that a command needs once it knows what it is asked: loaded in one go, because opening many small files
 * takes longer than reading one large one. What few runs ask for - drawn tables, JSON,
 * streams of requests - has files of its own, because the parts of Node.js that it opens take their time.
 */

export { suggest } from '../core/base/nearest-word.ts';
export { contextOf, routerOf } from '../core/checks/engine/context.ts';
export { gridOf, lifeOf } from '../core/checks/engine/grid.ts';
export { check, RULE_IDS, RULES, ruleOf } from '../core/checks/index.ts';
export { CHANGE_RULES } from '../core/compare/changes/rules/index.ts';
export { compareContracts } from '../core/compare/compare-contracts.ts';
export { compareTables } from '../core/compare/compare-tables.ts';
export { weighed } from '../core/compare/levels.ts';
export { readContract } from '../core/contract/read/read-contract.ts';
export { checkRequest as judge } from '../core/contract/request/check-request.ts';
export { samplesOf } from '../core/contract/request/sample-request.ts';
export { followWithFacts as answer } from '../core/routes/follow/with-facts.ts';
export { tryOrder } from '../core/routes/precedence/precedence.ts';
export { nearest, nearestOf } from '../core/routes/suggest/nearest-routes.ts';
export { knownText, readKnown, withoutKnown } from '../files/known.ts';
export { closedServices, fleetOfSettings, openWorkspace, readSettings, tableRouter } from '../files/workspace.ts';
export { briefText, findingsText } from '../views/findings-text.ts';
export { fingerprints } from '../views/fingerprint.ts';
export { followingJson, followingLine, followingText } from '../views/following.ts';
export { overviewText } from '../views/overview.ts';
export { placesOf, render } from '../views/rendered.ts';
export { changeText, rulesText, ruleText } from '../views/rules.ts';
export { scopeOf } from '../views/scope.ts';
export { selected } from '../views/select.ts';
export { terminal } from '../views/terminal.ts';
