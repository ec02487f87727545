import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['test/**/*.test.ts'],
    globalSetup: 'test/build.ts',
    setupFiles: ['test/seed.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // Two cores have to be enough for all of it in three minutes, and the default leaves one of them idle.
    maxWorkers: 2,
    isolate: false,
  },
});
