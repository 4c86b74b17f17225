/** An order that can't go together: entered by the customer's own numbers, divided after a look, joined again. */
import { expect } from '@playwright/test';
import { begin, choose } from './people';
import { test } from './site';

test.use({ file: 'dividing' });

test('an order is entered by the customer’s numbers with a free piece, divided by hand and by reason, and joined again', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  await page.getByRole('combobox', { name: 'Customer' }).fill('Bracken');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Bought before' })).toBeVisible();
  await page.getByLabel('Wanted on').fill('2027-03-26');
  await page.getByLabel('Item of line 1').fill('BG-40112');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.keyboard.type('60');
  await page.keyboard.press('Alt+Enter');
  await page.getByLabel('Free of charge of line 1').fill('2');
  await choose(page.getByRole('combobox', { name: 'Goes to' }).first(), /^Yard/);
  await page.keyboard.press('Alt+1');
  await expect(page.getByLabel('Quantity of line 2')).toBeFocused();
  await page.keyboard.press('Control+Enter');
  const sums = page.locator('p.figure');
  await expect(sums).toContainText('total');
  await expect(page.getByText('2 free of charge')).toBeVisible();
  const total = await sums.textContent();

  await page.getByRole('link', { name: 'Divide …' }).click();
  await page.getByRole('checkbox', { name: 'What goes to another address' }).check();
  await expect(page.getByRole('button', { name: 'Divide into 2 orders' })).toBeVisible();
  await page.getByRole('button', { name: /^Take \d+ SMOKER in hand$/ }).click();
  await page.getByLabel('How many of it').fill('1');
  await page.getByRole('button', { name: 'Move it' }).click();
  await page.getByRole('button', { name: /^Divide into \d orders/ }).click();
  const family = page.locator('t-fold').filter({ has: page.getByRole('columnheader', { name: 'Join' }) });
  await expect(family.getByRole('row')).toHaveCount(3);

  await family.getByRole('button', { name: 'Take it back in' }).click();
  await page.getByRole('button', { name: 'Join them' }).click();
  const parts = page.locator('t-fold').filter({ has: page.getByText('this one') });
  await expect(parts.getByText('cancelled')).toBeVisible();
  await expect(sums).toHaveText(total ?? '');
});

test('what follows from a change of a confirmed order is seen before it is made', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  await page.getByRole('combobox', { name: 'Customer' }).fill('Hollin');
  await page.keyboard.press('Enter');
  await page.getByLabel('Wanted on').fill('2027-03-26');
  await page.getByLabel('Item of line 1').fill('PAINTSET');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.keyboard.type('3');
  await page.keyboard.press('Control+Enter');
  await page.getByRole('link', { name: 'Change' }).click();
  await page.getByLabel('Quantity of line 1').fill('900');
  await page.keyboard.press('Control+Enter');
  const follows = page.getByRole('status').filter({ hasText: 'What follows from it' });
  await expect(follows).toContainText('Nothing is changed yet');
  await expect(follows).toBeInViewport();
  // Something else is typed: it is looked at anew.
  await page.getByLabel('Quantity of line 1').fill('2');
  await expect(follows).toBeHidden();
  await page.keyboard.press('Control+Enter');
  await expect(follows).toContainText('1 reserved become free, 2 stay');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^CO-/ })).toBeVisible();
  await expect(page.getByText('all reserved')).toBeVisible();
});
