import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, type Request } from '@playwright/test';
import { begin, choose } from './people';
import { test } from './site';

test.use({ file: 'screens' });
// None changes anything, and together they take as long as all that one worker does: each may go to whichever is free.
test.describe.configure({ mode: 'parallel' });

/** Screens with their addresses; where one record is shown, what to ask the API for and which of the first row's fields lead there. */
const SCREENS: readonly (readonly [name: string, address: string, list?: string, ...fields: string[]])[] = [
  ['Today', '/today'],
  ['order book', '/selling'],
  ['order', '/selling/orders/', '/selling/orders', 'id'],
  ['order entry', '/selling/orders/new'],
  ['many orders', '/selling/many'],
  ['dividing', '/selling/orders/:/divide', '/selling/orders', 'id'],
  ['quotes', '/selling/quotes'],
  ['quote', '/selling/orders/', '/selling/quotes', 'id'],
  ['quote entry', '/selling/quotes/new'],
  ['figures of selling', '/selling/figures'],
  ['counter', '/selling/counter'],
  ['sales over the counter', '/selling/counter/sales'],
  ['sale over the counter', '/selling/counter/sales/', '/counter/sales', 'id'],
  ['orders from outside', '/selling/incoming'],
  ['order from outside', '/selling/incoming/', '/selling/incoming', 'id'],
  ['returns', '/selling/returns'],
  ['return', '/selling/returns/', '/selling/returns', 'id'],
  ['something comes back', '/selling/orders/:/return', '/selling/orders', 'id'],
  ['straight to customers', '/buying/direct'],
  ['planning', '/planning'],
  ['exceptions', '/planning/exceptions'],
  ['promises in danger', '/planning/promises'],
  ['data problems', '/planning/problems'],
  ['since last time', '/planning/since'],
  ['item record', '/planning/items/', '/planning/suggestions', 'itemId', 'warehouseId'],
  ['order chart', '/planning/orders/', '/planning/endangered', 'orderId'],
  ['planning rules', '/planning/rules'],
  ['what if', '/planning/what-if'],
  ['forecast', '/planning/forecast'],
  ['purchase orders', '/buying'],
  ['purchase order', '/buying/orders/', '/buying/orders', 'id'],
  ['production orders', '/production'],
  ['stock explorer', '/stores'],
  ['stock moves', '/stores/moves'],
  ['adjusting', '/stores/adjust'],
  ['adjustments', '/stores/adjustments'],
  ['lots', '/stores/lots'],
  ['lot', '/stores/lots/', '/stores/lots', 'id'],
  ['serial numbers', '/stores/serials'],
  ['serial number', '/stores/serials/', '/stores/serials', 'id'],
  ['trace', '/stores/trace/lot/', '/stores/lots', 'id'],
  ['transfers', '/stores/transfers'],
  ['asking for a transfer', '/stores/transfers/new'],
  ['worth of stock', '/stores/worth'],
  ['labels', '/stores/labels'],
  ['shipments', '/dispatch'],
  ['invoices', '/accounts'],
  ['to invoice', '/accounts/to-invoice'],
  ['payments', '/accounts/payments'],
  ['payment', '/accounts/payments/', '/selling/payments', 'id'],
  ['payment received', '/accounts/payments/new'],
  ['who owes what', '/accounts/debtors'],
  ['account of a customer', '/accounts/customers/', '/accounts/debtors', 'id'],
  ['reminders', '/accounts/reminders'],
  ['journal', '/accounts/journal'],
  ['items', '/catalogue'],
  ['item', '/catalogue/items/', '/catalogue/items', 'id'],
  ['changing an item', '/catalogue/items/:/change', '/catalogue/items', 'id'],
  ['customer', '/catalogue/customers/', '/catalogue/customers', 'id'],
  ['family', '/catalogue/families/', '/catalogue/families', 'id'],
  ['groups and units', '/catalogue/ground'],
  ['files in and out', '/catalogue/files'],
  ['free stock for orders', '/selling/waiting'],
  ['price lists', '/selling/prices'],
  ['charges by rule', '/selling/prices/charges'],
  ['price trial', '/selling/prices/trial'],
  ['changing prices', '/selling/prices/change'],
  ['notices', '/notices'],
  ['set-up', '/set-up'],
  ['people', '/set-up/people'],
  ['roles', '/set-up/roles'],
  ['places', '/set-up/places'],
  ['company', '/set-up/company'],
  ['numbering', '/set-up/numbering'],
  ['accounts and reasons', '/set-up/accounts'],
  ['rules of the house', '/set-up/rules'],
  ['outgoing mail', '/set-up/mail'],
  ['terminals', '/set-up/terminals'],
  ['programs', '/set-up/programs'],
  ['files by themselves', '/set-up/schedules'],
  ['company as a file', '/set-up/archive'],
  ['backups', '/set-up/backups'],
  ['credit limits', '/set-up/credit'],
  ['own account', '/me'],
  ['outbox', '/set-up/outbox'],
  ['API', '/set-up/api'],
];

