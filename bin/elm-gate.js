#!/usr/bin/env node
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const argv = process.argv.slice(2);

if (argv.length === 1 && argv[0] === '--version') {
  // Asked by scripts all day, and no reason to load anything.
  const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
  process.stdout.write(`elm-gate/${version} ${process.platform}-${process.arch} node-${process.version}\n`);
} else {
  const { main } = await import('../dist/main.js');
  await main(argv, root);
}
