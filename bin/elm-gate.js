#!/usr/bin/env node
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { setFlagsFromString } from 'node:v8';

const root = fileURLToPath(new URL('..', import.meta.url));
const argv = process.argv.slice(2);

if (argv.length === 1 && argv[0] === '--version') {
  // Asked by scripts all day, and no reason to load anything.
  const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
  process.stdout.write(`elm-gate/${version} ${process.platform}-${process.arch} node-${process.version}\n`);
} else {
  // Most runs end before optimised code pays for its compilation, which by default takes a third of their CPU time;
  // so functions have to be hotter before it starts. Long runs reach full speed a moment later. Said only to the
  // versions of Node.js on which the flag is known.
  if (/^v(20|22)\./u.test(process.version)) setFlagsFromString('--interrupt-budget=1000000');
  const { main } = await import('../dist/main.js');
  await main(argv, root);
}
