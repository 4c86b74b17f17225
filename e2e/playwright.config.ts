import { defineConfig } from '@playwright/test';

/**
 * Two files at a time, each at a demo company of its own (site.ts), as of a fixed day. The limits are far beyond what
 * anything takes: they end what hangs, on whatever machine, and judge no speed. A trace triples the work, so that it is only kept when asked for
 * (`npx playwright test --config e2e/playwright.config.ts --trace on`); what fails leaves its picture.
 */
export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  workers: 2,
  // What passes at its second try only is listed as flaky at the end: it is understood, not got used to.
  retries: 1,
  globalSetup: '../scripts/lib/demo-first.mjs',
  timeout: 400_000,
  expect: { timeout: 60_000 },
  reporter: 'list',
  // What takes longest begins first, so that nobody waits for it alone at the end.
  projects: [
    { name: 'long', testMatch: /(screens|planning|live)\.spec\.ts$/ },
    { name: 'jobs', testIgnore: /(screens|planning|live)\.spec\.ts$/ },
  ],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
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
});
