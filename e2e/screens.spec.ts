import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, type Request } from '@playwright/test';
import { begin, enter } from './people';
import { test } from './site';

test.use({ file: 'screens' });

const SCREENS = [
  ['Today', '/today'],
  ['order book', '/selling'],
  ['order', '/selling/orders/5'],
  ['order entry', '/selling/orders/new'],
  ['planning', '/planning'],
  ['exceptions', '/planning/exceptions'],
  ['promises in danger', '/planning/promises'],
  ['data problems', '/planning/problems'],
  ['since last time', '/planning/since'],
  ['item record', '/planning/items/8/1'],
  ['order chart', '/planning/orders/102'],
  ['planning rules', '/planning/rules'],
  ['what if', '/planning/what-if'],
  ['forecast', '/planning/forecast'],
  ['purchase orders', '/buying'],
  ['purchase order', '/buying/orders/5'],
  ['production orders', '/production'],
  ['stock explorer', '/stores'],
  ['stock moves', '/stores/moves'],
  ['adjusting', '/stores/adjust'],
  ['adjustments', '/stores/adjustments'],
  ['lots', '/stores/lots'],
  ['lot', '/stores/lots/4'],
  ['serial numbers', '/stores/serials'],
  ['serial number', '/stores/serials/1'],
  ['trace', '/stores/trace/lot/4'],
  ['transfers', '/stores/transfers'],
  ['asking for a transfer', '/stores/transfers/new'],
  ['worth of stock', '/stores/worth'],
  ['labels', '/stores/labels'],
  ['shipments', '/dispatch'],
  ['invoices', '/accounts'],
  ['journal', '/accounts/journal'],
  ['items', '/catalogue'],
  ['item', '/catalogue/items/1'],
  ['changing an item', '/catalogue/items/1/change'],
  ['customer', '/catalogue/customers/1'],
  ['family', '/catalogue/families/1'],
  ['groups and units', '/catalogue/ground'],
  ['files in and out', '/catalogue/files'],
  ['price lists', '/selling/prices'],
  ['price trial', '/selling/prices/trial'],
  ['changing prices', '/selling/prices/change'],
  ['set-up', '/set-up'],
  ['outbox', '/set-up/outbox'],
  ['API', '/set-up/api'],
] as const;

/** Goes there without loading Terrace anew, and waits until nothing has been asked of the server for a moment. */
async function go(page: Page, address: string): Promise<void> {
  let asked = 0;
  let last = Date.now();
  const count = (step: number) => (request: Request) => {
    if (request.url().endsWith('/api/live')) return;
    asked += step;
    last = Date.now();
  };
  const [begun, ended] = [count(1), count(-1)];
  page.on('request', begun).on('requestfinished', ended).on('requestfailed', ended);
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: null }));
  }, address);
  await expect.poll(() => asked <= 0 && Date.now() - last > 250, { intervals: [100] }).toBe(true);
  page.off('request', begun).off('requestfinished', ended).off('requestfailed', ended);
}

async function refusals(page: Page): Promise<string[]> {
  // The grid draws its own roles row by row while it loads; and its rows are alike, so that the first few stand for all.
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode(true) // There are no frames; otherwise a page is opened and closed for each look.
    .options({ resultTypes: ['violations'] })
    .exclude('.ag-row:nth-child(n + 5)')
    .disableRules(['aria-required-children', 'scrollable-region-focusable'])
    .analyze();
  return violations.map((each) => `${each.id}: ${each.nodes[0]?.html.slice(0, 160) ?? ''} ${each.nodes[0]?.failureSummary?.slice(0, 160) ?? ''}`);
}

/** What sticks out of the pane that it is in, at the width of a small desk. */
async function outgrown(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const scrolls = (each: Element | null): boolean =>
      each !== null &&
      !each.matches('.pane') &&
      (['auto', 'scroll', 'hidden'].includes(getComputedStyle(each).overflowX) || scrolls(each.parentElement));
    return Array.from(document.querySelectorAll<HTMLElement>('.pane *:not(svg *)'))
      .filter((each) => each.offsetParent !== null && !each.closest('.ag-root-wrapper') && !scrolls(each.parentElement))
      .filter((each) => each.getBoundingClientRect().right > (each.closest('.pane')?.getBoundingClientRect().right ?? Infinity) + 2)
      .map((each) => `${each.tagName} ${each.className} "${each.textContent.trim().slice(0, 40)}"`)
      .slice(0, 3);
  });
}

test('every main screen can be used with a screen reader and by keyboard, light and dark', async ({ page }) => {
  await page.goto('/sign-in');
  await expect(page.getByLabel('Password')).toBeVisible();
  expect(await refusals(page)).toEqual([]);
  await enter(page);
  const visits = (['light', 'dark'] as const).flatMap((theme) =>
    SCREENS.filter(([name]) => theme === 'light' || ['order book', 'planning', 'forecast'].includes(name)).map(([name, address]) => ({
      name,
      address,
      theme,
    })),
  );
  const look = async (on: Page): Promise<void> => {
    await on.goto('/today');
    for (let visit = visits.shift(); visit; visit = visits.shift()) {
      const { name, address, theme } = visit;
      await go(on, address);
      await expect(on).toHaveURL(new RegExp(`${address}(\\?.*)?$`));
      await expect(on.locator('h1').first()).toBeVisible();
      await on.evaluate((chosen) => (document.documentElement.dataset['theme'] = chosen), theme);
      expect(await refusals(on), `${name}, ${theme}`).toEqual([]);
      expect(await outgrown(on), name).toEqual([]);
    }
  };
  // Nothing is changed here, so that two windows can be looked at side by side.
  await Promise.all([page, await page.context().newPage()].map(look));
});

test('keys lead everywhere, and ? shows them', async ({ page }) => {
  await begin(page, '/today');
  await page.keyboard.press('Alt+6');
  await expect(page).toHaveURL(/stores$/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys of this screen' })).toContainText('Fold the balance strip');
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await expect(page.getByRole('combobox', { name: 'Find or scan anything' })).toBeFocused();
});
