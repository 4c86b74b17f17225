/** The same with many orders: chosen in the order book, looked at, done for those that can, and found again. */
import { expect } from '@playwright/test';
import { begin, choose } from './people';
import { test } from './site';

test.use({ file: 'many' });

test('an order is opened in place by a key, and the list beside goes on', async ({ page }) => {
  await begin(page, '/selling');
  await expect(page.locator('t-order-panel h1, t-order-panel h2').first()).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByRole('columnheader', { name: 'Price' })).toBeVisible();
  const first = await page.locator('t-order-panel').innerText();
  await page.keyboard.press('j');
  await expect.poll(() => page.locator('t-order-panel').innerText()).not.toBe(first);
  await expect(page.getByRole('columnheader', { name: 'Price' })).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByRole('columnheader', { name: 'Price' })).toBeHidden();
});

test('orders are held, let go and sent another way together; what can’t be says why, and the result is found again', async ({ page }) => {
  await begin(page, '/selling');
  const boxes = page.locator('.ag-row .ag-selection-checkbox input');
  // None of these is held as the demo company begins.
  await expect(boxes.nth(8)).toBeVisible();
  for (let row = 4; row < 8; row += 1) await boxes.nth(row).check();
  await page.getByRole('button', { name: 'With the chosen … (4)' }).click();
  await expect(page.getByRole('heading', { name: 'With 4 chosen orders' })).toBeVisible();

  await choose(page.getByRole('combobox', { name: 'What is done' }), 'Hold them');
  await page.getByRole('button', { name: 'See what would happen' }).click();
  await expect(page.getByText('Say why.').first()).toBeVisible();
  await page.getByLabel('Why').fill('waits for a deposit');
  await page.getByRole('button', { name: 'See what would happen' }).click();
  await page.getByRole('button', { name: 'Do it for 4' }).click();
  await expect(page.getByRole('status')).toHaveText('4 done');
  await page.getByRole('link', { name: /^CO-/ }).first().click();
  await expect(page.getByText('waits for a deposit')).toBeVisible();
  await page.getByRole('button', { name: 'Let it go on' }).click();
  await expect(page.getByRole('button', { name: 'Hold …' })).toBeVisible();

  // The same four again: one of them is not held any more.
  await page.goto('/selling');
  await expect(boxes.nth(8)).toBeVisible();
  for (let row = 4; row < 8; row += 1) await boxes.nth(row).check();
  await page.getByRole('button', { name: 'With the chosen … (4)' }).click();
  await choose(page.getByRole('combobox', { name: 'What is done' }), 'Let them go on');
  await page.getByRole('button', { name: 'See what would happen' }).click();
  await expect(page.getByText('3 can be, 1 can’t.')).toBeVisible();
  await expect(page.getByText('is not held.')).toBeVisible();
  await page.getByRole('button', { name: 'Do it for 3' }).click();
  await expect(page.getByRole('status')).toHaveText('3 done, 1 refused');
  await page.locator('.ant-radio-button-wrapper').getByText('Refused 1', { exact: true }).click();
  await expect(page.getByRole('cell', { name: /is not held/ })).toBeVisible();

  // What is printed of many is one file, as long as the result is kept.
  await page.goto('/selling');
  await expect(boxes.nth(8)).toBeVisible();
  for (let row = 4; row < 8; row += 1) await boxes.nth(row).check();
  await page.getByRole('button', { name: 'With the chosen … (4)' }).click();
  await choose(page.getByRole('combobox', { name: 'What is done' }), 'Print confirmations');
  await page.getByRole('button', { name: 'See what would happen' }).click();
  await page.getByRole('button', { name: /^Do it for/ }).click();
  const papers = page.getByRole('link', { name: 'Open the papers (PDF)' });
  await expect(papers).toBeVisible();
  const file = await page.request.get((await papers.getAttribute('href')) ?? '');
  expect([file.status(), file.headers()['content-type']]).toEqual([200, 'application/pdf']);

  await page.getByRole('link', { name: 'Others that were done' }).click();
  await page.getByRole('link', { name: 'Hold: waits for a deposit' }).click();
  await expect(page.getByRole('status')).toHaveText('4 done');
});
