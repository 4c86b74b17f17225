import { expect } from '@playwright/test';
import { begin, narrow, choose } from './people';
import { test } from './site';

test.use({ file: 'forecast' });

test('somebody who knows better types over a forecast; it is kept when all is forecast anew, and taken away again', async ({ page }) => {
  await begin(page, '/planning/forecast');
  await narrow(page, 'JAR-500');
  await page.locator('.ag-row [col-id="code"]').first().click();
  const panel = page.locator('t-forecast-panel');
  await expect(panel.getByRole('heading', { level: 1 })).toContainText('JAR-500');
  await expect(panel.getByRole('row', { name: /^average of each season \d/ })).toContainText(/\d\.\d{3}/);
  const typed = panel.getByLabel(/^Override for/).first();
  await typed.fill('=1200+34');
  await typed.press('Tab');
  await panel.getByLabel(/^Why, for/).fill('a fair in Larkmoor');
  await panel.getByLabel(/^Why, for/).press('Tab');
  await expect(page.locator('.ag-row [col-id="typed"]').first()).toHaveText('1');

  await choose(panel.getByLabel('Method'), 'moving average');
  await expect(panel).toContainText('by moving average');
  await expect(typed).toHaveValue(/^1,?234$/);
  await page.getByRole('button', { name: 'Forecast all anew' }).click();
  await expect(page.getByText('What was typed is kept.')).toBeVisible();
  await page.reload();
  await narrow(page, 'JAR-500');
  await page.locator('.ag-row [col-id="code"]').first().click();
  await expect(typed).toHaveValue(/^1,?234$/);
  await expect(panel.getByLabel(/^Why, for/)).toHaveValue('a fair in Larkmoor');
  await typed.fill('');
  await typed.press('Tab');
  await expect(panel.getByLabel(/^Why, for/)).toHaveCount(0);
  await typed.fill('many');
  await typed.press('Tab');
  await expect(panel.getByRole('alert').or(panel.locator('.wrong')).first()).toBeVisible();
});

test('an order makes the plan differ from last time, and the difference says because of what', async ({ page }) => {
  // What is on the screen when one leaves has been seen, so one has to have left.
  const away = async (): Promise<void> => {
    await page.getByRole('link', { name: 'Rules' }).click();
    await expect(page.getByRole('radio', { name: 'Brought over' })).toBeAttached();
  };
  await begin(page, '/planning/since');
  await away();
  const found = (await (await page.request.get('/api/catalogue/items/find?text=CAGE')).json()) as { id: number }[];
  const answer = await page.request.post('/api/selling/orders', {
    headers: { 'Idempotency-Key': `since-${Date.now()}` },
    data: { customerId: 1, warehouseId: 1, requiredDate: '2027-04-12', lines: [{ itemId: found[0]?.id ?? 0, quantity: '41' }], confirm: true },
  });
  const { number } = (await answer.json()) as { number: string };
  await page.getByRole('link', { name: 'Since last time' }).click();
  const row = page.locator('.ag-row').filter({ hasText: 'CAGE' }).filter({ hasText: number });
  await expect(row.first()).toContainText(/new|changed|moved/);
  await away();
  await page.getByRole('link', { name: 'Since last time' }).click();
  await expect(page.getByText('The plan says what it said when you last looked.')).toBeVisible();
});
