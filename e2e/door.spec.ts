import { expect } from '@playwright/test';
import { begin, view } from './people';
import { test } from './site';

test('whose name somebody guessed at is told when they sign in, and the administrator finds it in the audit log', async ({
  page,
  browser,
  baseURL,
}) => {
  await page.goto('/sign-in');
  const enter = async (password: string): Promise<void> => {
    await page.getByRole('textbox', { name: 'Name' }).fill(' Quill ');
    await page.getByLabel('Password').fill(password);
    await page.keyboard.press('Enter');
  };
  for (const guess of ['a guess', 'another']) {
    await enter(guess);
    await expect(page.getByRole('alert')).toContainText('Name and password don’t go together');
  }
  await enter('larkmoor');
  const told = page.getByText(/2 attempts to sign in with your name failed/);
  await expect(told).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(told).toBeHidden();

  const administrator = await (await browser.newContext({ ...(baseURL === undefined ? {} : { baseURL }) })).newPage();
  await begin(administrator, '/set-up', 'wilder');
  await administrator.getByRole('link', { name: /Audit log/ }).click();
  await view(administrator, 'Failed sign-ins');
  const row = administrator.getByRole('row').filter({ hasText: 'Quill Hathersedge' }).first();
  await expect(row).toContainText('Sign-in failed');
  await expect(row).toContainText('wrong password');
  await expect(administrator.getByRole('row').filter({ hasText: 'Signed in' })).toHaveCount(0);
  await administrator.context().close();
});
