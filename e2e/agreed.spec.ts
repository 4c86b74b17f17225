import { expect, type Page } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'agreed' });

const state = (page: Page) => page.locator('t-order-panel t-state').first();

test('a draft beyond what its customer may owe says by how much, and is confirmed all the same by who has read it', async ({ page }) => {
  await begin(page, '/selling?view=drafts');
  await page.locator('.ag-row', { hasText: 'draft' }).first().waitFor();
  const drafts = await page.locator('.ag-row [col-id="number"]').allInnerTexts();
  let refused = false;
  for (const number of [...new Set(drafts)].filter((each) => each.startsWith('CO-'))) {
    await page.locator('.ag-row').filter({ hasText: number }).first().dblclick();
    await expect(page.locator('h1').first()).toContainText(number);
    await page.getByRole('button', { name: `Confirm ${number}` }).click();
    const goOn = page.getByRole('button', { name: 'Go on beyond the credit limit' });
    await expect(goOn.or(state(page).filter({ hasText: 'confirmed' })).first()).toBeVisible();
    if (await goOn.isVisible()) {
      refused = true;
      await expect(page.getByRole('alert')).toContainText(/would owe [\d.,]+, and the credit limit is/);
      await goOn.click();
    }
    await expect(state(page)).toHaveText(/confirmed/);
    await page.goto('/selling?view=drafts');
  }
  expect(refused).toBe(true);
});

test('stock that has become free is reserved for the order that waits for it', async ({ page }) => {
  await begin(page, '/');
  await page.getByText('Order lines that free stock could cover').click();
  await expect(page).toHaveURL(/selling\/waiting/);
  const row = page.locator('tbody tr').filter({ hasText: 'SUIT-M' });
  await expect(row).toContainText('DEPOT');
  await page.getByRole('button', { name: /^Reserve for \d+ lines?$/ }).click();
  await expect(page.getByRole('status').filter({ hasText: /[Rr]eserved/ })).toBeVisible();
  await expect(row).toHaveCount(0);
});

test('an order keeps its prices until somebody takes those of today, line by line', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  await page.getByRole('combobox', { name: 'Customer' }).fill('tarn');
  await page.keyboard.press('Enter');
  await page.getByLabel('Wanted on').fill('+9');
  await page.getByLabel('Item of line 1').fill('hivetool');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.getByLabel('Quantity of line 1').fill('3');
  await page.getByRole('button', { name: 'Save as a draft' }).click();
  await expect(state(page)).toHaveText(/draft/);
  const [order, total] = [page.url(), page.locator('t-order-panel b').filter({ hasText: /^total/ })];
  const agreed = await total.innerText();

  const item = await page.locator('t-order-panel').getByRole('link', { name: 'HIVETOOL' }).first().getAttribute('href');
  await page.goto(`${item ?? ''}/change`);
  await page.getByLabel('Selling price', { exact: true }).fill('99');
  await page.keyboard.press('Control+Enter');
  await expect(page).toHaveURL(/items\/\d+$/);

  await page.goto(order);
  await expect(total).toHaveText(agreed);
  await page.getByRole('button', { name: /^Price it again/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Price it again' });
  await expect(dialog).toContainText('HIVETOOL');
  await dialog.getByRole('button', { name: 'Take 1 price' }).click();
  await expect(dialog).toBeHidden();
  await expect(total).not.toHaveText(agreed);
});
