import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGUMENTS } from './scripts/chromium.mjs';

/** The browser tests start the application themselves, on a fresh data folder and a free port. */
export default defineConfig({
  testDir: 'e2e',
  timeout: 90_000,
  retries: 0,
  workers: 1,
  globalSetup: './e2e/start.ts',
  expect: { timeout: 15_000 },
  use: {
    screenshot: 'only-on-failure',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: CHROMIUM_ARGUMENTS,
    },
  },
});
