import { defineConfig } from '@playwright/test';

const PORT = 4391;

/**
 * One worker on a demo company of its own, as of a fixed day. The limits are far beyond what anything takes: they end what
 * hangs, on whatever machine, and judge no speed. A trace triples the work, so that it is only kept when asked for
 * (`npx playwright test --config e2e/playwright.config.ts --trace on`); what fails leaves its picture.
 */
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  workers: 1,
  timeout: 400_000,
  expect: { timeout: 60_000 },
  reporter: 'list',
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    contextOptions: { reducedMotion: 'reduce' },
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
    command: 'node dist/terrace.js demo --reset',
    cwd: '..',
    url: `http://127.0.0.1:${PORT}/api/health`,
    timeout: 300_000,
    reuseExistingServer: false,
    env: { TERRACE_PORT: String(PORT), TERRACE_DATA: 'test-results/demo', TERRACE_TODAY: '2027-03-01', TERRACE_LOG: 'error' },
  },
});
