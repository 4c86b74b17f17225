import { expect } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'together' });

test('two people at one order: the screen follows, and the second writer is told', async ({ page, browser }) => {
  await begin(page, '/selling?view=drafts');
  // The one that is wanted first: the other goes beyond what its customer may owe.
  await page.locator('.ag-row[row-id]').last().locator('[col-id="number"]').dblclick();
  await expect(page).toHaveURL(/orders\/\d+$/);
  const address = page.url();
  await page.getByRole('link', { name: 'Change' }).click();
  await expect(page.getByLabel('Quantity of line 1')).toBeVisible();

  const other = await browser.newPage();
  await begin(other, `${address}/change`, 'tobin');
  await other.getByLabel('Quantity of line 1').fill('=2*3');
  await other.getByRole('button', { name: 'Save the changes' }).click();
  await expect(other.locator('t-order-panel')).toContainText('6 each');

  await page.getByLabel('Quantity of line 1').fill('9');
  await page.getByRole('button', { name: 'Save the changes' }).click();
  await expect(page.getByRole('alert')).toContainText('Tobin Reedmace changed it meanwhile');

  await page.goto(address);
  await expect(page.locator('t-order-panel')).toContainText('6 each');
  await other.getByRole('button', { name: /^Confirm CO-/ }).click();
  await expect(page.locator('t-order-panel t-state').first()).toHaveText(/confirmed/);
  await expect(page.locator('t-order-panel')).toContainText('Tobin Reedmace: confirmed');
});

test('what can’t be is refused beside its field, and nothing typed is lost', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  await page.getByRole('combobox', { name: 'Customer' }).fill('tarn');
  await page.keyboard.press('Enter');
  await page.getByLabel('Wanted on').fill('30 feb');
  await page.getByLabel('Item of line 1').fill('smoker');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.getByLabel('Quantity of line 1').fill('1.5');
  await expect(page.getByRole('region', { name: 'Availability' })).toContainText('1.5 is finer than the quantity can be');
  await page.getByRole('button', { name: 'Save as a draft' }).click();
  await expect(page.getByRole('alert')).toContainText('Give a date that exists');
  await page.getByLabel('Wanted on').fill('+9');
  await page.getByRole('button', { name: 'Save as a draft' }).click();
  await expect(page.getByRole('alert')).toContainText('1.5 is finer than the quantity of SMOKER can be');
  await expect(page.getByLabel('Quantity of line 1')).toHaveAttribute('aria-invalid', 'true');
  await expect(page.getByLabel('Quantity of line 1')).toHaveValue('1.5');
});

test('a viewer sees and can’t change', async ({ page }) => {
  await begin(page, '/selling?view=drafts', 'perrin');
  await expect(page.locator('t-order-panel')).toContainText('draft');
  await expect(page.getByRole('button', { name: /^Confirm/ })).toHaveCount(0);
});

test('what can’t be read beside the work is said, until it is read again', async ({ page }) => {
  await begin(page, '/selling');
  await page.route('**/api/records/**', (route) =>
    route.fulfill({ status: 500, contentType: 'application/problem+json', body: '{"code":"fault","detail":"The trail can’t be read now."}' }),
  );
  await page.locator('.ag-row [col-id="number"]').first().dblclick();
  await expect(page).toHaveURL(/orders\/\d+$/);
  await expect(page.locator('.told')).toContainText('Not all of this screen could be read: The trail can’t be read now.');
  await expect(page.locator('t-trail')).not.toContainText('led to this yet');
  await page.unroute('**/api/records/**');
  await page.reload();
  await expect(page.locator('t-trail')).toContainText(/led to this yet|CO-/);
  await expect(page.getByText('Not all of this screen could be read')).toHaveCount(0);
});
