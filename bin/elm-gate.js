#!/usr/bin/env node
'use strict';
const { join } = require('node:path');

const root = join(__dirname, '..');
const argv = process.argv.slice(2);

if (argv.length === 1 && argv[0] === '--version') {
  // Asked by scripts all day, and no reason to load anything.
  const { version } = require('../package.json');
  process.stdout.write(`elm-gate/${version} ${process.platform}-${process.arch} node-${process.version}\n`);
} else {
  require('../dist/start.cjs').main(argv, root);
}
