import { expect } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'hand' });

test('a list is gone through by J and K, and the record beside is folded away and stays so', async ({ page }) => {
  await begin(page, '/planning');
  const heading = page.locator('t-suggestion-panel h1').first();
  await expect(heading).not.toBeEmpty();
  const first = await heading.innerText();
  await page.keyboard.press('j');
  await expect(heading).not.toHaveText(first);
  await page.keyboard.press('k');
  await expect(heading).toHaveText(first);

  const divider = page.getByRole('separator', { name: 'Width of the record beside' });
  const kept = page.waitForResponse((answer) => answer.url().includes('/preferences/beside.folded'));
  await divider.press('Enter');
  await expect(divider).toHaveAttribute('aria-valuenow', '0');
  await kept;
  await page.reload();
  await expect(divider).toHaveAttribute('aria-valuenow', '0');
  const unfolded = page.waitForResponse((answer) => answer.url().includes('/preferences/beside.folded'));
  await divider.press('ArrowLeft');
  await expect(divider).not.toHaveAttribute('aria-valuenow', '0');
  await unfolded;
});

test('a day is picked from the month by keyboard, and typed all the same', async ({ page }) => {
  await begin(page, '/production/orders/new');
  const due = page.getByLabel('Due', { exact: true });
  await due.focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.getByText('March 2027')).toBeVisible();
  for (const key of ['PageDown', 'ArrowDown', 'ArrowRight', 'Enter']) await page.keyboard.press(key);
  await expect(due).toHaveValue('2027-04-09');
  await expect(due).toBeFocused();
  await page.keyboard.press('Alt+ArrowDown');
  await page.keyboard.press('Escape');
  await expect(page.getByText('April 2027')).toHaveCount(0);
  await expect(page).toHaveURL(/orders\/new$/);
  await page.getByRole('button', { name: 'Calendar' }).click();
  await page.locator('.t-calendar').getByText('21', { exact: true }).click();
  await expect(due).toHaveValue('2027-04-21');
  await due.fill('wk 14');
  await page.keyboard.press('Enter');
  await expect(due).toHaveValue('2027-04-05');
});

test('sections of an item are jumped to, folded by keyboard, and stay as they were left', async ({ page }) => {
  await begin(page, '/catalogue/items/3');
  await page.getByRole('navigation', { name: 'Sections' }).getByRole('button', { name: 'Planning', exact: true }).click();
  const section = page.locator('t-fold').getByRole('button', { name: 'Planning', exact: true });
  await expect(section).toBeFocused();
  const kept = page.waitForResponse((answer) => answer.url().includes('/preferences/fold.item.rules'));
  await page.keyboard.press('Enter');
  await expect(section).toHaveAttribute('aria-expanded', 'false');
  await expect(page.locator('t-item-rules table')).toHaveCount(0);
  await kept;
  await page.reload();
  await expect(section).toHaveAttribute('aria-expanded', 'false');
  await section.press('Enter');
  await expect(page.locator('t-item-rules table')).toBeVisible();
});

test('a column that gave way is asked for and stays, the next time too', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await begin(page, '/selling');
  const plan = page.locator('.ag-header-cell[col-id="late"]:not(.ag-floating-filter)');
  await expect(page.locator('.ag-row').first()).toBeVisible();
  await expect(plan).toHaveCount(0);
  // Filters tell the columns anew.
  await page.getByRole('button', { name: 'Filter' }).click();
  await expect(page.locator('.ag-floating-filter').first()).toBeVisible();
  await expect(plan).toHaveCount(0);
  const kept = page.waitForResponse((answer) => answer.url().includes('/preferences/grid.'));
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'Late' }).click();
  await expect(plan).toHaveCount(1);
  await kept;
  await page.reload();
  await expect(plan).toHaveCount(1);
});
