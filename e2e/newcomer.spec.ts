/** The newcomer's hour: from an empty folder with six files to an order confirmed, a plan, a purchase sent and goods received. */
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { untilUp } from '../scripts/lib/up.mjs';
import { choose } from './people';

const ROOT = join(import.meta.dirname, '..');
const FOLDER = join(ROOT, 'test-results/newcomer');
const PORT = 4397;
const MOST_INTERACTIONS = 60;

/** What a person does: each click, each field filled, each key counts one. */
class Person {
  readonly did: string[] = [];
  constructor(readonly page: Page) {}

  async click(target: Locator, what = String(target)): Promise<void> {
    this.did.push(`click ${what}`);
    await target.click();
  }

  async fill(target: Locator, text: string): Promise<void> {
    this.did.push(`fill ${String(target)}`);
    await target.fill(text);
  }

  /** From a list that opens: pressed, typed into, taken. */
  async choose(field: Locator, words: string): Promise<void> {
    this.did.push(`open ${words}`, `type ${words}`, `take ${words}`);
    await choose(field, words);
  }

  async press(key: string): Promise<void> {
    this.did.push(`press ${key}`);
    await this.page.keyboard.press(key);
  }

  /** One interaction: the browser's own dialog for a file. */
  async send(file: string): Promise<void> {
    this.did.push(`send ${file}`);
    await this.page.locator('input[type=file]').setInputFiles(join(FOLDER, file));
  }
}

