import { expect } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'forms' });

test('what is wrong is said as a field is left; a way off the page asks; what was typed is there after a reload', async ({ page }) => {
  await begin(page, '/catalogue/customers/new');
  const code = page.getByLabel('Code', { exact: true });
  await code.fill('MARSHEND');
  await code.fill('');
  await code.blur();
  // In the words of the server, before anything is sent.
  await expect(page.locator('t-field').filter({ has: code }).locator('.wrong')).toHaveText(/\w+/);
  await code.fill('MARSHEND');
  await expect(page.locator('t-field').filter({ has: code }).locator('.wrong')).toHaveCount(0);
  await page.getByLabel('Name', { exact: true }).first().fill('Marsh End Orchard');

  await page.getByRole('link', { name: 'Selling' }).click();
  const question = page.getByRole('dialog');
  await expect(question).toContainText('Go back without saving?');
  await question.getByRole('button', { name: 'Stay here' }).click();
  await expect(page).toHaveURL(/customers\/new$/);

  await page.reload();
  await expect(page.getByText('What you typed here before is here again')).toBeVisible();
  await expect(code).toHaveValue('MARSHEND');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('h1')).toContainText('Marsh End Orchard');
  // It is saved: nothing asks, and nothing comes again.
  await page.getByRole('link', { name: 'Selling' }).click();
  await expect(page).toHaveURL(/\/selling$/);
  await page.goto('/catalogue/customers/new');
  await expect(code).toHaveValue('');
});

test('what is typed in several parts of one record is there after a reload, each where it was', async ({ page }) => {
  await begin(page, '/catalogue/items/3');
  const rules = page.locator('t-item-rules');
  const bom = page.locator('t-item-bom');
  await rules
    .getByRole('button', { name: /^Change planning in/ })
    .first()
    .click();
  await rules.getByLabel('Lead time, days', { exact: false }).first().fill('7');
  await bom.getByRole('button', { name: /bill of materials/ }).click();
  await bom.getByLabel('Quantity for one').first().fill('1.75');
  await bom.getByLabel('Quantity for one').first().blur();
  await page.reload();
  await expect(rules.getByLabel('Lead time, days', { exact: false }).first()).toHaveValue('7');
  await expect(bom.getByLabel('Quantity for one').first()).toHaveValue('1.75');
  await rules.getByRole('button', { name: 'Leave it' }).click();
  await bom.getByRole('button', { name: 'Leave it' }).click();
  await page.reload();
  await expect(rules.getByRole('button', { name: /^Change planning in/ }).first()).toBeVisible();
  await expect(bom.getByRole('button', { name: /bill of materials/ })).toBeVisible();
});

test('a button is pressed although the field that is left for it says what is wrong', async ({ page }) => {
  await begin(page, '/buying/orders/new');
  await expect(page.getByRole('combobox', { name: 'Supplier' })).toBeFocused();
  const save = page.getByRole('button', { name: 'Save as a draft' });
  const sent = page.waitForRequest((request) => request.method() === 'POST' && request.url().endsWith('/api/buying/orders'));
  // Letters that come late make a button wider, which is not what this is about.
  await page.evaluate(() => document.fonts.ready);
  const box = await save.boundingBox();
  await page.mouse.move((box?.x ?? 0) + 20, (box?.y ?? 0) + 4);
  await page.mouse.down();
  // As long as a person takes.
  await page.waitForTimeout(150);
  expect(await save.boundingBox()).toEqual(box);
  await page.mouse.up();
  await sent;
  await expect(page.getByText('Choose a supplier.').first()).toBeVisible();
});

test('a session that ends under the hands is begun again in place, and what was asked for goes on', async ({ page, context }) => {
  await begin(page, '/buying/orders/new');
  const supplier = page.getByRole('combobox', { name: 'Supplier' });
  await supplier.fill('gearholt');
  await page.keyboard.press('Enter');
  await page.getByLabel('Item of line 1').fill('MOTOR-12');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.getByLabel('Quantity of line 1').fill('3');
  await page.getByLabel('Due date of line 1').fill('+20');
  await context.clearCookies();
  await page.keyboard.press('Control+Enter');
  const again = page.getByRole('dialog', { name: 'Sign in again' });
  await again.getByLabel('Password').fill('wrong');
  await page.keyboard.press('Enter');
  await expect(again.locator('t-refusal')).toContainText('Name and password don’t go together');
  await again.getByLabel('Password').fill('larkmoor');
  await page.keyboard.press('Enter');
  await expect(again).toHaveCount(0);
  await expect(page.locator('h1').first()).toContainText(/PO-\d+/);
  await expect(page.locator('t-purchase-panel')).toContainText('MOTOR-12');
});

test('ten lines are entered by keyboard at fifteen keys a second, and no key is lost', async ({ page }) => {
  const ITEMS = ['HIVETOOL', 'SMOKER', 'GLOVES', 'SUIT-M', 'STRIPS', 'FONDANT', 'JAR-500', 'BRUSH', 'FELT', 'CARTON'];
  await begin(page, '/selling/orders/new');
  let keys = 0;
  const press = async (key: string): Promise<void> => {
    keys += 1;
    await page.keyboard.press(key, { delay: 10 });
    await page.waitForTimeout(1000 / 15 - 10);
  };
  const type = async (text: string): Promise<void> => {
    for (const letter of text) await press(letter);
  };
  await expect(page.getByRole('combobox', { name: 'Customer' })).toBeFocused();
  await type('hollin');
  await press('Enter');
  for (const text of ['ten', 'wk 16', '']) {
    await type(text);
    await press('Enter');
  }
  for (const [index, item] of ITEMS.entries()) {
    // The item is looked up by the server: its Enter may come before the answer, what follows waits as a person would.
    await expect(page.getByLabel(`Item of line ${index + 1}`, { exact: true })).toBeFocused();
    await type(item);
    await press('Enter');
    await expect(page.getByLabel(`Quantity of line ${index + 1}`, { exact: true })).toBeFocused();
    await type(String(index + 11));
    for (let field = 0; field < 3 && index < ITEMS.length - 1; field += 1) await press('Enter');
  }
  for (const [index, item] of ITEMS.entries()) {
    await expect(page.getByLabel(`Item of line ${index + 1}`, { exact: true })).toHaveValue(item);
    await expect(page.getByLabel(`Quantity of line ${index + 1}`, { exact: true })).toHaveValue(String(index + 11));
  }
  // As many keys as the words and figures themselves, and one Enter a field.
  expect(keys).toBe('hollintenwk 16'.length + ITEMS.join('').length + 20 + 4 + 10 + 9 * 3);
});

test('what is chosen before there is anything to choose from is taken as soon as there is', async ({ page }) => {
  await page.route('**/api/catalogue/choices', async (route) => {
    await new Promise((done) => setTimeout(done, 2500));
    await route.continue();
  });
  await begin(page, '/buying/orders/new');
  const supplier = page.getByRole('combobox', { name: 'Supplier' });
  await supplier.fill('gearholt');
  await page.keyboard.press('Enter');
  await page.getByLabel('Item of line 1').fill('MOTOR-12');
  await expect(supplier).toHaveValue('gearholt');
  await expect(supplier).toHaveValue('Gearholt Drives');
});
