import { expect, type Page } from '@playwright/test';
import { find, numberOn, signIn } from './people';
import { test } from './site';

// Tall enough for all rows that one order needs: a list draws the rows that are on the screen.
test.use({ file: 'day', viewport: { width: 1280, height: 1800 } });

/** One small day of work: from a customer's order, typed by keyboard alone, to its payment. */
test('a day, from a customer’s order to the payment', async ({ page, context }) => {
  await signIn(page);
  await expect(page.getByText('Orders ready to ship')).toBeVisible();
  const order = await enterOrder(page);
  const made = await planAndRelease(page, order);
  const trail = await documentsOf(page, order);
  expect(trail.some((each) => each.startsWith('PO-')) && trail.some((each) => each.startsWith('PRD-'))).toBe(true);
  for (const number of made.filter((each) => each.startsWith('PO-'))) await buy(page, number);
  await make(
    page,
    made.filter((each) => each.startsWith('PRD-')),
  );
  await ship(page, order, () => context.pages());
  await find(page, order);
  await expect(page.locator('t-order-panel t-state').first()).toHaveText(/closed/);
  const numbers = await documentsOf(page, order);
  for (const prefix of ['SH-', 'INV-', 'PAY-', 'RC-', 'FIN-'])
    expect(
      numbers.some((each) => each.startsWith(prefix)),
      prefix,
    ).toBe(true);
  await proof(page);
});

async function enterOrder(page: Page): Promise<string> {
  await page.keyboard.press('Alt+2');
  await expect(page.getByText('New order')).toBeVisible();
  await page.keyboard.press('n');
  await expect(page.getByRole('combobox', { name: 'Customer' })).toBeFocused();
  const type = (text: string) => page.keyboard.type(text);
  const enter = () => page.keyboard.press('Enter');
  await type('hollin');
  await enter();
  await type('School fair');
  await enter();
  await type('wk 12');
  await enter();
  await enter();
  await line(page, 1, 'HIVETOOL', '2');
  await expect(page.getByRole('region', { name: 'Availability' })).toContainText('2 from');
  await line(page, 2, await barcodeOf(page, 'PAINTSET'), '60');
  await expect(page.getByRole('region', { name: 'Availability' })).toContainText('can’t be promised');
  await line(page, 3, 'suit medium', '14');
  const availability = page.getByRole('region', { name: 'Availability' });
  for (const words of ['SUIT-M', 'On hand in WORKS', 'Reserved', 'Free elsewhere', 'DEPOT', 'Expected'])
    await expect(availability).toContainText(words);
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('t-order-panel t-state').first()).toHaveText(/confirmed/);
  await expect(page.locator('t-order-panel')).toContainText('all reserved');
  await expect(page.locator('t-order-panel')).toContainText('of 60 reserved');
  return numberOn(page);
}

async function line(page: Page, number: number, item: string, quantity: string): Promise<void> {
  if (number > 1) {
    for (const field of ['Quantity', 'Price', 'Discount']) await page.getByLabel(`${field} of line ${number - 1}`).press('Enter');
  }
  await expect(page.getByLabel(`Item of line ${number}`)).toBeFocused();
  // The line is still empty: it has no price to tell of.
  await expect(page.getByText(/^Price of line/)).toHaveCount(0);
  await page.keyboard.type(item);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel(`Quantity of line ${number}`)).toBeFocused();
  await page.keyboard.type(quantity);
}

async function barcodeOf(page: Page, code: string): Promise<string> {
  const found = (await (await page.request.get(`/api/catalogue/items/find?text=${code}`)).json()) as { id: number }[];
  const item = (await (await page.request.get(`/api/catalogue/items/${found[0]?.id ?? 0}`)).json()) as { barcodes: { barcode: string }[] };
  return item.barcodes[0]?.barcode ?? '';
}

