import { expect } from '@playwright/test';
import { begin, enter, choose } from './people';
import { test } from './site';

test.use({ file: 'catalogue-set-up' });

test('a group’s default reaches the items that follow it, and a family becomes items', async ({ page }) => {
  await begin(page, '/catalogue/ground');
  await page.getByRole('button', { name: /GOODS Bought goods/ }).click();
  await page.getByLabel('Discount ceiling, %').fill('18');
  await page.getByRole('button', { name: 'Save; its items follow' }).click();
  await expect(page.getByRole('status')).toContainText('items follow');
  await page.getByRole('combobox', { name: 'Find or scan anything' }).fill('HIVETOOL');
  await page.getByRole('option').filter({ hasText: 'HIVETOOL' }).first().click();
  await expect(page.locator('t-item-panel')).toContainText('18 % from group GOODS');
  // What is fixed says why.
  await page.getByRole('link', { name: 'Change', exact: true }).click();
  await expect(page.locator('main')).toContainText('Stock of it has moved (ADJ-');

  await page.goto('/catalogue/families/new');
  await page.getByLabel('Code; its items begin with it').fill('SOCK');
  await page.getByLabel('Description; its items begin with it').fill('Bee-proof sock');
  await choose(page.getByLabel('Group'), 'Clothing');
  await page.getByLabel('Its values: code and name, by comma').fill('S small, L large, S short');
  await expect(page.getByText('Size has the value S twice')).toBeVisible();
  await page.getByLabel('Its values: code and name, by comma').fill('S small, L large');
  await expect(page.getByRole('row', { name: 'SOCK-L Bee-proof sock, large' })).toBeVisible();
  await page.getByRole('button', { name: 'Set up the family' }).click();
  await page.getByRole('button', { name: 'Choose all that are not made' }).click();
  await page.getByLabel('Price for all').fill('9.50');
  await page.getByRole('button', { name: 'Price all that are not made' }).click();
  await page.getByLabel('Description').nth(2).fill('Bee-proof sock, large and long');
  await page.getByRole('button', { name: 'Make 2 items' }).click();
  await page.getByRole('link', { name: 'SOCK-L' }).click();
  await expect(page.locator('t-item-panel')).toContainText('Bee-proof sock, large and long');
  await expect(page.locator('t-item-panel')).toContainText('9.50 EUR');
});

test('a list prices a line, and more than the ceiling takes somebody who may, and a reason', async ({ page, browser }) => {
  // The lists come only after the new one has been begun, which stays.
  let answer = (): void => undefined;
  const begun = new Promise<void>((done) => (answer = done));
  await page.route('**/api/selling/price-lists?*', async (route) => {
    await begun;
    await route.continue();
  });
  await begin(page, '/selling/prices');
  await page.getByRole('button', { name: 'New list' }).click();
  await page.getByLabel('Code').fill('SCHOOLS');
  answer();
  await expect(page.locator('.ag-row').first()).toBeVisible();
  await page.getByLabel('Name').last().fill('Schools and foundations');
  await choose(page.getByRole('combobox', { name: 'For', exact: true }), 'Schools and foundations');
  await page.getByRole('button', { name: 'Set up the list' }).click();
  await page.getByRole('button', { name: 'Add a price' }).click();
  await page.getByRole('combobox', { name: 'Item', exact: true }).fill('SMOKER');
  await page.getByRole('listbox', { name: 'Items found' }).getByRole('option').first().click();
  await choose(page.getByLabel('Price as'), '% off the list price');
  await page.getByLabel('Value', { exact: true }).fill('25');
  await page.getByRole('button', { name: 'Add the price' }).click();
  await expect(page.locator('t-price-list-panel')).toContainText('25 % off the list price');

  const order = async (of: typeof page): Promise<void> => {
    await of.goto('/selling/orders/new');
    await of.getByRole('combobox', { name: 'Customer' }).fill('thornhallow');
    await of.keyboard.press('Enter');
    await of.getByLabel('Wanted on').fill('+9');
    await of.getByLabel('Item of line 1').fill('SMOKER');
    await of.keyboard.press('Enter');
    await expect(of.locator('t-price-why')).toContainText('List SCHOOLS');
    await of.getByLabel('Quantity of line 1').fill('2');
    await of.getByLabel('Discount of line 1').fill('40');
    await of.keyboard.press('Control+s');
    await expect(of.getByRole('alert')).toContainText('is more than its ceiling');
  };
  const desk = await (await browser.newContext()).newPage();
  await enter(desk, 'tobin');
  await order(desk);
  await expect(desk.getByRole('alert')).toContainText('ask somebody who may go beyond it');
  await expect(desk.getByLabel(/Why line 1/)).toHaveCount(0);
  await desk.context().close();

  await order(page);
  await page.getByLabel('Why line 1 goes beyond its ceiling').fill('scratched at the fair');
  await page.keyboard.press('Control+s');
  await expect(page.locator('t-order-panel t-state').first()).toHaveText(/draft/);
  await page.locator('t-order-panel td .act', { hasText: /\d/ }).first().click();
  await expect(page.locator('.ant-popover')).toContainText('Above the discount ceiling: scratched at the fair');
});

test('two people at one item: the second keeps what they typed and takes what the first changed', async ({ page, browser }) => {
  await enter(page);
  const other = await (await browser.newContext()).newPage();
  await enter(other, 'isolde');
  const item = ((await (await page.request.get('/api/catalogue/items/find?text=BRUSH')).json()) as { id: number }[])[0]?.id ?? 0;
  for (const each of [page, other]) {
    await each.goto(`/catalogue/items/${item}/change`);
    await expect(each.getByLabel('Code', { exact: true })).toHaveValue('BRUSH');
  }
  await other.getByLabel('Description', { exact: true }).fill('Flat brush 60 mm, hog hair');
  await other.keyboard.press('Control+Enter');
  await expect(other.locator('h1')).toContainText('hog hair');
  await page.getByLabel('Selling price', { exact: true }).fill('4.40');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert')).toContainText('Isolde Farrowby changed it meanwhile');
  await page.getByRole('button', { name: 'Load it again' }).click();
  await expect(page.getByLabel('Description', { exact: true })).toHaveValue('Flat brush 60 mm, hog hair');
  await expect(page.getByLabel('Selling price', { exact: true })).toHaveValue(/^4.40?$/);
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('t-item-panel')).toContainText('4.40 EUR');
  await expect(page.locator('h1')).toContainText('hog hair');
  await other.context().close();
});