/** Where a screen is: of a record, the first that its list has. */
async function addressOf(page: Page, [name, address, list, ...fields]: (typeof SCREENS)[number]): Promise<string> {
  if (list === undefined) return address;
  const answer = await page.request.get(`/api${list}?limit=1`);
  const { rows } = (await answer.json()) as { rows: Readonly<Record<string, number>>[] };
  const ids = fields.map((field) => rows[0]?.[field]);
  expect(
    ids.every((id) => typeof id === 'number'),
    name,
  ).toBe(true);
  return address.includes(':') ? address.replace(':', String(ids[0])) : `${address}${ids.join('/')}`;
}

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

// What opens over the screen belongs to what opened it, and lies in no landmark.
const LOOK = {
  resultTypes: ['violations' as const],
  checks: { region: { options: { regionMatcher: 'dialog, [role=dialog], .cdk-overlay-container' } } },
};

async function refusals(page: Page): Promise<string[]> {
  // The grid draws its own roles row by row while it loads; and its rows are alike, so that the first few stand for all.
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode(true) // There are no frames; otherwise a page is opened and closed for each look.
    .options(LOOK)
    .exclude('.ag-row:nth-child(n + 3)')
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

test('the page for signing in can be used with a screen reader and by keyboard', async ({ page }) => {
  await page.goto('/sign-in');
  await expect(page.getByLabel('Password')).toBeVisible();
  expect(await refusals(page)).toEqual([]);
});

/** By how much lists are wider than their place. Columns give way as soon as something stands beside. */
async function overflow(page: Page): Promise<number> {
  return page.evaluate(() =>
    Math.max(0, ...Array.from(document.querySelectorAll('.ag-body-horizontal-scroll-viewport')).map((each) => each.scrollWidth - each.clientWidth)),
  );
}

/** Where the links of a screen lead, one of each kind. */
async function leads(page: Page): Promise<Map<string, string>> {
  const all = await page.evaluate(() =>
    Array.from(document.querySelectorAll<HTMLAnchorElement>('main a[href^="/"]'), (each) => each.getAttribute('href') ?? ''),
  );
  const pages = all.filter((each) => !each.startsWith('/api/'));
  return new Map(pages.map((each) => [each.replace(/\d+/g, '0').replace(/=[^&]*/g, ''), each]));
}

const VISITS = (['light', 'dark'] as const).flatMap((theme) =>
  SCREENS.filter(([name]) => theme === 'light' || ['order book', 'planning', 'forecast'].includes(name)).map((screen) => ({ screen, theme })),
);
const AT_ONCE = 15;
for (let from = 0; from < VISITS.length; from += AT_ONCE) {
  const visits = VISITS.slice(from, from + AT_ONCE);
  const [first, last] = [visits[0]?.screen[0] ?? '', visits.at(-1)?.screen[0] ?? ''];
  test(`screens from ${first} to ${last}: by screen reader and keyboard, and no list loses a column nor scrolls sideways`, async ({ page }) => {
    // Whoever may everything sees most.
    await begin(page, '/today', 'wilder');
    const led = new Map<string, string>();
    for (const { screen, theme } of visits) {
      const [name] = screen;
      const address = await addressOf(page, screen);
      await go(page, address);
      await expect(page).toHaveURL(new RegExp(`${address}(\\?.*)?$`));
      await expect(page.locator('h1').first()).toBeVisible();
      if ((await page.locator('t-grid').count()) > 0) {
        await expect(page.locator('t-grid .ag-row .ag-cell, t-grid .none').first()).toBeAttached();
        await expect.poll(() => overflow(page), name).toBeLessThan(2);
      }
      await page.evaluate((chosen) => (document.documentElement.dataset['theme'] = chosen), theme);
      expect(await refusals(page), `${name}, ${theme}`).toEqual([]);
      expect(await outgrown(page), name).toEqual([]);
      for (const [kind, link] of await leads(page)) if (!led.has(kind)) led.set(kind, link);
    }
    // Every link leads to a page that is there.
    for (const link of led.values()) {
      await go(page, link);
      await expect(page.locator('h1').first(), link).toBeVisible();
      expect(await page.title(), link).not.toContain('Not found');
    }
  });
}

test('no page that is meant for a phone is wider than one', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await begin(page, '/today');
  for (const path of ['/today', '/stores/adjust', '/stores/lots', '/stores/transfers', '/buying', '/dispatch', '/catalogue']) {
    await page.goto(path);
    await expect(page.locator('main')).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBe(390);
    expect((await page.locator('main').boundingBox())?.width, path).toBe(390);
    // What is pressed or typed into has room for a thumb.
    const small = await page.evaluate(() =>
      Array.from(document.querySelectorAll<HTMLElement>('main .act, main input.box, main .ant-select-selector, main .ant-radio-button-wrapper'))
        .filter((each) => each.offsetParent !== null && !each.closest('t-date button') && each.getBoundingClientRect().height < 46)
        .map((each) => `${each.className} ${each.textContent.trim().slice(0, 20)} ${each.getBoundingClientRect().height}`),
    );
    expect(small, path).toEqual([]);
  }
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

test('what opens over a screen can be used like the screen: lists to choose from, dialogs', async ({ page }) => {
  await begin(page, '/selling/orders/new');
  // What is chosen from, not what a closed list of the browser's own holds.
  const choices = page.locator('[role="option"]');
  const sound = async (what: string): Promise<void> => {
    expect(await refusals(page), what).toEqual([]);
    expect(await outgrown(page), what).toEqual([]);
  };
  await page.getByRole('combobox', { name: 'Customer' }).fill('l');
  await expect(choices.first()).toBeVisible();
  await sound('list of customers');
  await page.keyboard.press('Enter');
  await page.getByLabel('Item of line 1').fill('frame');
  await expect(choices.first()).toBeVisible();
  await sound('list of items');
  await page.getByRole('combobox', { name: 'Find or scan anything' }).fill('co');
  await expect(choices.first()).toBeVisible();
  await sound('list of what was found');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await go(page, '/selling');
  await sound('asking before what is typed is left');
  await page.getByRole('button', { name: 'Go back without saving' }).click();
  await expect(page).toHaveURL(/selling$/);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toBeVisible();
  await sound('keys');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  const answer = await page.request.get(
    `/api/selling/orders?limit=1&filter=${encodeURIComponent(JSON.stringify({ state: { op: 'equals', value: 'confirmed' } }))}`,
  );
  const { rows } = (await answer.json()) as { rows: { id: number }[] };
  await go(page, `/selling/orders/${rows[0]?.id ?? 0}`);
  await page
    .getByRole('button', { name: /^Cancel/ })
    .first()
    .click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await sound('asking before an order is cancelled');
});

test('typed lines stay when Esc is pressed, and no key acts behind a dialog', async ({ page }) => {
  await begin(page, '/selling');
  await page.keyboard.press('?');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toBeVisible();
  for (const key of ['n', 'Alt+7']) {
    await page.keyboard.press(key);
    await expect(dialog).toBeVisible();
    await expect(page).toHaveURL(/selling$/);
  }
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await page.keyboard.press('n');
  await expect(page).toHaveURL(/orders\/new$/);
  // Escape closes a list that is open, and what nobody knows is not passed over.
  const warehouse = page.getByRole('combobox', { name: 'From warehouse' });
  await warehouse.focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('.t-options')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.locator('.t-options')).toHaveCount(0);
  await page.keyboard.type('zzz');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Nothing has these words.')).toBeVisible();
  await expect(warehouse).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/orders\/new$/);
  // Nothing was typed but to find something: back at once.
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/selling$/);
  await expect(page.getByText('New order')).toBeVisible();
  await page.keyboard.press('n');
  // What is chosen from a list is asked about like what is typed.
  await choose(warehouse, 'DEPOT · Depot, Fennbridge');
  await page.keyboard.press('Escape');
  await expect(dialog).toContainText('Go back without saving?');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await page.getByLabel('Item of line 1').fill('HIVETOOL');
  await page.keyboard.press('Enter');
  await page.getByLabel('Quantity of line 1').fill('7');
  await page.keyboard.press('Escape');
  await expect(dialog).toContainText('Go back without saving?');
  await page.keyboard.press('Alt+7');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await expect(page).toHaveURL(/orders\/new$/);
  await expect(page.getByLabel('Quantity of line 1')).toHaveValue('7');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Go back without saving' }).click();
  await expect(page).toHaveURL(/selling$/);
});
