/** Selling to a customer who pays in another currency: a rate that is missing is set where it is missed, and a payment tells what it gained. */
import { expect, type Page } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'currency' });

async function send(page: Page, method: 'post' | 'put', address: string, data: object): Promise<void> {
  const answer = await page.request.fetch(`/api${address}`, {
    method,
    data,
    headers: { 'Idempotency-Key': `currency${address.replaceAll('/', '-')}` },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
}

test('an order is entered in the customer’s currency, with the rate set where it is missed, shipped, invoiced, and paid at another rate', async ({
  page,
}) => {
  await begin(page, '/selling');
  await send(page, 'put', '/catalogue/ground/currencies', { code: 'NOK', name: 'Krone' });
  await send(page, 'post', '/catalogue/customers', { code: 'FJORD', name: 'Fjordside Honey', currency: 'NOK' });
  await page.goto('/selling/orders/new');
  await expect(page.getByRole('combobox', { name: 'Customer' })).toBeFocused();
  await page.keyboard.type('fjord');
  for (const text of ['Spring', '+9']) {
    await page.keyboard.press('Enter');
    await page.keyboard.type(text);
  }
  await page.getByLabel('Item of line 1').fill('HIVETOOL');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
  await page.keyboard.type('2');
  const refused = page.getByRole('alert').filter({ hasText: 'There is no exchange rate of NOK' });
  await expect(refused).toBeVisible();
  await refused.getByLabel('What 1 NOK is worth').fill('0.1');
  await refused.getByRole('button', { name: /^Set it from/ }).click();
  await expect(refused.getByRole('status')).toContainText('1 NOK is worth 0.1 EUR');
  await page.getByLabel('Price of line 1').fill('100');
  await expect(page.getByText('200.00 NOK')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('t-order-panel t-state').first()).toHaveText(/confirmed/);
  await expect(page.getByText('EUR, NOK at 0.1').first()).toBeVisible();

  await page.getByRole('button', { name: /^Make shipment of/ }).click();
  await expect(page.locator('h1').first()).toContainText('SH-');
  await page.getByRole('button', { name: /^Ship SH-/ }).click();
  await page.getByRole('button', { name: 'Invoice it' }).click();
  await expect(page.locator('h1').first()).toContainText('INV-');
  const total = (await page.getByLabel('Received', { exact: true }).inputValue()).replace(/[^0-9.]/g, '');
  await page.locator('t-invoice-panel').getByRole('link', { name: 'Fjordside Honey' }).click();
  await page.getByRole('link', { name: 'Payment received' }).click();
  await page.getByLabel('Amount', { exact: true }).fill(total);
  await page.getByLabel('What 1 NOK was worth').fill('0.12');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('h1').first()).toContainText('PAY-');
  await expect(page.getByText('EUR, NOK at 0.12')).toBeVisible();
  await page.goto('/accounts/journal');
  await page.getByPlaceholder('Narrow this list').fill('Exchange gains');
  await expect(page.getByText('Exchange gains').first()).toBeVisible();
});
