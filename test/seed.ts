/** Property-based tests draw the same cases every time, so that a red run is a change; SEED=n draws others. */
import fc from 'fast-check';
import { SEED } from './runs.ts';

fc.configureGlobal({ seed: SEED });
