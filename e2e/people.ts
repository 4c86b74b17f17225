import { expect, type Page } from '@playwright/test';

/** Signs in by name and password, as everybody does in the morning. */
export async function signIn(page: Page, login = 'maren'): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Name').fill(login);
  await page.getByLabel('Password').fill('larkmoor');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
}

/** The number of the document on the screen. */
export async function numberOn(page: Page): Promise<string> {
  return (await page.locator('h1').first().innerText()).trim();
}

/** Opens a document by finding its number. */
export async function find(page: Page, number: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Find or scan anything' }).fill(number);
  await page.getByRole('option').filter({ hasText: number }).first().click();
  await expect(page.locator('h1').first()).toContainText(number);
}
