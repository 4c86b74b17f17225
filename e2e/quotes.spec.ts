/** Something is offered, ordered in part, and the rest of it lost. */
import { expect } from '@playwright/test';
import { begin, choose } from './people';
import { test } from './site';

test.use({ file: 'quotes' });

test('a quote is entered by keyboard, a part of it ordered, and the rest given up with a reason', async ({ page }) => {
  await begin(page, '/selling/quotes');
  await expect(page.getByRole('link', { name: 'QU-1001' })).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.getByRole('combobox', { name: 'Customer' })).toBeFocused();
  await page.keyboard.type('tarn');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Summer');
  await page.keyboard.press('Enter');
  await page.keyboard.type('+40');
  await page.keyboard.press('Enter');
  await page.keyboard.type('+20');
  await page.keyboard.press('Enter');
  await page.keyboard.type('75');
  await page.getByLabel('Item of line 1').fill('HIVETOOL');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.keyboard.type('12');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^QU-/ })).toBeVisible();
  await expect(page.getByText('75 %')).toBeVisible();

  await page.getByRole('button', { name: 'Make an order …' }).click();
  await page.getByLabel('How many HIVETOOL').fill('13');
  await page.getByRole('button', { name: 'Make the order' }).click();
  await expect(page.getByText('12 are left').first()).toBeVisible();
  await page.getByLabel('How many HIVETOOL').fill('5');
  await page.getByRole('button', { name: 'Make the order' }).click();
  await expect(page.getByRole('heading', { name: /^CO-/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Confirm CO-/ })).toBeVisible();

  await page.goBack();
  await page.getByRole('button', { name: 'Lost …' }).click();
  await choose(page.getByRole('combobox', { name: 'Why' }), 'Too late');
  await page.getByRole('button', { name: 'It is lost' }).click();
  await expect(page.getByText('Too late')).toBeVisible();
  await expect(page.getByText('ordered', { exact: true })).toBeVisible();
});
