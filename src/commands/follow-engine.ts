/** What `follow` needs once it knows what it is asked: no checks and no comparison, because a start pays for what it loads. */
export { contextOf } from '../core/checks/engine/context.ts';
export { checkRequest as judge } from '../core/contract/request/check-request.ts';
export { samplesOf } from '../core/contract/request/sample-request.ts';
export { followWithFacts as answer } from '../core/routes/follow/with-facts.ts';
export { nearest, nearestOf } from '../core/routes/suggest/nearest-routes.ts';
export { closedServices } from '../files/workspace.ts';
export { followingJson, followingLine, followingText } from '../views/following.ts';
