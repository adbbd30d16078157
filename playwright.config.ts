import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGUMENTS } from './scripts/chromium.mjs';

/** Tests that never touch the demo project: they make projects of their own, or start a program of their own. */
const OWN_PROJECT = /(adding|byhand|photographs|strips)\.spec\.ts$/;

/** The browser tests start the application themselves, on a fresh data folder and a free port. */
export default defineConfig({
  testDir: 'e2e',
  // a machine with two busy cores and pictures drawn by software takes its time; nothing waits longer than it must
  timeout: 420_000,
  retries: 0,
  workers: 2,
  globalSetup: './e2e/start.ts',
  expect: { timeout: 120_000 },
  // each group in its own order, one test at a time; the two beside each other
  projects: [
    { name: 'demo project', testIgnore: OWN_PROJECT, workers: 1 },
    { name: 'own projects', testMatch: OWN_PROJECT, workers: 1 },
  ],
  use: {
    screenshot: 'only-on-failure',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: CHROMIUM_ARGUMENTS,
    },
  },
});
