import { expect } from '@playwright/test';
import { begin, choose, narrow, pick, view } from './people';
import { test } from './site';

test.use({ file: 'catalogue' });

/** Two minutes of a person who types 120 keys a minute. */
const TWO_MINUTES_OF_KEYS = 240;

test('a new item, from nothing to sellable by keyboard alone', async ({ page }) => {
  await page.addInitScript(() => {
    const counted = window as unknown as { keys: number };
    counted.keys = 0;
    addEventListener('keydown', () => (counted.keys += 1), true);
  });
  await begin(page, '/today');
  await page.keyboard.press('Alt+9');
  await expect(page.getByRole('link', { name: 'New item' })).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.getByLabel('Code', { exact: true })).toBeFocused();
  const next = () => page.keyboard.press('Enter');
  await page.keyboard.type('TOOL-LONG');
  await next();
  await page.keyboard.type('Hive tool, hardened');
  // What is there already is shown beside before anything is saved.
  await expect(page.locator('aside')).toContainText('HIVETOOL');
  await page.keyboard.type(' long handle');
  await next();
  await page.keyboard.type('Bought');
  await next();
  await expect(page.getByText('from group GOODS')).toBeVisible();
  await page.keyboard.type('=2*7.45');
  await next();
  await page.keyboard.type('2000099000017');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('h1')).toContainText('TOOL-LONG');
  await expect(page.locator('t-item-panel')).toContainText('14.90 EUR');
  expect(await page.evaluate(() => (window as unknown as { keys: number }).keys)).toBeLessThan(TWO_MINUTES_OF_KEYS);

  await page.getByRole('button', { name: 'Set a supplier’s terms' }).click();
  await page.getByRole('combobox', { name: 'Supplier' }).fill('ironbeck');
  await page.keyboard.press('Enter');
  await page.getByLabel('Price', { exact: true }).fill('6.10');
  await page.getByLabel('Lead time, days', { exact: true }).fill('8');
  await page.getByRole('button', { name: 'Set the terms' }).click();
  await expect(page.locator('t-item-terms')).toContainText('Ironbeck Metalworks');

  // By its barcode on an order, with a price that says why.
  await page.goto('/selling/orders/new');
  await page.getByRole('combobox', { name: 'Customer' }).fill('bracken');
  await page.keyboard.press('Enter');
  await page.getByLabel('Item of line 1').fill('2000099000017');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Price of line 1')).toHaveValue('13.10');
  await expect(page.locator('t-price-why')).toContainText('12 % off the list price of 14.90 EUR');
});

