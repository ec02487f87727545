import { defineConfig } from 'vitest/config';

/** Tests that are driven by tables and run on the sources: seconds, while one writes. */
export default defineConfig({
  test: {
    include: [
      'test/core/base/**',
      'test/core/checks/{contract,examples,healthy,versions}.test.ts',
      'test/core/compare/compare.test.ts',
      'test/core/compare/operation/**',
      'test/core/contract/request/check-request.test.ts',
      'test/core/listing/samples.test.ts',
      'test/core/routes/{findings/changed-routes,follow/paths,suggest/nearest-routes,table/expand}.test.ts',
      'test/core/schema/vocabulary/**',
    ],
    setupFiles: ['test/seed.ts'],
    isolate: false,
    maxWorkers: 2,
  },
});
