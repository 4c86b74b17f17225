import { expect, test, type Cookie, type Locator, type Page } from '@playwright/test';

/** Signs in by name and password, as everybody does in the morning. */
export async function signIn(page: Page, login = 'maren'): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Name').fill(login);
  await page.getByLabel('Password').fill('larkmoor');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
}

/** Sessions that tests before have begun, and which test has each now. */
const kept: { readonly login: string; readonly cookies: readonly Cookie[]; test: string }[] = [];

/** Signs in without the page for it, for what is about something else: in a session that an earlier test left, where it goes on. */
export async function enter(page: Page, login = 'maren'): Promise<void> {
  const now = test.info().testId;
  for (const session of kept.filter((each) => each.login === login && each.test !== now)) {
    session.test = now;
    await page.context().addCookies([...session.cookies]);
    const { user } = (await (await page.request.get('/api/session')).json()) as { user?: { login: string } };
    if (user?.login === login) return;
  }
  const answer = await page.request.post('/api/session', { data: { login, password: 'larkmoor' } });
  expect(answer.ok(), await answer.text()).toBe(true);
  kept.push({ login, cookies: await page.context().cookies(), test: now });
}

/** Begins the work at an address, signed in. */
export async function begin(page: Page, address: string, login?: string): Promise<void> {
  await enter(page, login);
  await page.goto(address);
  await expect(page.getByRole('navigation', { name: 'Rooms' })).toBeVisible();
}

/** Chooses from a list that opens, by the words that stand in it. */
export async function choose(field: Locator, words: string | RegExp): Promise<void> {
  // What is chosen lies over the field itself.
  await field.locator('xpath=ancestor::nz-select').click();
  // A long list shows only what fits.
  if (typeof words === 'string') await field.fill(words);
  await field.page().locator('.t-options').getByTitle(words, { exact: true }).click();
}

/** Takes one of a few that stand side by side, by its words. */
export async function pick(scope: Page | Locator, words: string): Promise<void> {
  await scope.locator('.ant-radio-button-wrapper').getByText(words, { exact: true }).click();
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

/** Narrows the list, and waits until only the rows that have these words are drawn. */
export async function narrow(page: Page, words: string): Promise<void> {
  await drawn(
    page,
    (query) => query.get('find') === words,
    () => page.getByPlaceholder('Narrow this list').fill(words),
  );
}

/** Chooses a view of the list that leaves rows out, and waits until only what it shows is drawn. */
export async function view(page: Page, name: string): Promise<void> {
  await drawn(
    page,
    (query) => query.has('filter'),
    () => pick(page, name),
  );
}

async function drawn(page: Page, asked: (query: URLSearchParams) => boolean, act: () => Promise<void>): Promise<void> {
  const answered = page.waitForResponse((answer) => asked(new URL(answer.url()).searchParams));
  await act();
  await answered;
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
}
