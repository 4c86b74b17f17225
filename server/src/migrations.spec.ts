/** A database of the first release opens in this one with everything that was in it. */
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import Sqlite from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { afterAll, describe, expect, it } from 'vitest';
import { listQuery } from '@terrace/contract';
import { payment, settlement } from './accounts/invoice-schema';
import { listInvoices } from './accounts/invoices';
import { proveAccounts } from './accounts/proof';
import { checkStore } from './keeping/check';
import { openStore } from './platform/database';
import { closeFile } from './platform/database-file';
import { NOBODY, Work } from './platform/work';
import { listOrders } from './selling/order-list';
import { migrationsFolder } from './testing/company';

const FIRST_RELEASE = 2;
const folder = mkdtempSync(join(tmpdir(), 'terrace-migration-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The migrations of a release: the first ones of all. */
function migrationsOf(count: number): string {
  const target = join(folder, `migrations-${count}`);
  cpSync(migrationsFolder, target, { recursive: true });
  const journal = join(target, 'meta/_journal.json');
  const { entries, ...rest } = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] };
  writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, count) }));
  return target;
}

describe('a database of the first release', () => {
  it('opens with its items, terms and orders, which are found and priced', () => {
    const old = new Sqlite(join(folder, 'terrace.db'));
    migrate(drizzle(old), { migrationsFolder: migrationsOf(FIRST_RELEASE) });
    old.exec(`
      insert into unit (code, name, decimals) values ('each', 'each', 0);
      insert into calendar (code, workdays, holidays) values ('STD', '[1,2,3,4,5]', '[]');
      insert into warehouse (id, code, name, calendar) values (1, 'WORKS', 'Works', 'STD');
      insert into item_group (code, name, parent, inventory_account, cost_of_sales_account, revenue_account) values ('ALL', 'All', null, '1', '2', '3');
      insert into item (id, code, description, kind, group_code, unit_code, sell_price) values (1, 'SMOKER', 'Smoker with guard', 'stocked', 'ALL', 'each', 36000000);
      insert into item_barcode (barcode, item_id) values ('2000000000017', 1);
      insert into supplier (id, code, name, address, email, payment_days) values (1, 'METAL', 'Ironbeck', '', '', 30);
      insert into supplier_term (item_id, supplier_id, supplier_item_code, price, lead_days, minimum, multiple, preferred) values (1, 1, 'IB-1', 17800000, 4, 0, 0, 1);
      insert into customer (id, code, name, address, email, payment_days, tax_rate) values (1, 'HOLLIN', 'Hollin', '', '', 14, 2000);
      insert into customer_order (id, number, customer_id, reference, warehouse_id, order_date, required_date, state, open, note, total) values (1, 'CO-1001', 1, '', 1, '2027-01-02', '2027-01-09', 'confirmed', 1, '', 4320);
      insert into customer_order_line (order_id, position, item_id, quantity, price, discount, required_date, shipped, invoiced, cancelled) values (1, 1, 1, 100000, 36000000, 0, '2027-01-09', 0, 0, 0);
    `);
    old.close();

    const { sqlite } = openStore(folder, migrationsFolder);
    const one = (sql: string): unknown => sqlite.prepare(sql).get();
    expect(one("select rowid from item_words where item_words match 'smok*'")).toEqual({ rowid: 1 });
    expect(one('select uses, last from item_use where item_id = 1')).toEqual({ uses: 1, last: '2027-01-02' });
    expect(one('select price, currency, valid_from, version from supplier_term')).toEqual({
      price: 17800000,
      currency: 'EUR',
      valid_from: '',
      version: 1,
    });
    expect(one('select price, price_steps, discount_reason from customer_order_line')).toEqual({
      price: 36000000,
      price_steps: '[]',
      discount_reason: '',
    });
    expect(one('select follows, discount_ceiling from item')).toEqual({ follows: '[]', discount_ceiling: null });
    expect(one('pragma foreign_key_check')).toBeUndefined();
    sqlite.close();
  });
});

describe('a data folder of the release before', () => {
  it('opens as it is, every check holds, and its lists answer', () => {
    const data = join(folder, 'before');
    mkdirSync(data);
    writeFileSync(join(data, 'terrace.db'), gunzipSync(readFileSync(new URL('./testing/company-before.db.gz', import.meta.url))));
    const store = openStore(data, migrationsFolder);
    const lines = checkStore(store, '2027-03-01');
    expect(lines.length).toBeGreaterThan(15);
    expect(lines.filter((line) => !line.holds)).toEqual([]);
    const work = new Work(store, NOBODY, '2027-03-01', '2027-03-01T09:00:00.000Z');
    const page = listQuery.parse({ limit: '5' });
    expect(listOrders(work, page)).toMatchObject({ total: 103, rows: [{ number: 'CO-1103' }, {}, {}, {}, {}] });
    expect(listInvoices(work, page).rows).toHaveLength(5);
    // What was paid closes the invoices that it was paid for.
    const payments = store.db.select().from(payment).all();
    const settled = store.db.select({ paymentId: settlement.paymentId, amount: settlement.amount }).from(settlement).all();
    expect(settled).toEqual(payments.map(({ id, amount }) => ({ paymentId: id, amount })));
    expect(payments.length).toBeGreaterThan(0);
    expect(proveAccounts(work).checks.filter((check) => !check.holds)).toEqual([]);
    closeFile(store);
  });
});