const table = (headings: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  [headings, ...rows].map((row) => row.join(';')).join('\n');
const many = <T>(count: number, make: (index: number) => T): T[] => Array.from({ length: count }, (_, index) => make(index));
const pad = (index: number, wide = 4): string => String(index + 1).padStart(wide, '0');

/** Six files, as somebody would have them from their spreadsheets: 50 units, 20 groups, 2,000 items, 300 customers, 500 lines, opening stock. */
function writeFiles(): void {
  mkdirSync(FOLDER, { recursive: true });
  const parents = ['MATERIAL', 'PART', 'PRODUCT', 'GOODS'];
  const group = (index: number): string => `G${pad(index % 20, 2)}`;
  const isMade = (index: number): boolean => ['PART', 'PRODUCT'].includes(parents[(index % 20) % 4] ?? '');
  const write = (name: string, text: string): void => writeFileSync(join(FOLDER, name), text);
  write(
    'units.csv',
    table(
      ['Code', 'Name', 'Decimals'],
      many(50, (index) => [`u${pad(index, 2)}`, `unit ${index + 1}`, index % 3]),
    ),
  );
  write(
    'groups.csv',
    table(
      ['Code', 'Name', 'Above'],
      many(20, (index) => [group(index), `Group ${index + 1}`, parents[index % 4] ?? '']),
    ),
  );
  write(
    'items.csv',
    table(
      ['Code', 'Description', 'Group', 'Unit', 'Selling price', 'Supplier', 'Supplier’s name', 'Supplier’s mail', 'Supplier’s price', 'Lead days'],
      many(2000, (index) => [
        `I${pad(index)}`,
        `Cask fitting ${index + 1}`,
        group(index),
        'each',
        `${10 + (index % 90)}.50`,
        ...(isMade(index)
          ? ['', '', '', '', '']
          : [`S${pad(index % 40, 2)}`, `Supplier ${(index % 40) + 1}`, `orders@s${index % 40}.example`, `${4 + (index % 30)}.20`, 3 + (index % 9)]),
      ]),
    ),
  );
  write(
    'customers.csv',
    table(
      ['Code', 'Name', 'Address', 'Payment days', 'Tax code'],
      many(300, (index) => [`C${pad(index, 3)}`, `Orchard ${index + 1}`, `Cider Lane ${index + 1} / Fernhollow`, 14, 'FULL']),
    ),
  );
  // Made items take bought ones: neighbours in the list, so that there is no circle.
  const made = many(2000, (index) => index).filter(isMade);
  const bought = many(2000, (index) => index).filter((index) => !isMade(index));
  write(
    'boms.csv',
    table(
      ['Item', 'Component', 'Quantity'],
      many(500, (index) => [`I${pad(made[Math.floor(index / 2)] ?? 0)}`, `I${pad(bought[index] ?? 0)}`, 1 + (index % 4)]),
    ),
  );
  write(
    'stock.csv',
    table(
      ['Item', 'Warehouse', 'Bin', 'Quantity', 'Unit cost'],
      bought
        .slice(0, 400)
        .map((index) => [`I${pad(index)}`, 'MAIN', `A-${pad(index % 10, 2)}-${pad(index % 4, 2)}`, 5 + (index % 20), `${4 + (index % 30)}.20`]),
    ),
  );
}

test('a newcomer founds a company, brings six files in, confirms an order, buys what the plan says and receives it', async ({ page }) => {
  rmSync(FOLDER, { recursive: true, force: true });
  writeFiles();
  const env = { ...process.env, TERRACE_PORT: String(PORT), TERRACE_DATA: join(FOLDER, 'data'), TERRACE_TODAY: '2027-03-01', TERRACE_LOG: 'error' };
  const terrace = spawn(process.execPath, [join(ROOT, 'dist/terrace.js'), 'serve'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
  try {
    let said = '';
    terrace.stdout.on('data', (text: Buffer) => (said += text.toString()));
    const url = `http://127.0.0.1:${PORT}`;
    await untilUp(url, terrace);
    await expect.poll(() => said).toMatch(/[2-9A-Z]{4}-[2-9A-Z]{4}/);
    const code = /[2-9A-Z]{4}-[2-9A-Z]{4}/.exec(said)?.[0] ?? '';
    const me = new Person(page);

    // Founding.
    await page.goto(url);
    await me.fill(page.getByLabel('Name of the company'), 'Fernhollow Cider Works');
    await me.choose(page.getByRole('combobox', { name: 'Country' }), 'Austria');
    await me.fill(page.getByLabel('Your name'), 'Oriel Fernhollow');
    await me.fill(page.getByLabel('What you sign in with'), 'oriel');
    await me.fill(page.getByLabel('Password'), 'lantern copper orchard');
    await me.fill(page.getByLabel('Code on the server’s console'), code);
    await me.press('Enter');
    await expect(page.getByRole('heading', { name: 'What is set up' })).toBeVisible();

    await expect(page.getByText('not live')).toHaveCount(0);

    // Places.
    await me.click(page.locator('li', { hasText: 'Warehouses and bins' }).getByRole('link', { name: 'By hand' }), 'places by hand');
    await me.fill(page.getByLabel('Codes'), 'A-01-01 .. A-10-04');
    await me.click(page.getByRole('button', { name: 'Add them' }), 'add the bins');
    await expect(page.getByText('40 bins were added.')).toBeVisible();

    // Six files: each is sent, tried and taken.
    await me.click(page.getByRole('navigation', { name: 'In the set-up' }).getByRole('link', { name: 'Files in and out' }), 'files in and out');
    for (const [words, file, rows] of [
      ['Units', 'units.csv', 50],
      ['Item groups', 'groups.csv', 20],
      ['Items', 'items.csv', 2000],
      ['Customers', 'customers.csv', 300],
      ['Bills of materials', 'boms.csv', 500],
      ['Opening stock', 'stock.csv', 400],
    ] as const) {
      await me.click(page.locator('.ant-radio-button-wrapper').getByText(words, { exact: true }), words);
      await me.send(file);
      await me.click(page.getByRole('button', { name: 'Try it: nothing is changed yet' }), `try ${file}`);
      await me.click(page.getByRole('button', { name: /^Take all/ }), `take ${file}`);
      await expect(page.getByText(/Taken: /)).toContainText(new RegExp(`${Math.floor(rows / 1000) || ''}.?${rows % 1000 || '000'} added`));
    }

    await expect(page.getByText('not live')).toHaveCount(0);

    // An order.
    await me.click(page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name: 'Selling' }), 'Selling');
    await expect(page.getByText('New order')).toBeVisible();
    await me.press('n');
    await me.fill(page.getByRole('combobox', { name: 'Customer' }), 'Orchard 12');
    await me.press('Enter');
    await me.fill(page.getByLabel('Wanted on'), '+9');
    await me.fill(page.getByLabel('Item of line 1'), 'I0004');
    await me.press('Enter');
    await expect(page.getByLabel('Quantity of line 1')).toBeFocused();
    await me.fill(page.getByLabel('Quantity of line 1'), '500');
    await me.press('Control+Enter');
    await expect(page.locator('t-order-panel t-state').first()).toHaveText(/confirmed/);

    // The plan says what to buy for it; that becomes an order, goes out, and comes in.
    await me.click(page.getByRole('navigation', { name: 'Rooms' }).getByRole('link', { name: 'Planning' }), 'Planning');
    await me.click(page.locator('.ag-row').filter({ hasText: 'I0004' }).first().locator('input[type=checkbox]'), 'the suggestion');
    await me.click(page.getByRole('button', { name: /^Release 1 chosen/ }), 'release it');
    await me.click(page.getByRole('button', { name: 'Make 1' }), 'make the order');
    await me.click(page.locator('t-note').filter({ hasText: 'Made:' }).getByRole('link'), 'the purchase order');
    await me.click(page.getByRole('button', { name: /^Approve/ }), 'approve');
    await me.click(page.getByRole('button', { name: /^Send to/ }), 'send');
    await me.click(page.getByRole('button', { name: 'All has arrived' }), 'all has arrived');
    await me.click(page.getByRole('button', { name: /^Receive / }), 'receive');
    await expect(page.locator('t-purchase-panel t-state').first()).toHaveText('received');

    process.stdout.write(`${me.did.length} interactions of a person: ${me.did.join(', ')}\n`);
    expect(me.did.length).toBeLessThan(MOST_INTERACTIONS);
  } finally {
    const ended = new Promise((done) => terrace.once('exit', done));
    terrace.kill('SIGTERM');
    await ended;
  }
});
