/** Ways of the house: a rule that lets a small purchase go, a terminal at which somebody signs in by badge. */
import { expect } from '@playwright/test';
import { begin, choose, enter } from './people';
import { test } from './site';

test.use({ file: 'house' });

test('a small purchase needs no approval once the rules of the house say so; the rule is undone', async ({ page }) => {
  await begin(page, '/set-up/rules', 'wilder');
  const most = page.getByLabel('Needs no approval up to', { exact: true });
  await expect(most).toHaveValue('100.00');
  await most.fill('25');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status')).toContainText('Kept.');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(most).toHaveValue('100.00');
  await page.getByLabel('May be more, in percent').fill('much');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('"much" is not a number').first()).toBeVisible();
});

test('somebody signs in at a terminal by badge and PIN, once it is paired', async ({ page, browser, baseURL }) => {
  await begin(page, '/set-up/people', 'wilder');
  await page.getByRole('gridcell', { name: 'Quill Hathersedge' }).click();
  await page.getByLabel('Badge', { exact: true }).fill('B-074');
  await page.getByLabel('PIN', { exact: true }).fill('1234');
  await page.getByRole('button', { name: 'Give it' }).click();
  await expect(page.getByText('everybody tries first').first()).toBeVisible();
  await page.getByLabel('PIN', { exact: true }).fill('2580');
  await page.getByRole('button', { name: 'Give it' }).click();
  await expect(page.getByText('has a badge and a PIN for terminals')).toBeVisible();

  await page.goto('/set-up/terminals');
  await page.getByLabel('New terminal').fill('Gate');
  await choose(page.getByRole('combobox', { name: 'Stands in' }), 'DEPOT');
  await page.getByRole('button', { name: 'Add, and show a code' }).click();
  const code = (await page.locator('.code.big').innerText()).trim();

  const device = await browser.newContext(baseURL === undefined ? {} : { baseURL });
  const gate = await device.newPage();
  await gate.goto('/sign-in');
  await gate.getByRole('button', { name: 'Make this a terminal' }).click();
  await gate.getByLabel('Code of the terminal').fill('AAAA-AAAA');
  await gate.keyboard.press('Enter');
  await expect(gate.getByText('No terminal waits for this code').first()).toBeVisible();
  await gate.getByLabel('Code of the terminal').fill(code);
  await gate.keyboard.press('Enter');
  await expect(gate.getByRole('heading', { name: 'Gate' })).toBeVisible();
  // A scanner ends with Enter.
  await gate.getByLabel('Badge').fill('b-074');
  await gate.keyboard.press('Enter');
  await expect(gate.getByLabel('PIN')).toBeFocused();
  await gate.keyboard.type('1357');
  await gate.keyboard.press('Enter');
  await expect(gate.getByText('Badge and PIN don’t go together').first()).toBeVisible();
  await gate.getByLabel('PIN').fill('2580');
  await gate.keyboard.press('Enter');
  await expect(gate.getByRole('button', { name: 'Quill Hathersedge' })).toBeVisible();
  await expect(gate.locator('header')).toContainText('DEPOT');
  await device.close();
});

test('figures are written and read as somebody is used to', async ({ page }) => {
  await begin(page, '/set-up/people', 'wilder');
  await page.getByRole('gridcell', { name: 'Maren Oakhollow' }).click();
  await choose(page.getByRole('combobox', { name: 'Figures and days' }), '1.234,56 · 12 Mar');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeEnabled();
  await enter(page, 'maren');
  await page.goto('/buying/orders/new');
  const price = page.getByLabel('Price', { exact: false }).first();
  await expect(price).toBeVisible();
  await page.goto('/accounts');
  await expect(page.getByRole('gridcell', { name: /^\d{1,3}(\.\d{3})*,\d{2}$/ }).first()).toBeVisible();
});
