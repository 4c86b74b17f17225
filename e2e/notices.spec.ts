import { expect, type Page } from '@playwright/test';
import { begin, enter } from './people';
import { test } from './site';

test.use({ file: 'notices' });

/** An order of one thing, shipped at once by somebody else. */
async function shipped(page: Page): Promise<{ number: string }> {
  const post = async <T>(path: string, data: object): Promise<T> => {
    const answer = await page.request.post(`/api${path}`, { headers: { 'Idempotency-Key': `told-${Date.now()}-${path.length}` }, data });
    expect(answer.ok(), await answer.text()).toBe(true);
    return (await answer.json()) as T;
  };
  const [item] = (await (await page.request.get('/api/catalogue/items/find?text=SMOKER')).json()) as { id: number }[];
  const lines = [{ itemId: item?.id ?? 0, quantity: '1' }];
  const order = await post<{ id: number }>('/selling/orders', { customerId: 1, warehouseId: 1, requiredDate: '2027-03-20', lines, confirm: true });
  const made = await post<{ id: number; number: string; version: number }>('/dispatch/shipments', { orderId: order.id });
  await post(`/dispatch/shipments/${made.id}/ship`, { version: made.version });
  return made;
}

test('what was told is opened, marked at once, and is not told any more once its kind is muted', async ({ page, browser }) => {
  await begin(page, '/today', 'tobin');
  const bell = page.getByRole('button', { name: /unread notices/ });
  await bell.click();
  const list = page.getByRole('region', { name: 'Notices' });
  await expect(list).toBeVisible();
  // Routine ones of a day are one line, and are shown one by one.
  const gathered = list.getByRole('button', { name: /^\d+ completions/ }).first();
  await gathered.click();
  await expect(list.getByText(/finished on PRD-/).first()).toBeVisible();
  await list.getByRole('button', { name: 'Mark all as read' }).click();
  await expect(bell).toHaveAccessibleName('0 unread notices');

  // Somebody ships: it is told, and leads to the shipment.
  const maren = await (await browser.newContext()).newPage();
  await enter(maren);
  const kept = await shipped(maren);
  await expect(bell).toHaveAccessibleName('1 unread notices');
  await list.getByRole('button', { name: new RegExp(`${kept.number} left`) }).click();
  await expect(page.locator('h1').first()).toContainText(kept.number);
  await expect(bell).toHaveAccessibleName('0 unread notices');

  await bell.click();
  await list.getByRole('link', { name: /Older ones/ }).click();
  await expect(page.locator('.ag-row').first()).toBeVisible();
  await page.getByText('Shipments that left', { exact: true }).first().click();
  await bell.click();
  await expect(list.getByRole('button', { name: /left/ })).toHaveCount(0);
  await maren.context().close();
});
