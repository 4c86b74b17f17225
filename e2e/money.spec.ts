/** After shipping: invoiced together, paid over several invoices, given back in part, reminded of; and what comes back. */
import { expect } from '@playwright/test';
import { begin, choose } from './people';
import { test } from './site';

test.use({ file: 'money' });

test('a payment closes several invoices, what is left of it closes another, and an invoice is given back in part', async ({ page }) => {
  await begin(page, '/accounts/debtors');
  await page.getByRole('link', { name: 'Payment received' }).click();
  await expect(page.getByRole('heading', { name: 'What it closes' })).toBeVisible();
  await page.getByLabel('Amount').fill('260');
  const first = page.getByLabel(/^How much of INV-/).first();
  await expect(first).not.toHaveValue('');
  await first.fill('1');
  await expect(page.getByText('paid ahead')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('h1').first()).toContainText('PAY-');
  await page.getByRole('button', { name: 'Close invoices with the rest' }).click();
  await page.getByRole('button', { name: 'Close them' }).click();
  await expect(page.getByText('Paid ahead')).toBeHidden();

  await page.locator('t-payment-panel table').getByRole('link', { name: /^INV-/ }).first().click();
  await expect(page.locator('h1').first()).toContainText('INV-');
  await page.getByRole('button', { name: 'Give back' }).click();
  await page.getByLabel('Why').fill('one arrived dented');
  await page
    .getByLabel(/^How many /)
    .first()
    .fill('1');
  await page.getByRole('button', { name: 'Make the credit note' }).click();
  await expect(page.locator('h1').first()).toContainText('CR-');
});

test('whoever is overdue is reminded by mail, and what has left is invoiced', async ({ page }) => {
  await begin(page, '/accounts/reminders');
  await page.getByRole('button', { name: /^Remind \d+ customer/ }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Reminded' })).toBeVisible();
  await page.goto('/accounts/to-invoice');
  await page.getByRole('button', { name: /^Invoice \d+ shipment/ }).click();
  await expect(page.getByRole('status').getByRole('link', { name: /^INV-/ }).first()).toBeVisible();
});

test('something comes back: agreed on, taken in, scrapped, and its money given back', async ({ page }) => {
  await begin(page, '/selling/returns?view=held');
  await page.locator('t-return-panel').getByRole('link', { name: /^CO-/ }).click();
  await page.getByRole('link', { name: 'Something comes back …' }).click();
  await page.getByLabel('Why it comes back').fill('a second one cracked');
  await page
    .getByLabel(/^How many /)
    .first()
    .fill('2');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('h1').first()).toContainText('RET-');
  await page.getByRole('button', { name: 'Take in what came' }).click();
  await expect(page.getByRole('heading', { name: 'Held: what becomes of it?' })).toBeVisible();
  await choose(page.getByLabel('Reason for scrap').first(), 'Breakage');
  await page.getByRole('button', { name: 'Scrap it' }).click();
  await expect(page.getByRole('heading', { name: 'Decided' })).toBeVisible();
  await page.getByRole('button', { name: 'Give the money back' }).click();
  await expect(page.getByRole('link', { name: /^CR-/ }).first()).toBeVisible();
});
