/** The trade counter: ten lines by scanner and keyboard, paid in two ways, brought back, and the drawer counted. */
import { expect, type Page } from '@playwright/test';
import { begin } from './people';
import { test } from './site';

test.use({ file: 'counter' });

/** Presses keys one by one and counts them, as a person would. */
function keys(page: Page) {
  let pressed = 0;
  return {
    /** What a scanner types costs nobody a key. */
    scan: (code: string) => page.keyboard.type(code),
    type: async (text: string) => {
      pressed += text.length;
      await page.keyboard.type(text);
    },
    press: async (key: string) => {
      pressed += 1;
      await page.keyboard.press(key);
    },
    pressed: () => pressed,
  };
}

test('ten lines are sold with fewer than forty keys beside the codes, and one of them comes back', async ({ page }) => {
  await begin(page, '/selling/counter', 'tobin');
  await expect(page.getByLabel('Scan or type')).toBeFocused();
  const hand = keys(page);
  const basket = page.locator('.basket tbody tr');
  // A scanner ends each code by itself.
  for (const [index, code] of ['JAR-500', 'PAINTSET', 'BRUSH', 'SCREW', 'FELT', 'PAINT', 'SUGAR', 'CARTON', 'SUIT-M', 'SMOKER'].entries()) {
    if (index === 0) await hand.type('12*');
    await hand.scan(code);
    await page.keyboard.press('Enter');
  }
  await expect(basket).toHaveCount(10);
  await hand.type('5%');
  await hand.press('Enter');
  await expect(basket.last()).toContainText('5');
  await hand.press('Enter');
  await hand.type('c 20');
  await hand.press('Enter');
  await hand.type('500');
  await hand.press('Enter');
  await expect(page.getByText('Change', { exact: true })).toBeVisible();
  expect(hand.pressed()).toBeLessThan(40);
  const receipt = page.getByLabel('Receipt', { exact: true });
  await expect(receipt).toContainText('12 each x 0.62');
  const number = /CS-\d+/.exec(await receipt.innerText())?.[0] ?? '';

  await page.getByLabel('Scan or type').fill(number);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: `Something of ${number} comes back` })).toBeVisible();
  await page.getByLabel('How many PAINTSET').fill('1');
  await page.getByLabel('Why').fill('wrong colour');
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(receipt).toContainText(`Of receipt`);
  await expect(page.getByText('Hand back')).toBeVisible();

  await page.keyboard.press('Alt+D');
  await page.getByLabel('Counted').fill('100');
  await expect(page.getByText('too little.')).toBeVisible();
  await page.getByLabel('Stays in it').fill('100');
  await page.getByRole('button', { name: 'Close the drawer' }).click();
  await expect(page.getByRole('heading', { name: 'The drawer is closed' })).toBeVisible();
});

test('a basket is put aside and taken up again, and waits where the money is missing', async ({ page }) => {
  await begin(page, '/selling/counter', 'tobin');
  await page.getByLabel('Scan or type').fill('3*brush');
  await page.keyboard.press('Enter');
  await expect(page.locator('.basket tbody tr')).toHaveCount(1);
  await page.keyboard.press('Alt+P');
  await expect(page.locator('.basket tbody tr')).toHaveCount(0);
  await page.getByRole('button', { name: /brush/i }).click();
  await expect(page.locator('.basket tbody tr')).toContainText('3');
  await page.getByRole('button', { name: 'Pay' }).click();
  await page.getByLabel('Scan or type').fill('a');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/still to be paid/)).toBeVisible();
  await page.getByLabel('Scan or type').fill('c');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Receipt', { exact: true })).toContainText('Card');
});
