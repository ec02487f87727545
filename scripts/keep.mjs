/** Runs the built program on the demo and keeps what the engine compiled on the way: what most runs will need. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { main, script } from '../dist/main.js';

const root = fileURLToPath(new URL('..', import.meta.url));
process.chdir(`${root}/demo`);
for (const args of [
  ['check'],
  ['table'],
  ['follow', 'GET', '/locks/7'],
  ['explain'],
  ['compare', 'passage-desk.v1.openapi.yaml', 'passage-desk.v2.openapi.yaml'],
])
  await main(args, root);
writeFileSync(`${root}/dist/program.cache`, script.createCachedData());
process.exitCode = 0;
