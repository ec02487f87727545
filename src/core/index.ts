/** The library: everything that computes, without files, process or console. */
export { type Context, contextOf, type Service } from './checks/context.ts';
export type { Finding, Level, Rule } from './checks/finding.ts';
export { check, RULE_IDS, RULES, ruleOf } from './checks/index.ts';
export { CHANGE_RULES } from './compare/rules/index.ts';
export type { ChangeRule } from './compare/rules/rule.ts';
export { type Contract, type Operation, operationTitle } from './contract/model.ts';
export { readContract } from './contract/read.ts';
export { parsePattern } from './paths/styles.ts';
export type { Entry } from './routes/entries.ts';
export { expand } from './routes/expand.ts';
export { FACTS, type Facts, factsFrom, type RouterSettings } from './routes/facts.ts';
export { follow } from './routes/follow.ts';
export type { Following } from './routes/following.ts';
export type { Request } from './routes/request.ts';
export type { Route, RouteTable } from './routes/route.ts';
export { buildRouter, type Router } from './routes/router.ts';
