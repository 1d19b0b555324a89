import { defineConfig } from '@playwright/test';

const port = process.env['GABLE_E2E_PORT'] ?? '4199';

/** Against the built application on a throwaway database; both are named by `npm test`. */
export default defineConfig({
  testDir: '.',
  testMatch: ['tests/**/*.spec.ts', 'hostile/**/*.spec.ts'],
  outputDir: '../test-results',
  // A machine that others use, too, may stand still for many seconds; what is wrong stays wrong.
  timeout: 420_000,
  expect: { timeout: 120_000 },
  workers: 1,
  retries: 0,
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    acceptDownloads: true,
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
  webServer: {
    command: 'node --enable-source-maps ../server/dist/main.js',
    url: `http://127.0.0.1:${port}/api/health`,
    reuseExistingServer: false,
    timeout: 90_000,
    env: {
      GABLE_DATABASE_URL: process.env['GABLE_E2E_DATABASE_URL'] ?? '',
      GABLE_PORT: port,
      GABLE_WEB: '../web/dist/browser',
      GABLE_STOCK: '../demo/files/pictures',
    },
  },
});
