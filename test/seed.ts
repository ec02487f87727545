/** Property-based tests draw the same cases every time, so that a red run is a change; SEED=n draws others. */
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env.SEED ?? 20_261_123) });
