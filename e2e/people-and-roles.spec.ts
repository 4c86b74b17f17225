import { expect } from '@playwright/test';
import { begin, find } from './people';
import { test } from './site';

test.use({ file: 'people' });

test('somebody is let in by a link, may what their role says, and no more from the moment that it is taken', async ({ page, browser }) => {
  await begin(page, '/set-up/people', 'wilder');
  await page.getByRole('button', { name: 'Add a person' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Ansel Thicket');
  await page.getByLabel('Signs in as').fill('Ansel');
  await page.getByLabel('Storekeeper', { exact: true }).check();
  await page.getByRole('button', { name: 'Add, and make a link' }).click();
  const link = await page.locator('.link').innerText();
  expect(link).toContain('/join/');
  await expect(page.getByRole('button', { name: 'Copy the link' })).toBeInViewport();
  await expect(page.locator('.ag-row-selected')).toHaveCount(0);

  const desk = await (await browser.newContext()).newPage();
  await desk.goto(link);
  await expect(desk.getByText('Welcome, Ansel Thicket')).toBeVisible();
  await desk.getByLabel('Password').fill('password1234');
  await desk.keyboard.press('Enter');
  await expect(desk.getByText('one of those that everybody tries first').first()).toBeVisible();
  await desk.getByLabel('Password').fill('lantern copper orchard');
  await desk.keyboard.press('Enter');
  await expect(desk.getByRole('button', { name: 'Ansel Thicket' })).toBeVisible();
  await desk.goto('/stores/adjust');
  await expect(desk.getByRole('heading', { name: 'Adjust stock' })).toBeVisible();
  await expect(desk.getByRole('link', { name: 'Set-up' })).toHaveCount(0);

  // The role gets the set-up to see, and it is said first who gains that.
  await page.goto('/set-up/roles');
  await page.getByRole('gridcell', { name: 'Storekeeper' }).click();
  await page.getByLabel('See the set-up and the outbox').check();
  await page.getByRole('button', { name: 'Save' }).click();
  const asked = page.getByRole('dialog');
  await expect(asked).toContainText('Change what 2 people may do?');
  await expect(asked).toContainText('Ansel Thicket');
  await asked.getByRole('button', { name: 'Change it' }).click();
  await expect(desk.getByRole('link', { name: 'Set-up' })).toBeVisible();

  // Whoever leaves is out at once.
  await page.goto('/set-up/people');
  await page.getByRole('gridcell', { name: 'Ansel Thicket' }).click();
  await page.getByLabel(/^May come in/).uncheck();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('gridcell', { name: 'deactivated' })).toBeVisible();
  await desk.getByRole('link', { name: 'Stores' }).click();
  await expect(desk.getByText('Sign in again')).toBeVisible();
  await desk.context().close();
});

test('a program asks under one’s name by a token, until it is revoked', async ({ page, playwright, baseURL }) => {
  await begin(page, '/me', 'isolde');
  await page.getByLabel('What it is for').fill('Supplier portal');
  await page.getByRole('button', { name: 'Make a token' }).click();
  const [, token = ''] = /Bearer (terrace_\S+)/.exec(await page.locator('t-tokens code').innerText()) ?? [];
  const program = await playwright.request.newContext({
    ...(baseURL === undefined ? {} : { baseURL }),
    extraHTTPHeaders: { authorization: `Bearer ${token}` },
  });
  expect((await program.get('/api/buying/orders?limit=1')).status()).toBe(200);
  expect((await program.post('/api/planning/plan', { data: {}, headers: { 'idempotency-key': 'plan-it-now' } })).status()).toBe(403);
  await page.getByRole('button', { name: 'Revoke' }).click();
  await expect(page.getByRole('cell', { name: 'Supplier portal' })).toHaveCount(0);
  expect((await program.get('/api/buying/orders?limit=1')).status()).toBe(401);
  await program.dispose();
});

test('one changes one’s own password, and ends one’s session elsewhere', async ({ page, browser }) => {
  const elsewhere = await (await browser.newContext()).newPage();
  await begin(elsewhere, '/today', 'tobin');
  await begin(page, '/me', 'tobin');
  await expect(page.getByRole('button', { name: 'Sign out there' })).toHaveCount(1);
  await page.getByRole('button', { name: 'Sign out there' }).click();
  await expect(page.getByRole('button', { name: 'Sign out there' })).toHaveCount(0);
  await elsewhere.getByRole('link', { name: 'Selling' }).click();
  await expect(elsewhere.getByText('Sign in again')).toBeVisible();
  await elsewhere.context().close();
  await page.getByLabel('Your password of now').fill('larkmoor');
  await page.getByLabel('The new one').fill('window granite ferry');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('Your password is changed')).toBeVisible();
  expect((await page.request.post('/api/session', { data: { login: 'tobin', password: 'larkmoor' } })).status()).toBe(401);
  expect((await page.request.post('/api/session', { data: { login: 'tobin', password: 'window granite ferry' } })).status()).toBe(200);
  await find(page, 'CO-1001');
});