async function planAndRelease(page: Page, order: string): Promise<string[]> {
  // The plan has followed the order by itself.
  await find(page, order);
  await page.getByRole('link', { name: 'what must happen' }).click();
  await page.getByRole('link', { name: 'Suggestions for it' }).click();
  const row = page.locator('.ag-row').filter({ hasText: 'PAINTSET' });
  // The last of them serves the order; rows are drawn a few at a time.
  await expect(async () => {
    await row.last().locator('[col-id="code"]').click();
    await expect(page.locator('[record]')).toContainText(`${order}/2`, { timeout: 3000 });
  }).toPass();
  for (const item of ['PAINTSET', 'SUIT-M', 'PAINT', 'BRUSH', 'CARTON']) {
    const each = page.locator('.ag-row').filter({ has: page.locator('[col-id="code"]', { hasText: new RegExp(`^${item}\\s`) }) });
    await expect(each).not.toHaveCount(0);
    for (const one of await each.all()) await one.locator('input[type=checkbox]').check();
  }
  await page.getByRole('button', { name: /^Release \d+ chosen/ }).click();
  await expect(page.getByRole('dialog')).toContainText('Purchase order to Heatherwear Workshop');
  await page.getByRole('button', { name: /^Make \d/ }).click();
  // The question before it says "made:", too.
  const made = page.locator('t-note').filter({ hasText: 'Made:' });
  await expect(made).toContainText(/PRD-.*PO-|PO-.*PRD-/);
  return made.getByRole('link').allInnerTexts();
}

async function documentsOf(page: Page, order: string): Promise<string[]> {
  await find(page, order);
  await expect(page.locator('t-trail .node').first()).toBeVisible();
  return page.locator('t-trail .node .code').allInnerTexts();
}

/** Approves, sends and receives; of the first order a line comes in two parts. */
async function buy(page: Page, number: string): Promise<void> {
  await find(page, number);
  const [approve, send] = [/^Approve/, /^Send to/].map((name) => page.getByRole('button', { name }));
  if (!approve || !send) throw new RangeError('a purchase order is approved and sent');
  // Small ones need no approval, by the rules of the house.
  await expect(approve.or(send)).toBeVisible();
  if (await approve.isVisible()) await approve.click();
  await send.click();
  const arrived = page.getByLabel(/^Arrived of/);
  await arrived.first().fill('1');
  await page.getByRole('button', { name: /^Receive 1/ }).click();
  await expect(page.locator('t-purchase-panel t-state').first()).toHaveText(/received in part/);
  await page.getByRole('button', { name: 'All has arrived' }).click();
  await page.getByRole('button', { name: /^Receive / }).click();
  await expect(page.locator('t-purchase-panel t-state').first()).toHaveText('received');
}

async function make(page: Page, numbers: readonly string[]): Promise<void> {
  for (const number of numbers) {
    await find(page, number);
    await page.getByRole('button', { name: /^Release PRD/ }).click();
    await page.getByRole('button', { name: /^Finish .* as planned/ }).click();
    await expect(page.locator('t-production-panel t-state').first()).toHaveText(/finished/);
  }
}

async function ship(page: Page, order: string, pages: () => Page[]): Promise<void> {
  await find(page, order);
  await page.getByRole('button', { name: 'Reserve what is free now' }).click();
  await page.getByRole('button', { name: 'Make shipment of all' }).click();
  await page.getByRole('button', { name: 'Print pick list and start picking' }).click();
  await expect.poll(() => pages().length).toBe(2);
  const pickList = await page.request.get(`/api/papers/shipment/${page.url().split('/').pop() ?? ''}`);
  expect((await pickList.body()).subarray(0, 5).toString()).toBe('%PDF-');
  await page.getByRole('button', { name: /^Ship SH-/ }).click();
  await page.getByRole('button', { name: 'Invoice it' }).click();
  await expect(page.locator('h1').first()).toContainText('INV-');
  await page.getByRole('button', { name: /^Record .* EUR/ }).click();
  await expect(page.locator('t-invoice-panel t-state').first()).toHaveText(/paid/);
}

async function proof(page: Page): Promise<void> {
  await page.goto('/accounts/journal');
  await expect(page.getByText('Inventory accounts equal the stock ledger')).toBeVisible();
  await expect(page.getByText('✗')).toHaveCount(0);
  await find(page, 'SUIT-M');
  await expect(page.locator('t-item-panel')).toBeVisible();
  await expect(page.locator('.moves .ag-row').filter({ hasText: 'RC-' }).first()).toBeVisible();
}
