import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGUMENTS } from './scripts/chromium.mjs';

/** The browser tests start the application themselves, on a fresh data folder and a free port. */
export default defineConfig({
  testDir: 'e2e',
  // a machine with two busy cores and pictures drawn by software takes its time; nothing waits longer than it must
  timeout: 420_000,
  retries: 0,
  workers: 1,
  globalSetup: './e2e/start.ts',
  expect: { timeout: 120_000 },
  use: {
    screenshot: 'only-on-failure',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: CHROMIUM_ARGUMENTS,
    },
  },
});
