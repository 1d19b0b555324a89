import { defineConfig } from '@playwright/test';

/** Against the built application on throwaway databases, one for each worker (`fixtures.ts`); they are named by `npm test`. */
export default defineConfig({
  testDir: '.',
  testMatch: ['tests/**/*.spec.ts', 'hostile/**/*.spec.ts'],
  outputDir: '../test-results',
  // A machine that others use, too, may stand still for many seconds; what is wrong stays wrong.
  timeout: 420_000,
  expect: { timeout: 120_000 },
  workers: Number(process.env['GABLE_E2E_WORKERS'] ?? 1),
  // What fails once on a machine that stands still is told as flaky, and does not keep all else from being known; what is wrong fails twice.
  retries: process.env['CI'] ? 1 : 0,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    acceptDownloads: true,
    // Nothing waits for movements; the stories are told with them (`story.spec.ts`).
    contextOptions: { reducedMotion: 'reduce' },
    // Traces make every step slower; GABLE_TRACE=1 keeps those of failures.
    trace: process.env['GABLE_TRACE'] ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
