/** A company moves: written as one file, founded from it on another server; and a backup is put back. */
import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { untilUp } from '../scripts/lib/up.mjs';
import { begin, enter } from './people';
import { test } from './site';

test.use({ file: 'moving' });
const ROOT = join(import.meta.dirname, '..');
const FOLDER = join(ROOT, 'test-results/moved');
const PORT = 4396;
const PASSWORD = 'drawn combs in autumn';
let other: ChildProcess | undefined;
// Whatever becomes of a test, its other server is nobody's in the next.
test.afterEach(() => void other?.kill('SIGTERM'));

test('the whole company is taken as a file, and founded from it elsewhere', async ({ page, browser }) => {
  await begin(page, '/set-up/archive', 'wilder');
  await page.getByRole('button', { name: 'Write one now' }).click();
  const taken = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take it' }).click();
  const archive = join(ROOT, 'test-results', 'company.zip');
  await (await taken).saveAs(archive);

  rmSync(FOLDER, { recursive: true, force: true });
  const env = { ...process.env, TERRACE_PORT: String(PORT), TERRACE_DATA: FOLDER, TERRACE_TODAY: '2027-03-01', TERRACE_LOG: 'error' };
  const server = spawn(process.execPath, [join(ROOT, 'dist/terrace.js'), 'serve'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  other = server;
  let said = '';
  server.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const url = `http://127.0.0.1:${PORT}`;
  await untilUp(url, server);
  const code = /[A-Z2-9]{4}-[A-Z2-9]{4}/.exec(said)?.[0] ?? '';
  const context = await browser.newContext({ baseURL: url });
  const there = await context.newPage();
  await there.goto('/');
  await there.getByRole('button', { name: 'From an archive of Terrace instead' }).click();
  await there.locator('input[type=file]').setInputFiles(archive);
  await there.getByLabel('What its administrator signs in with').fill('tobin');
  await there.getByLabel('A new password for them').fill(PASSWORD);
  await there.getByLabel('Code on the server’s console').fill(code);
  await there.getByRole('button', { name: 'Found it from the archive' }).click();
  await expect(there.getByText('nobody who looks after the company signs in as “tobin”').first()).toBeVisible();
  await there.getByLabel('What its administrator signs in with').fill('wilder');
  await there.getByRole('button', { name: 'Found it from the archive' }).click();
  await expect(there.getByRole('button', { name: 'Wilder Ashgrove' })).toBeVisible();
  // There the plan is made anew, which takes what it takes.
  for (const list of ['/api/selling/orders', '/api/stores/moves', '/api/planning/suggestions'])
    await expect(async () => {
      const [before, after] = await Promise.all([page.request.get(`${list}?limit=1000`), there.request.get(`${list}?limit=1000`)]);
      expect(await after.json()).toEqual(await before.json());
    }).toPass({ timeout: 60_000 });
  await context.close();
});

test('a backup is put back from the screen, after a look inside', async ({ page }) => {
  await begin(page, '/set-up/backups', 'wilder');
  await page.getByRole('button', { name: 'Make one now' }).click();
  const look = page.getByRole('button', { name: 'Look into it' }).first();
  await look.click();
  await page.request.put('/api/setup/house', {
    headers: { 'Idempotency-Key': 'moving-house' },
    data: { ...((await (await page.request.get('/api/setup/house')).json()) as object), company: 'Larkmoor and Daughters' },
  });
  await page.getByRole('button', { name: 'Put it back …' }).click();
  await expect(page.getByRole('dialog')).toContainText('Everybody signs in again');
  await page.getByRole('button', { name: 'Put it back', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await expect(page.locator('main')).toContainText('Larkmoor Apiary Works');
  await enter(page, 'wilder');
  await page.goto('/notices');
  await expect(page.getByText('was put back; what was there is kept')).toBeVisible();
});
