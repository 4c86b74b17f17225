// Makes docs/screenshots from the demo company as of a fixed day: `npm run screenshots`.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareBrowser, preparePackages, prepareServer, prepareWeb, root } from './lib/prepare.mjs';
import { untilUp } from './lib/up.mjs';

const PORT = 4393;
const base = `http://127.0.0.1:${PORT}`;
const target = join(root, 'docs/screenshots');
preparePackages(true);
prepareServer();
prepareWeb();
const executablePath = prepareBrowser();
const { chromium } = await import('@playwright/test');
const folder = mkdtempSync(join(tmpdir(), 'terrace-pictures-'));
const start = (command, name, port) =>
  spawn(process.execPath, [join(root, 'dist/terrace.js'), command], {
    env: { ...process.env, TERRACE_DATA: join(folder, name), TERRACE_PORT: String(port), TERRACE_TODAY: '2027-03-01', TERRACE_LOG: 'error' },
    stdio: 'ignore',
  });
const server = start('demo', 'data', PORT);
const empty = start('serve', 'empty', PORT + 1);
await untilUp(base, server);
await untilUp(`http://127.0.0.1:${PORT + 1}`, empty);
mkdirSync(target, { recursive: true });
const browser = await chromium.launch({
  executablePath,
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const take = async (name) => {
    await page.waitForTimeout(1200);
    await page.screenshot({ path: join(target, `${name}.png`) });
  };
  const open = async (path, name, before = async () => undefined) => {
    await page.goto(`${base}${path}`);
    await page.waitForTimeout(900);
    await before();
    await take(name);
  };
  const narrowed = (field, op, value) => `filter=${encodeURIComponent(JSON.stringify({ [field]: { op, value } }))}`;
  const first = async (path) => (await (await page.request.get(`${base}/api${path}`)).json()).rows[0]?.id;
  await page.goto(`http://127.0.0.1:${PORT + 1}/found`);
  await page.getByLabel('Name of the company').fill('Fernhollow Cider Works');
  await take('founding');
  await page.goto(`${base}/sign-in`);
  await page.getByRole('button', { name: /Wilder/ }).click();
  await page.waitForURL('**/today');
  await open('/set-up', 'guided-list');
  await open('/set-up/people', 'people', () => page.locator('.ag-row', { hasText: 'Bryn' }).click());
  await open('/set-up/roles', 'roles', () => page.locator('.ag-row', { hasText: 'Storekeeper' }).click());
  await page.request.delete(`${base}/api/session`);
  await page.goto(`${base}/sign-in`);
  await page.getByRole('button', { name: /Maren/ }).click();
  await page.waitForURL('**/today');
  await take('today');
  await open('/selling', 'order-book', () => page.locator('.ag-row [col-id="number"]').nth(5).click());
  const [direct] = await (await page.request.get(`${base}/api/selling/direct`)).json();
  await open(`/selling/orders/${direct.orderId}/divide`, 'dividing', async () => {
    await page.getByRole('checkbox', { name: 'What is short now' }).check();
    await page.getByRole('checkbox', { name: 'What goes to another address' }).check();
    await page.getByRole('button', { name: 'Divide into 3 orders' }).waitFor();
  });
  await open('/selling', 'many-orders', async () => {
    const boxes = page.locator('.ag-row .ag-selection-checkbox input');
    for (let row = 0; row < 9; row += 1) await boxes.nth(row).check();
    await page.getByRole('button', { name: /^With the chosen/ }).click();
    await page.getByRole('combobox', { name: 'What is done' }).locator('xpath=ancestor::nz-select').click();
    await page.locator('.t-options').getByTitle('Make shipments', { exact: true }).click();
    await page.getByRole('button', { name: 'See what would happen' }).click();
    await page.getByRole('button', { name: /^Do it for/ }).waitFor();
  });
  await open('/selling/orders/new', 'order-entry', async () => {
    await page.keyboard.type('hollin');
    await page.keyboard.press('Enter');
    await page.getByLabel('Wanted on').fill('fri');
    const lines = [
      ['HIVETOOL', '3'],
      ['PAINTSET', '14'],
    ];
    for (const [index, [item, quantity]] of lines.entries()) {
      await page.getByLabel(`Item of line ${index + 1}`).fill(item);
      await page.keyboard.press('Enter');
      await page.waitForTimeout(500);
      await page.keyboard.type(quantity);
      if (index === 0) for (const field of ['Quantity', 'Price', 'Discount']) await page.getByLabel(`${field} of line 1`).press('Enter');
    }
  });
  await open('/selling/counter', 'counter', async () => {
    for (const typed of ['24*JAR-500', 'PAINTSET', '5%', '2*BRUSH', '+1', '', '100']) {
      await page.keyboard.type(typed);
      await page.keyboard.press('Enter');
      await page.waitForTimeout(500);
    }
    await page.keyboard.type('6*JAR-500');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(500);
    await page.keyboard.type('SMOKER');
    await page.keyboard.press('Enter');
  });
  await open('/selling/returns?view=held', 'return');
  await open('/planning', 'planning', () => page.locator('.ag-row [col-id="code"]').nth(2).click());
  const frames = await first('/catalogue/items?find=FRAMES-10');
  await open(`/planning/items/${frames}/1`, 'item-record', () => page.getByRole('button', { name: /^Whom/ }).first().click());
  const [late] = (await (await page.request.get(`${base}/api/planning/endangered?limit=20`)).json()).rows.filter(
    (row) => row.code === 'EXTRACT-9' && row.wanted > '2027-03-01',
  );
  await open(`/planning/orders/${late?.orderId ?? 1}`, 'order-chart');
  await open('/planning/what-if', 'what-if', async () => {
    await page.getByText('A supplier lost', { exact: true }).click();
    await page.locator('nz-select', { has: page.getByRole('combobox', { name: 'Supplier', exact: true }) }).click();
    await page.locator('.t-options').getByTitle('Gearholt Drives', { exact: true }).click();
    await page.getByRole('button', { name: 'Suppose it' }).click();
    await page.getByText('Gearholt Drives delivers nothing any more').waitFor();
  });
  const sent = narrowed('state', 'among', ['sent', 'partReceived']);
  await open(`/buying/orders/${await first(`/buying/orders?${sent}`)}`, 'purchase-order', () =>
    page.getByRole('button', { name: 'All has arrived' }).click(),
  );
  await open('/stores', 'stock-explorer', () => page.locator('.ag-row [col-id="code"]').nth(10).click());
  const blocked = narrowed('blocked', 'equals', 'true');
  await open(`/stores/trace/lot/${await first(`/stores/lots?gone=true&${blocked}`)}`, 'trace');
  await open(`/catalogue/items/${await first('/catalogue/items?find=FRAMES-10')}`, 'item');
} finally {
  await browser.close();
  server.kill('SIGTERM');
  empty.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
}
