/** What `follow` needs once it knows what it is asked: no checks and no comparison, because a start pays for what it loads. */
export { contextOf } from '../core/checks/context.ts';
export { judge } from '../core/contract/judge.ts';
export { samplesOf } from '../core/contract/sample.ts';
export { answer } from '../core/routes/answer.ts';
export { nearest, nearestOf } from '../core/routes/nearest.ts';
export { closedServices } from '../files/workspace.ts';
export { followingJson, followingLine, followingText } from '../views/following.ts';
