// How soon the planner's screen shows the new figures of an order that somebody else saves, in two browser windows.
import { chromium } from '@playwright/test';
import { prepareBrowser } from '../lib/prepare.mjs';
import { figure, sized } from './figures.mjs';
import { median, serving, share } from './serving.mjs';

const PORT = 4397;
const TURNS = sized(20, 4);
const server = await serving(PORT);
const browser = await chromium.launch({ executablePath: prepareBrowser(), args: ['--no-sandbox', '--disable-gpu'] });
try {
  const signedIn = async (name) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(`http://127.0.0.1:${PORT}/sign-in`);
    await page.getByRole('button', { name }).click();
    await page.waitForURL('**/today');
    return page;
  };
  const [planner, other] = [await signedIn(/Maren/), await signedIn(/Tobin/)];
  // However late it has to be placed: a list of this week alone shows none of what is ordered here.
  await planner.goto(`http://127.0.0.1:${PORT}/planning?within=`);
  await planner.getByPlaceholder('Narrow this list').fill('CAGE');
  await planner.waitForTimeout(1500);
  const [{ id: item }] = await (await other.request.get(`http://127.0.0.1:${PORT}/api/catalogue/items/find?text=CAGE`)).json();
  const took = [];
  for (let turn = 0; turn < TURNS; turn += 1) {
    const shown = planner.evaluate(
      (before) =>
        new Promise((done, fail) => {
          setTimeout(() => fail(new Error('nothing new is shown within 20 s of the save in the other window')), 20_000);
          const look = () => (document.querySelector('t-grid').textContent === before ? requestAnimationFrame(look) : done(Date.now()));
          look();
        }),
      await planner.evaluate(() => document.querySelector('t-grid').textContent),
    );
    const saved = await other.evaluate(
      async ({ item, turn }) => {
        const answer = await fetch('/api/selling/orders', {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'idempotency-key': `screen-bench-${turn}-${Date.now()}` },
          body: JSON.stringify({
            customerId: 1,
            warehouseId: 1,
            requiredDate: `2027-05-${String(3 + turn).padStart(2, '0')}`,
            lines: [{ itemId: item, quantity: String(3 + turn) }],
            confirm: true,
          }),
        });
        if (!answer.ok) throw new Error(await answer.text());
        return Date.now();
      },
      { item, turn },
    );
    took.push((await shown) - saved);
    await planner.waitForTimeout(600);
  }
  console.log(`New figures on the planner's screen after the save in another window was answered: at most ${share(took, 1)} ms`);
  figure('screen: the planner sees what somebody else saves, median', median(took), { unit: 'ms', digits: 0, most: 300 });
} finally {
  await browser.close();
  await server.stop();
}
