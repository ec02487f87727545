/** What `follow` needs once it knows what it is asked: no checks and no comparison, because a start pays for what it loads. */
export { contextOf } from '../core/checks/engine/context.ts';
export { followAmong } from '../core/checks/engine/follow-services.ts';
export { samplesOf } from '../core/contract/request/sample-request.ts';
export { closedServices } from '../files/workspace.ts';
export { followingJson, followingLine, followingText } from '../views/following.ts';
