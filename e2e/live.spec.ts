/** One live stream a browser: many tabs work at once, and going back and forth uses none up. */
import { chromium, expect, type APIRequestContext, type Page } from '@playwright/test';
import { begin, enter } from './people';
import { test } from './site';

test.use({ file: 'live' });

let adjusted = 0;
/** Somebody adjusts stock. */
async function adjust(request: APIRequestContext): Promise<void> {
  adjusted += 1;
  const { bins } = (await (await request.get('/api/catalogue/choices')).json()) as { bins: { id: number; warehouseId: number }[] };
  const [bin] = bins;
  const { rows } = (await (await request.get('/api/catalogue/items?find=HIVETOOL')).json()) as { rows: { id: number }[] };
  const answer = await request.post('/api/stores/adjustments', {
    headers: { 'idempotency-key': `heard-in-all-tabs-${adjusted}` },
    data: { warehouseId: bin?.warehouseId, reason: 'FOUND', note: '', lines: [{ itemId: rows[0]?.id, binId: bin?.id, change: '1', unitCost: '1' }] },
  });
  expect(answer.ok(), await answer.text()).toBe(true);
}

/** How many adjustments a tab shows. */
const rows = (tab: Page) => tab.locator('t-grid .total');
const countOn = async (tab: Page): Promise<number> => {
  await expect(rows(tab)).toHaveText(/row/);
  return Number((await rows(tab).innerText()).trim().split(' ')[0]);
};

test('ten tabs of one browser all load and hear what is done; they go on when the one that listens is closed', async ({ context, page }) => {
  await begin(page, '/stores/adjustments');
  const others: Page[] = [];
  while (others.length < 9) {
    const tab = await context.newPage();
    await tab.goto('/stores/adjustments');
    await expect(tab.getByText('Adjust stock')).toBeVisible();
    others.push(tab);
  }
  const before = await countOn(page);
  await adjust(page.request);
  for (const tab of [page, ...others]) await expect(rows(tab)).toHaveText(`${before + 1} rows`);
  // The first to come has the stream.
  await page.close();
  await adjust(context.request);
  for (const tab of others) await expect(rows(tab)).toHaveText(`${before + 2} rows`);
});

test('going back and forth twenty times, with pages kept for it, leaves a page that loads and hears', async ({ site }) => {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
    ignoreDefaultArgs: ['--disable-back-forward-cache'],
  });
  const context = await browser.newContext({ baseURL: site });
  try {
    const page = await context.newPage();
    await page.addInitScript(() => {
      addEventListener('pageshow', (event) => {
        if (event.persisted) document.documentElement.dataset['kept'] = 'yes';
      });
    });
    await enter(page);
    await page.goto('/today');
    let kept = 0;
    for (let turn = 0; turn < 20; turn += 1) {
      await page.goto(turn % 2 === 0 ? '/stores/adjustments' : '/dispatch');
      await expect(page.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
      await page.evaluate(() => history.back());
      await expect(page.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
      if ((await page.locator('html').getAttribute('data-kept')) === 'yes') kept += 1;
    }
    expect(kept, 'pages were kept for going back').toBeGreaterThan(0);
    await page.goto('/stores/adjustments');
    const before = await countOn(page);
    await adjust(page.request);
    await expect(rows(page)).toHaveText(`${before + 1} rows`);
  } finally {
    await browser.close();
  }
});
