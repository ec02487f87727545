#!/usr/bin/env node
import { fileURLToPath } from 'node:url';
import { main } from '../dist/main.js';

await main(process.argv.slice(2), fileURLToPath(new URL('..', import.meta.url)));
