/** An order that a customer sent as a file: read, mended where it does not match, and made an order. */
import { expect } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'incoming' });

test('a file of orders is read, what does not match is mended beside its message, and becomes an order', async ({ page }) => {
  await begin(page, '/selling/incoming?view=waiting', 'tobin');
  const file = { name: 'april.csv', mimeType: 'text/csv', buffer: Buffer.from('order;customer;their item;quantity;price\nA-77;TARN;T-9;3;29.90\n') };
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByRole('status').filter({ hasText: '1 to mend' })).toBeVisible();
  await page.getByRole('gridcell', { name: 'A-77' }).click();
  await expect(page.getByText('No item of ours is called T-9')).toBeVisible();
  await page.getByLabel('Item of line 1').fill('smoker');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /ours$/ }).click();
  await page.getByRole('button', { name: 'Make it an order' }).click();
  await page.locator('t-incoming-panel').getByRole('link', { name: /^CO-/ }).click();
  await expect(page.locator('h1').first()).toContainText('CO-');
  await expect(page.getByText('A-77')).toBeVisible();

  await page.goto('/selling/incoming');
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByText('This very file came before')).toBeVisible();
});

test('figures of selling open what they are made of', async ({ page }) => {
  await begin(page, '/selling/figures');
  await expect(page.getByText('On time in full, as promised')).toBeVisible();
  await page.getByText('Order', { exact: true }).first().click();
  await page.getByRole('table').getByRole('link', { name: /^CO-/ }).first().click();
  await expect(page.locator('h1').first()).toContainText('CO-');
});
