import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'core/src/**/*.spec.ts',
      'contract/src/**/*.spec.ts',
      'server/src/**/*.spec.ts',
      'demo/src/**/*.spec.ts',
      'command/src/**/*.spec.ts',
      'web/src/app/**/*.spec.ts',
    ],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    maxWorkers: 2,
    // Loading the application for each file anew takes longer than its tests; each opens a company of its own.
    isolate: false,
  },
});
