import { defineConfig } from '@playwright/test';
import { CHROMIUM_ARGUMENTS, chromiumPath, ROUGH } from './chromium.ts';

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  // one waits for its pieces while the other is drawn
  workers: 2,
  fullyParallel: true,
  timeout: 180_000,
  // two browsers and two servers share a small machine: what fails once runs again, and is named as flaky in the totals
  retries: 1,
  expect: { timeout: 30_000 },
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : 'list',
  use: {
    // scroll bars are part of what is seen
    launchOptions: {
      executablePath: chromiumPath,
      args: [...CHROMIUM_ARGUMENTS, ...ROUGH],
      ignoreDefaultArgs: ['--hide-scrollbars'],
    },
    actionTimeout: 30_000,
    trace: 'off',
  },
});
