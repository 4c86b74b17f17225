import { expect, type Page } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'by-hand' });

/** What is on hand of an item in the first warehouse. */
async function onHand(page: Page, code: string): Promise<number> {
  const found = (await (await page.request.get(`/api/catalogue/items/find?text=${code}`)).json()) as { id: number; code: string }[];
  const item = found.find((each) => each.code === code)?.id ?? 0;
  const strip = (await (await page.request.get(`/api/stores/strip?item=${item}&warehouse=1`)).json()) as { onHand: string };
  return Number(strip.onHand);
}

/** Fills the first line of an order; the focus goes on when the item is found. */
async function fillLine(page: Page, item: string, quantity: string): Promise<void> {
  await page.getByLabel('Item of line 1').fill(item);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.getByLabel('Quantity of line 1').fill(quantity);
}

/** Answers the question that is on the screen, with a reason where one is wanted. */
async function agree(page: Page, action: string, reason?: string): Promise<void> {
  const dialog = page.getByRole('dialog');
  if (reason !== undefined) await dialog.getByLabel('Reason').fill(reason);
  await dialog.getByRole('button', { name: action, exact: true }).click();
  await expect(dialog).toHaveCount(0);
}

test('a purchase order entered by hand is received in part, that is taken back, and the order cancelled', async ({ page }) => {
  await begin(page, '/buying/orders/new');
  const before = await onHand(page, 'GLOVES');
  await page.getByRole('combobox', { name: 'Supplier' }).fill('heatherwear');
  await page.keyboard.press('Enter');
  await fillLine(page, 'GLOVES', '=2*6');
  await page.getByLabel('Due date of line 1').fill('+10');
  await page.keyboard.press('Control+Enter');
  const panel = page.locator('t-purchase-panel');
  const state = panel.locator('t-state').first();
  await expect(state).toHaveText(/draft/);
  await page.getByRole('button', { name: /^Approve/ }).click();
  await page.getByRole('button', { name: /^Send to Heatherwear/ }).click();
  await page.getByLabel('Arrived of GLOVES').fill('many');
  await page.getByLabel('Arrived of GLOVES').press('Tab');
  await expect(panel.getByText('"many" is not a number.')).toBeVisible();
  await page.getByLabel('Arrived of GLOVES').fill('500');
  await page.getByRole('button', { name: /^Receive 500/ }).click();
  await expect(page.getByRole('alert').first()).toContainText('GLOVES');
  await page.getByLabel('Arrived of GLOVES').fill('5');
  await page.getByRole('button', { name: /^Receive 5 / }).click();
  await expect(state).toHaveText(/received in part/);
  expect(await onHand(page, 'GLOVES')).toBe(before + 5);

  await panel.getByRole('button', { name: 'Take back' }).click();
  await agree(page, 'Take it back');
  await expect(state).toHaveText(/sent/);
  await expect(panel).toContainText('taken back');
  expect(await onHand(page, 'GLOVES')).toBe(before);
  await page.getByRole('button', { name: 'Cancel the order' }).click();
  await agree(page, 'Cancel it', 'ordered twice');
  await expect(state).toHaveText(/cancelled/);
  await expect(page.getByRole('button', { name: /^Receive/ })).toHaveCount(0);
});

test('a production order entered by hand is finished in part, that is taken back, and the rest cancelled', async ({ page }) => {
  await begin(page, '/production/orders/new');
  const before = await onHand(page, 'PLANK');
  await page.getByLabel('Make', { exact: true }).fill('PLANK');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity', { exact: true })).toBeFocused();
  await page.getByLabel('Quantity', { exact: true }).fill('3');
  await page.getByLabel('Due', { exact: true }).fill('+5');
  await page.keyboard.press('Control+Enter');
  const panel = page.locator('t-production-panel');
  const state = panel.locator('t-state').first();
  await expect(state).toHaveText(/draft/);
  await page.getByRole('button', { name: /^Release PRD/ }).click();
  await page.getByLabel('Finished now').fill('1');
  await page.getByRole('button', { name: /^Finish 1 .* as planned/ }).click();
  await expect(state).toHaveText(/running/);
  expect(await onHand(page, 'PLANK')).toBe(before + 1);
  await panel.getByRole('button', { name: 'Take back' }).click();
  await agree(page, 'Take it back');
  await expect(panel).toContainText('taken back');
  expect(await onHand(page, 'PLANK')).toBe(before);
  await page.getByRole('button', { name: /^Cancel/ }).click();
  await agree(page, 'Cancel it', 'a test piece');
  await expect(state).toHaveText(/cancelled/);
});

test('what was paid, invoiced and shipped by mistake is taken back step by step, and stock is as it was', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  const before = await onHand(page, 'HIVETOOL');
  await page.getByRole('combobox', { name: 'Customer' }).fill('tarn');
  await page.keyboard.press('Enter');
  await page.getByLabel('Wanted on').fill('+3');
  await fillLine(page, 'HIVETOOL', '1');
  await page.keyboard.press('Control+Enter');
  await page.getByRole('button', { name: 'Make shipment of all' }).click();
  await page.getByRole('button', { name: /^Ship SH-/ }).click();
  await page.getByRole('button', { name: 'Invoice it' }).click();
  expect(await onHand(page, 'HIVETOOL')).toBe(before - 1);
  await page.getByRole('button', { name: /^Record .* EUR/ }).click();
  const invoice = page.locator('t-invoice-panel');
  const state = invoice.locator('t-state').first();
  await expect(state).toHaveText(/paid/);

  await invoice.locator('table').getByRole('button', { name: 'Take back' }).click();
  await agree(page, 'Take it back');
  await expect(state).toHaveText(/open/);
  await invoice.locator('.acts').getByRole('button', { name: 'Take back' }).click();
  await agree(page, 'Take it back');
  await expect(state).toHaveText(/taken back/);
  await page.locator('t-trail').getByRole('link', { name: /^SH-/ }).click();
  const shipment = page.locator('t-shipment-panel');
  await shipment.getByRole('button', { name: 'Take back' }).click();
  await agree(page, 'Take it back');
  await expect(shipment.locator('t-state').first()).toHaveText(/taken back/);
  expect(await onHand(page, 'HIVETOOL')).toBe(before);
  await page.goto('/accounts/journal');
  await expect(page.getByText('Inventory accounts equal the stock ledger')).toBeVisible();
  await expect(page.getByText('✗')).toHaveCount(0);
});