test('a file with errors is tried, mended, tried again and taken', async ({ page }) => {
  await begin(page, '/catalogue/files');
  const file = (rows: string) => ({ name: 'spring.csv', mimeType: 'text/csv', buffer: Buffer.from(`Our code;Text;Item group;Price\n${rows}`) });
  const box = page.locator('input[type=file]');
  await box.setInputFiles(file('SCARF;Scarf, cotton;WEAR;12,50\nCAP;Cap;HATS;9,00\nSMOKER;Smoker with guard;GOODS;x\n'));
  await choose(page.getByLabel('Our code goes to'), 'Code (needed)');
  await choose(page.getByLabel('Text goes to'), /^Description/);
  await page.getByRole('button', { name: /Try it/ }).click();
  await expect(page.getByRole('radio', { name: '2 refused' })).toBeAttached();
  await expect(page.getByRole('row', { name: /CAP refused/ })).toContainText('no item group "HATS"');
  await expect(page.getByRole('row', { name: /SMOKER refused/ })).toContainText('not a number with a decimal comma');
  await box.setInputFiles(file('SCARF;Scarf, cotton;WEAR;12,50\nCAP;Cap;WEAR;9,00\nSMOKER;Smoker with guard;GOODS;39,00\n'));
  // Where the columns go is remembered.
  await expect(page.getByLabel('Our code goes to')).toHaveAttribute('aria-description', 'Code (needed)');
  await page.getByRole('button', { name: /Try it/ }).click();
  await expect(page.getByRole('radio', { name: '0 refused' })).toBeAttached();
  await pick(page, '1 changed');
  await expect(page.getByRole('row', { name: /SMOKER changed/ })).toContainText('→ 39.00');
  await page.getByRole('button', { name: 'Take all 3' }).click();
  await expect(page.getByText('Taken: 2 added, 1 changed')).toBeVisible();
  await expect(page.getByRole('row', { name: /IM-\d+ .*spring\.csv.*2 added, 1 changed/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Find or scan anything' }).fill('scarf');
  await expect(page.getByRole('option').first()).toContainText('SCARF');
});

test('prices of a group are looked at and changed, and many items in the list with undo', async ({ page }) => {
  await begin(page, '/selling/prices/change');
  await choose(page.getByLabel('Of which items'), 'Own products');
  await page.getByLabel('Percent').fill('10');
  await page.getByRole('button', { name: 'Look at it' }).click();
  const hive = page.getByRole('row', { name: /HIVE-10/ });
  await expect(hive).toContainText('189.00');
  await expect(hive).toContainText('207.90');
  await page.getByLabel('Change EXTRACT-9').uncheck();
  await page.getByRole('button', { name: /^Change 5 prices/ }).click();
  await expect(page.getByRole('status')).toContainText('5 prices changed');

  await page.goto('/catalogue');
  await view(page, 'Own products');
  const price = (code: string) => page.locator('.ag-row', { hasText: code }).locator('[col-id="sellPrice"]');
  await expect(price('HIVE-10')).toContainText('207.90');
  await expect(price('EXTRACT-9')).toContainText('1,149.00');
  await page.getByRole('button', { name: 'Edit in the list' }).click();
  await page.getByRole('button', { name: 'Choose all rows' }).click();
  await choose(page.getByLabel('Field'), 'Price');
  await page.getByLabel('Value').fill('+10 %');
  await page.getByRole('button', { name: /Give it to \d+ chosen/ }).click();
  await expect(price('HIVE-10')).toContainText('228.69');
  await page.getByRole('button', { name: /Undo/ }).click();
  await expect(price('HIVE-10')).toContainText('207.90');
  await price('HIVE-10').dblclick();
  await page.keyboard.type('199');
  await page.keyboard.press('Enter');
  await expect(price('HIVE-10')).toContainText('199');
  await page.getByRole('button', { name: 'Save 1' }).click();
  await expect(page.getByText('1 saved.')).toBeVisible();
  await page.getByRole('button', { name: 'Stop editing' }).click();
  await expect(price('HIVE-10')).toContainText('199.00');
});

test('a list is kept under a name as somebody wants it, and is there the next time', async ({ page }) => {
  await begin(page, '/catalogue');
  await narrow(page, 'extractor');
  const rows = page.locator('t-grid .total');
  await expect(rows).toHaveText(/^\s*\d rows\s*$/);
  const narrowed = await rows.innerText();
  const price = page.locator('.ag-header-cell[col-id="sellPrice"]');
  await price.click();
  await expect(price).toHaveAttribute('aria-sort', 'ascending');
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByText('Keep this view under a name').click();
  await page.getByLabel('Name of the view').fill('Extractors, dearest last');
  // Kept on the server before the page is left.
  const kept = page.waitForResponse((answer) => answer.url().includes('/preferences/views.items'));
  await page.keyboard.press('Enter');
  await kept;
  await page.goto('/catalogue');
  await expect(rows).toHaveText(/\d\d rows/);
  await pick(page, 'Extractors, dearest last');
  await expect(rows).toHaveText(narrowed);
  await expect(price).toHaveAttribute('aria-sort', 'ascending');
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByText('Forget the view').click();
  await expect(page.getByRole('radio', { name: 'Extractors, dearest last' })).toHaveCount(0);
});
