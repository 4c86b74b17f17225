import { expect, type Page } from '@playwright/test';
import { begin, choose, enter, narrow, pick, view } from './people';
import { test } from './site';

test.use({ file: 'planning' });

/** An order entered elsewhere over the API, confirmed at once. */
async function orderElsewhere(page: Page, code: string, quantity: string, requiredDate = '2027-04-12'): Promise<string> {
  const found = (await (await page.request.get(`/api/catalogue/items/find?text=${code}`)).json()) as { id: number }[];
  const answer = await page.request.post('/api/selling/orders', {
    headers: { 'Idempotency-Key': `elsewhere-${code}-${quantity}-${Date.now()}` },
    data: { customerId: 1, warehouseId: 1, requiredDate, lines: [{ itemId: found[0]?.id ?? 0, quantity }], confirm: true },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
  return ((await answer.json()) as { number: string }).number;
}

/** Shows what is suggested for any time, not only what is to be placed soon. */
const atAnyTime = (page: Page) => choose(page.getByRole('combobox', { name: 'To be placed' }), 'at any time');
const rowOf = (page: Page, text: string | RegExp) => page.locator('.ag-row').filter({ hasText: text });

test('an order saved elsewhere changes the planner’s rows; a suggestion is changed, kept and released', async ({ page, browser }) => {
  await begin(page, '/planning');
  await atAnyTime(page);
  await narrow(page, 'CAGE');
  const other = await browser.newPage();
  await enter(other, 'tobin');
  await orderElsewhere(other, 'CAGE', '37');
  const row = rowOf(page, 'CAGE').filter({ hasText: /3[5-9]/ });
  await expect(row.first()).toBeVisible();

  await row.first().locator('[col-id="code"]').click();
  const panel = page.locator('t-suggestion-panel');
  await expect(panel.getByRole('heading', { name: 'Why' })).toBeVisible();
  await expect(panel).toContainText('To be placed by');
  const drawing = panel.locator('t-balance-drawing path.planned');
  const before = await drawing.getAttribute('d');
  await panel.getByLabel('Quantity').fill('60');
  await expect(drawing).not.toHaveAttribute('d', before ?? '');
  await panel.getByRole('button', { name: 'Keep it so' }).click();
  await expect(panel).toContainText(/kept as FP-\d+/);
  await view(page, 'Kept');
  await expect(rowOf(page, 'CAGE').first()).toContainText('60');

  await rowOf(page, 'CAGE').locator('input[type=checkbox]').check();
  await page.getByRole('button', { name: 'Release 1 chosen' }).click();
  await expect(page.getByRole('dialog')).toContainText('Production order');
  await page.getByRole('button', { name: 'Make 1' }).click();
  await expect(page.getByText('Made:')).toContainText(/PRD-\d+/);
  await expect(page.getByText('Nothing is suggested')).toBeVisible();
});

test('what is ordered is moved as the plan says, and a data problem is mended where it is listed', async ({ page }) => {
  await begin(page, '/planning/exceptions');
  await view(page, 'To move');
  const first = rowOf(page, /PO-\d+\/\d/).first();
  const subject = await first.locator('[col-id="subject"]').innerText();
  await first.locator('[col-id="code"]').click();
  const beside = page.locator('t-exception-panel');
  await expect(beside.getByRole('heading', { name: 'Whom it serves' })).toBeVisible();
  await expect(beside.getByRole('button', { name: `Open ${subject.split('/')[0]}` })).toBeVisible();
  await first.locator('input[type=checkbox]').check();
  await page.getByRole('button', { name: 'Carry out 1' }).click();
  await page.getByRole('button', { name: 'Change 1' }).click();
  await expect(page.locator('t-note')).toContainText(subject.split('/')[0] ?? subject);
  await expect(rowOf(page, subject)).toHaveCount(0);

  await page.getByRole('link', { name: /Data problems/ }).click();
  await rowOf(page, 'STRIPS').locator('[col-id="message"]').click();
  const panel = page.locator('t-item-panel');
  await panel.getByRole('button', { name: 'Plan it in DEPOT' }).click();
  await choose(panel.getByLabel('Source'), 'transfer');
  await choose(panel.getByLabel(/^From/), 'WORKS');
  await panel.getByLabel(/^Lead time/).fill('2');
  await panel.getByRole('button', { name: 'Save planning in DEPOT' }).click();
  await expect(rowOf(page, 'STRIPS')).toHaveCount(0);
  await page.getByRole('link', { name: /^Suggestions/ }).click();
  await atAnyTime(page);
  await pick(page, 'Transfer');
  await rowOf(page, 'STRIPS').locator('[col-id="code"]').click();
  await expect(page.locator('t-suggestion-panel')).toContainText('DEPOT');
});

test('an item’s record, whom its supplies serve, and the chart of an order that will be late', async ({ page }) => {
  await enter(page);
  const number = await orderElsewhere(page, 'EXTRACT-9', '9', '2027-03-12');
  await page.goto('/planning/promises');
  await rowOf(page, number).first().locator('[col-id="number"]').click();
  await expect(page.locator('t-order-chart')).toContainText('can be ready on');
  await expect(page.locator('t-order-chart li.critical').first()).toBeVisible();

  await page.goto('/planning');
  await atAnyTime(page);
  await narrow(page, 'EXTRACT-9');
  await expect(rowOf(page, 'EXTRACT-9').first()).toBeVisible();
  await rowOf(page, 'EXTRACT-9').last().locator('[col-id="code"]').click();
  await page.getByRole('link', { name: 'Item record and pegging' }).click();
  await expect(page.getByRole('heading', { name: /By week/ })).toBeVisible();
  await pick(page, 'month');
  await expect(page.getByRole('heading', { name: /By month/ })).toBeVisible();
  await page
    .getByRole('button', { name: /^Whom EXTRACT-9@WORKS#\d+ serves/ })
    .last()
    .click();
  await expect(page.locator('t-peg-picture')).toContainText(number);
  await page.getByRole('button', { name: `What serves ${number}/1` }).click();
  await expect(page.locator('t-peg-picture')).toContainText('MOTOR-12');
});

test('what would be without a supplier, and with another rule, is looked at on a copy; only what is adopted becomes real', async ({ page }) => {
  await begin(page, '/planning/what-if');
  const form = page.locator('t-suppose-form');
  const late = page.locator('.tile').filter({ hasText: 'Order lines late' });
  await expect(late).toContainText('as in today’s plan');

  await pick(form, 'A supplier lost');
  await choose(form.getByRole('combobox', { name: 'Supplier' }), 'Gearholt Drives');
  await form.getByRole('button', { name: 'Suppose it' }).click();
  await expect(page.getByText('Gearholt Drives delivers nothing any more')).toBeVisible();
  await expect(page.locator('.tile').filter({ hasText: 'Purchases to come' })).toContainText('less than the');
  await expect(page.getByRole('region', { name: 'Orders that come on another day' })).toContainText('no supply');
  await page.getByRole('checkbox', { name: 'Gearholt Drives delivers nothing any more' }).uncheck();
  await expect(page.getByText('Suppose something to see whom it would concern.')).toBeVisible();
  await page.getByRole('button', { name: 'Drop Gearholt Drives' }).click();

  await pick(form, 'Another rule');
  await form.getByLabel('Item').fill('FELT');
  await page.getByRole('option', { name: /^FELT/ }).click();
  await form.getByLabel('Safety stock').fill('37');
  await form.getByRole('button', { name: 'Suppose it' }).click();
  await expect(page.getByRole('region', { name: 'What would be suggested otherwise' })).toContainText('FELT');
  await page.getByRole('button', { name: 'Adopt' }).click();
  await page.getByRole('button', { name: 'Adopt it' }).click();
  await expect(page.getByText('FELT is planned anew in WORKS')).toBeVisible();
  await expect(late).toContainText('as in today’s plan');
  await page.goto('/catalogue');
  await narrow(page, 'FELT');
  await rowOf(page, 'FELT').first().locator('[col-id="code"]').click();
  await expect(page.locator('t-item-rules')).toContainText('37');
});

test('many planning rules are changed in the list, and one takes a figure from its group again', async ({ page }) => {
  await begin(page, '/planning/rules');
  await view(page, 'Brought over');
  await expect(rowOf(page, 'transfer from WORKS').first()).toBeVisible();
  await expect(rowOf(page, /\bbuy\b/)).toHaveCount(0);
  // What stands beside is one of them.
  await expect(page.locator('t-item-panel').getByRole('link', { name: 'JAR-500' }).first()).toBeVisible();
  await pick(page, 'All');
  await narrow(page, 'BRUSH');
  await page.getByRole('button', { name: 'Edit in the list' }).click();
  await rowOf(page, 'BRUSH').first().locator('input[type=checkbox]').check();
  await choose(page.getByLabel('Field'), 'Safety stock');
  await page.getByLabel('Value').fill('12 days');
  await page.getByRole('button', { name: 'Give it to 1 chosen' }).click();
  await page.getByRole('button', { name: /^Save 1/ }).click();
  await expect(page.getByText('1 saved.')).toBeVisible();
  await expect(rowOf(page, 'BRUSH').first().locator('[col-id="safety"]')).toHaveText('12 days');

  await page.getByRole('button', { name: 'Stop editing' }).click();
  await rowOf(page, 'BRUSH').first().locator('[col-id="code"]').click();
  const rules = page.locator('t-item-rules');
  await expect(rules).toContainText('computed');
  await page.locator('t-item-panel').getByRole('link', { name: 'BRUSH' }).click();
  await rules.getByRole('button', { name: 'Change planning in WORKS' }).click();
  await expect(rules).toContainText('from group ALL');
  await choose(rules.getByLabel('Take from the item or its group'), /^Safety/);
  await rules.getByRole('button', { name: 'Save planning in WORKS' }).click();
  await expect(rules).not.toContainText('computed');
});

test('what can not be there in time is offered in a part now and the rest later, and kept so', async ({ page }) => {
  await begin(page, '/selling/orders/new', 'tobin');
  await page.getByLabel('Customer').fill('hollin');
  await page.keyboard.press('Enter');
  await page.getByLabel('Wanted on').fill('+2');
  await page.getByLabel('Item of line 1').fill('HIVE-10');
  await page.getByRole('option', { name: /^HIVE-10/ }).click();
  await page.getByLabel('Quantity of line 1').fill('30');
  const offer = page.getByRole('group', { name: 'Offer' });
  await expect(offer.getByRole('button', { name: /^All of it on/ })).toBeVisible();
  await offer.getByRole('button', { name: / on 3 Mar, / }).click();
  await expect(page.getByLabel('Item of line 2')).toHaveValue('HIVE-10');
  const [part, rest] = await Promise.all([1, 2].map(async (line) => Number(await page.getByLabel(`Quantity of line ${line}`).inputValue())));
  expect((part ?? 0) + (rest ?? 0)).toBe(30);
  await page.getByRole('button', { name: 'Save and confirm' }).click();
  await page.waitForURL(/\/selling\/orders\/\d+$/);
  const id = Number(page.url().split('/').pop());
  const order = (await (await page.request.get(`/api/selling/orders/${id}`)).json()) as { lines: { quantity: string; requiredDate: string }[] };
  expect(order.lines.map((line) => [Number(line.quantity), line.requiredDate > '2027-03-03'])).toEqual([
    [part, false],
    [rest, true],
  ]);
});

test('a day is supposed by keyboard alone; when somebody cancels what was moved, it is left out and says why', async ({ page, browser }) => {
  await begin(page, '/planning/what-if');
  const form = page.locator('t-suppose-form');
  await form.getByRole('radio', { name: 'An order more' }).press('ArrowRight');
  await expect(form.getByRole('radio', { name: 'Another day' })).toBeChecked();
  await form.getByLabel('Which').fill('SUIT-M PO-');
  await form.locator('li button').first().press('Enter');
  await expect(form.getByLabel('New day')).toBeFocused();
  await page.keyboard.type('+40');
  await page.keyboard.press('Enter');
  const supposed = page.locator('.supposed li');
  await expect(supposed).toContainText(/PO-\d+\/\d+ .* instead of/);
  // Which one stands first depends on what was bought before.
  const [line = '', number = ''] = /(PO-\d+)\/\d+/.exec((await supposed.textContent()) ?? '') ?? [];

  const other = await browser.newPage();
  await enter(other, 'isolde');
  const { rows } = (await (await other.request.get(`/api/buying/orders?find=${number}`)).json()) as { rows: { id: number }[] };
  const id = rows[0]?.id ?? 0;
  const { version } = (await (await other.request.get(`/api/buying/orders/${id}`)).json()) as { version: number };
  const answer = await other.request.post(`/api/buying/orders/${id}/cancel`, {
    headers: { 'Idempotency-Key': `cancel-${id}-${Date.now()}` },
    data: { version, reason: 'wrong supplier' },
  });
  expect(answer.ok(), await answer.text()).toBe(true);

  await expect(page.getByText('The plan has changed since this copy was taken.')).toBeVisible();
  await page.getByRole('button', { name: 'Adopt' }).click();
  await page.getByRole('button', { name: 'Adopt it' }).click();
  await expect(page.getByText(`${number} has changed since you looked`)).toBeVisible();
  await page.getByRole('button', { name: 'Suppose it on the plan of now' }).click();
  await expect(supposed).toContainText(`Nothing of ${line} is open`);
  await expect(supposed.getByRole('checkbox')).not.toBeChecked();
});

test('what an item is made from is changed where it is shown, and what can not be is refused beside it', async ({ page }) => {
  await begin(page, '/catalogue');
  await narrow(page, 'COVER');
  await rowOf(page, 'COVER').first().locator('[col-id="code"]').dblclick();
  const bom = page.locator('t-item-bom');
  await bom.getByRole('button', { name: 'Change the bill of materials' }).click();
  await bom.getByRole('button', { name: 'Add a component' }).click();
  const parts = bom.locator('.part');
  await expect(parts.last().getByLabel('Component', { exact: true })).toHaveValue('');
  await parts.last().getByLabel('Component', { exact: true }).fill('COVER');
  await page.getByRole('option', { name: /^COVER/ }).click();
  await bom.getByRole('button', { name: 'Save the bill of materials' }).click();
  await expect(bom).toContainText('leads back to it');
  await parts.last().getByLabel('Component', { exact: true }).fill('FELT');
  await page.getByRole('option', { name: /^FELT/ }).click();
  await parts.last().getByLabel('Quantity for one').fill('0.25');
  await bom.getByRole('button', { name: 'Save the bill of materials' }).click();
  await expect(bom.getByRole('link', { name: 'FELT' })).toBeVisible();
  await expect(bom).toContainText('0.25');
});

test('a suggestion is changed in its row by keyboard, refused where it can’t be so, and the strip answers', async ({ page }) => {
  await begin(page, '/planning');
  await atAnyTime(page);
  await view(page, 'Buy');
  await narrow(page, 'MESH');
  const row = rowOf(page, 'MESH').first();
  const quantity = row.locator('[col-id="quantity"]');
  await row.locator('[col-id="code"]').click();
  const line = page.locator('t-strip path.planned');
  await expect(line).toBeVisible();
  const before = await line.getAttribute('d');

  await quantity.click();
  await page.keyboard.press('Enter');
  await page.keyboard.type('1.5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toContainText('MESH');
  await expect(quantity).toContainText('1.5');
  await page.getByRole('button', { name: 'Leave it as the plan has it' }).click();
  await expect(quantity).not.toContainText('1.5');

  await quantity.dblclick();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.type('=12*5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await view(page, 'Kept');
  await expect(rowOf(page, 'MESH').first()).toContainText('60');
  await expect(page.locator('t-suggestion-panel')).toContainText(/kept as FP-\d+/);
  await expect(line).not.toHaveAttribute('d', before ?? '');
});

test('what two warehouses would bring over from each other is mended where it is listed', async ({ page }) => {
  await begin(page, '/planning/problems');
  await rowOf(page, 'LID-63@DEPOT > LID-63@WORKS').locator('[col-id="message"]').click();
  const panel = page.locator('t-item-panel');
  await panel.getByRole('button', { name: 'Change planning in WORKS' }).click();
  await choose(panel.getByLabel('Source'), 'buy');
  await panel.getByRole('button', { name: 'Save planning in WORKS' }).click();
  await expect(rowOf(page, 'LID-63@DEPOT')).toHaveCount(0);
});

test('who may only look sees what the plan says, and is offered nothing that they may not do', async ({ page }) => {
  await begin(page, '/planning/exceptions', 'perrin');
  const row = rowOf(page, /PO-\d+\/\d/).first();
  await row.locator('[col-id="code"]').click();
  const panel = page.locator('t-exception-panel');
  await expect(panel.getByRole('heading', { name: 'Whom it serves' })).toBeVisible();
  await expect(panel.getByRole('button', { name: /^Open PO-/ })).toBeVisible();
  await expect(panel.getByRole('button', { name: /^(Move|Cancel) it/ })).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Do what it says/ })).toHaveCount(0);
  await expect(row.locator('input[type=checkbox]')).toHaveCount(0);

  await page.getByRole('link', { name: /^Suggestions/ }).click();
  await atAnyTime(page);
  await expect(page).toHaveURL(/\/planning$/);
  await expect(page.locator('t-grid [col-id="placeBy"]').first()).toBeVisible();
  await page.locator('.ag-row [col-id="code"]').first().click();
  await expect(page.locator('t-suggestion-panel').getByRole('heading', { name: 'Why' })).toBeVisible();
  for (const name of [/^Release/, /^Keep it/, /^Plan everything/]) await expect(page.getByRole('button', { name })).toHaveCount(0);
});
