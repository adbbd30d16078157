import { availableParallelism } from 'node:os';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';
import './scripts/generate.mjs';

export default defineConfig({
  plugins: [vue()],
  test: {
    include: ['packages/*/src/**/*.test.ts', 'apps/*/src/**/*.test.ts'],
    testTimeout: 600_000,
    hookTimeout: 900_000,
    pool: 'forks',
    // as many as there are cores: most tests compute on one
    maxWorkers: availableParallelism(),
    // the command line is tested as it is delivered; built before any test starts, not while others run
    coverage: {
      provider: 'v8',
      include: ['packages/operations/src/**/*.ts'],
      exclude: ['**/*.test.ts', '**/test/**', '**/*.generated.ts'],
      reporter: ['text', 'text-summary'],
      reportsDirectory: 'test-results/coverage',
    },
    globalSetup: './scripts/build-for-tests.mjs',
  },
});
