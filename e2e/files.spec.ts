import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { begin, narrow } from './people';
import { test } from './site';

test('a list is taken along as a file, by keyboard; one that can’t be made says why, where it was asked for', async ({ page }) => {
  await begin(page, '/selling');
  await narrow(page, 'CO-1091');
  const take = async (words: string): Promise<void> => {
    await page.getByRole('button', { name: 'Columns' }).click();
    await page.getByRole('link', { name: words }).press('Enter');
  };
  const [download] = await Promise.all([page.waitForEvent('download'), take('All rows as CSV')]);
  expect(download.suggestedFilename()).toMatch(/^orders-\d{4}-\d\d-\d\d\.csv$/);
  const text = readFileSync(await download.path(), 'utf8');
  expect(text.trim().split('\n')).toHaveLength(2);
  expect(text).toContain('CO-1091');

  // Nothing to write: an order that there is not.
  await page.getByPlaceholder('Narrow this list').fill('no order is called this');
  await expect(page.getByText('0 rows')).toBeVisible();
  await page.route('**/api/selling/orders?*file=pdf*', async (route) => {
    const refused = { type: '/problems/busyForYou', title: '', status: 429, code: 'busyForYou', detail: '3 files are being made for you already.' };
    await route.fulfill({ status: 429, contentType: 'application/problem+json', body: JSON.stringify(refused) });
  });
  await page.keyboard.press('Escape');
  await take('All rows as PDF');
  await expect(page.getByRole('alert')).toContainText('3 files are being made for you already.');
});
