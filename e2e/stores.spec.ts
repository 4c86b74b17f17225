import { expect } from '@playwright/test';
import { begin, choose, pick } from './people';
import { test } from './site';

test.use({ file: 'stores' });

interface Row {
  readonly id: number;
  readonly lot: string;
}

test('a transfer is asked for, shipped, and received with a piece lost on the way', async ({ page }) => {
  await begin(page, '/stores/transfers/new');
  await choose(page.getByRole('combobox', { name: 'From', exact: true }), 'DEPOT · Depot, Fennbridge');
  await choose(page.getByRole('combobox', { name: 'To', exact: true }), 'WORKS · Works, Larkmoor');
  await page.getByRole('combobox', { name: 'Item' }).fill('GLOVES');
  await page.getByRole('listbox', { name: 'Items found' }).getByRole('option').first().click();
  await page.getByLabel('Quantity of GLOVES').fill('3');
  await page.keyboard.press('Control+Enter');
  const panel = page.locator('t-transfer-panel');
  await expect(panel.locator('t-state')).toHaveText(/requested/);
  await panel.getByRole('button', { name: /Ship TR-\d+ to WORKS/ }).click();
  await expect(panel.locator('t-state')).toHaveText(/shipped/);
  await panel.getByLabel('Now of GLOVES').fill('2');
  await choose(panel.getByLabel('What happens to what is missing'), 'given up: Lost on the way');
  await panel.getByRole('button', { name: 'Receive what is typed' }).click();
  await expect(page.getByRole('alert')).toContainText('needs a note');
  await panel.getByLabel('Note').fill('carton torn open');
  await panel.getByRole('button', { name: 'Receive what is typed' }).click();
  await expect(panel.locator('t-state')).toHaveText(/received$/);
  // Asked for, shipped, received, lost.
  await expect(panel.getByRole('row', { name: /GLOVES/ }).getByRole('cell')).toHaveText([/GLOVES/, /3/, '3', '2', '1']);
});

test('a recall: the slider shows what is short-dated, a lot is blocked everywhere and traced to its customers', async ({ page }) => {
  await begin(page, '/stores/lots');
  await expect(page.locator('t-grid')).toContainText('STRIPS');
  await page.getByRole('slider', { name: 'Minimum remaining life, days' }).focus();
  await page.keyboard.press('End');
  await pick(page, 'Short-dated then');
  await expect(page.locator('.ag-row').first()).toContainText('▲ short');

  const { rows } = (await (await page.request.get('/api/stores/lots?find=RAWWAX&gone=true&limit=20')).json()) as {
    rows: (Row & { blocked: boolean; onHand: string })[];
  };
  const lot = rows.find((row) => !row.blocked && row.onHand !== '0' && row.lot.startsWith('RAWW'));
  await page.goto(`/stores/lots/${lot?.id ?? 0}`);
  await page.getByRole('button', { name: 'Block it everywhere' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('smells of smoke');
  await page.getByRole('button', { name: 'Block it', exact: true }).click();
  await expect(page.locator('t-lot-panel')).toContainText('Blocked: smells of smoke');
  await expect(page.locator('t-lot-panel')).toContainText('held');
  await page.getByRole('link', { name: 'Trace it both ways' }).click();
  await expect(page.locator('.head')).toContainText(/went to \d+ customers?/);
  await expect(page.locator('svg .start')).toContainText('RAWWAX');
  await page.getByRole('button', { name: 'List for a recall' }).click();
  await expect(page.locator('t-grid')).toContainText('customers.example');
  const events = (await (await page.request.get(`/api/stores/trace/lot/${lot?.id ?? 0}/events`)).json()) as {
    type: string;
    epcisBody: { eventList: object[] };
  };
  expect([events.type, events.epcisBody.eventList.length > 3]).toEqual(['EPCISDocument', true]);
});

test('numbers are named: adjusted in as a range, scanned, seen on their page; the count must be right', async ({ page }) => {
  await begin(page, '/stores/adjust');
  await choose(page.getByLabel('Reason'), 'Found again');
  await page.getByRole('combobox', { name: 'Item' }).fill('MOTOR-12');
  await page.getByRole('listbox', { name: 'Items found' }).getByRole('option').first().click();
  await page.getByLabel('Change of MOTOR-12').fill('3');
  await page.getByLabel('Serial numbers of MOTOR-12').fill('GX-001..GX-003');
  await page.getByLabel('Cost of one MOTOR-12').fill('-140');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByLabel('Cost of one MOTOR-12')).toHaveAttribute('aria-invalid', 'true');
  await page.getByLabel('Cost of one MOTOR-12').fill('140');
  await page.getByLabel('Serial numbers of MOTOR-12').fill('GX-001..GX-002');
  await expect(page.locator('t-pieces')).toContainText('2 of 3');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert')).toContainText('there are 2, 1 too few');
  await page.getByLabel('Serial numbers of MOTOR-12').fill('GX-001..GX-003');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('t-adjustment-panel')).toContainText('GX-003');

  // The scanner of the demo types a code as a real one does.
  await page.getByRole('button', { name: 'Maren Oakhollow' }).click();
  await page.getByText('Scanner to try with').click();
  await page.getByRole('combobox', { name: 'Find or scan anything' }).focus();
  await page.locator('t-scanner button.sample').filter({ hasText: ', number' }).click();
  await expect(page).toHaveURL(/stores\/serials\/\d+/);
  await page.getByRole('button', { name: 'Put away' }).click();
  await page.getByRole('combobox', { name: 'Find or scan anything' }).fill('GX-002');
  await page.getByRole('option').filter({ hasText: 'GX-002' }).first().click();
  await expect(page.locator('h1')).toHaveText('GX-002');
  await page.getByLabel('Service contract').fill('once a season');
  await page.getByLabel('Service until').fill('2028-03-01');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByLabel('Service contract')).toHaveValue('once a season');
});
