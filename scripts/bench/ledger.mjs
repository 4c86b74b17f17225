// A ledger of 1,000,000 moves over 50,000 items: the balance of one item, the value of stock on a past day and the
// check of everything, each against its bare SQL; and whether time grows with the moves.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { root } from '../lib/prepare.mjs';
import { figure, sized } from './figures.mjs';
import { TODAY, median, serving, share } from './serving.mjs';

const MOVES = sized(1_000_000, 20_000, 'BENCH_MOVES');
const ITEMS = Math.max(1000, Math.round(MOVES / 20));
const READS = sized(400, 60);
const UNIT = 100_000;
const FIRST_DAY = Date.UTC(2025, 2, 1);
const DAYS = 720;

const clock = () => Number(process.hrtime.bigint()) / 1e6;
const timed = (act) => {
  const begun = clock();
  act();
  return clock() - begun;
};

const server = await serving(4396);
const { call, database } = server;
try {
  const db = new Sqlite(database);
  db.pragma('busy_timeout = 20000');
  db.pragma('synchronous = OFF');
  const dateOf = (day) => new Date(FIRST_DAY + day * 86_400_000).toISOString().slice(0, 10);
  const bins = db.prepare('select n.id, n.warehouse_id as warehouse from bin n where n.dock = 0 order by n.id').all();
  const firstItem = db.prepare('select max(id) + 1 from item').pluck().get();
  db.transaction(() => {
    const item = db.prepare(
      "insert into item (id, code, description, kind, group_code, unit_code, sell_price) values (?, ?, ?, 'stocked', 'GOODS', 'each', 1000000)",
    );
    for (let number = 0; number < ITEMS; number += 1) item.run(firstItem + number, `LEDGER-${number}`, `Ledger item ${number}`);
  })();

  const move = db.prepare(
    `insert into stock_move (at, date, item_id, quantity, value, from_kind, from_id, from_bin_id, from_state, to_kind, to_id, to_bin_id, to_state, document_kind, document_id, document_number, user_id)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'adjustment', 1, 'ADJ-1001', 1)`,
  );
  const worth = db.prepare('insert into worth_change (date, item_id, warehouse_id, quantity, value) values (?, ?, ?, ?, ?)');
  const balances = new Map();
  let made = 0;
  // Every item gets some and gives some, in turn, over two years; a third of what came is still there.
  const fill = (count) => {
    db.transaction(() => {
      let booked = 0;
      for (const end = made + count; made < end; made += 1) {
        const item = firstItem + (made % ITEMS);
        const { id: bin, warehouse } = bins[(made + Math.floor(made / ITEMS)) % bins.length];
        const day = dateOf(Math.floor((made / MOVES) * DAYS));
        const key = `${item} ${warehouse} ${bin}`;
        const there = balances.get(key) ?? 0;
        const out = there > 2 && made % 3 !== 0;
        const pieces = out ? Math.min(there, 1 + (made % 3)) : 2 + (made % 5);
        const value = pieces * 100;
        balances.set(key, there + (out ? -pieces : pieces));
        booked += out ? -value : value;
        const at = `${day}T10:00:00.000Z`;
        if (out) move.run(at, day, item, pieces * UNIT, value, 'stock', warehouse, bin, 'available', 'adjustment', 1, 0, '');
        else move.run(at, day, item, pieces * UNIT, value, 'adjustment', 1, 0, '', 'stock', warehouse, bin, 'available');
        worth.run(day, item, warehouse, out ? -pieces * UNIT : pieces * UNIT, out ? -value : value);
      }
      const entry = db
        .prepare(
          "insert into journal_entry (at, date, event, document_kind, document_id, document_number, user_id) values (?, ?, 'adjustment', 'adjustment', 1, 'ADJ-1001', 1)",
        )
        .run(`${TODAY}T10:00:00.000Z`, TODAY).lastInsertRowid;
      const line = db.prepare('insert into journal_line (entry_id, account, debit, credit) values (?, ?, ?, ?)');
      line.run(entry, '1430', booked, 0);
      line.run(entry, '3000', 0, booked);
      db.prepare('delete from balance where item_id >= ?').run(firstItem);
      db.prepare('delete from cost_pool where item_id >= ?').run(firstItem);
      const balance = db.prepare(
        "insert into balance (item_id, warehouse_id, bin_id, lot, serial, state, quantity) values (?, ?, ?, '', '', 'available', ?)",
      );
      const pools = new Map();
      for (const [key, pieces] of balances) {
        if (pieces === 0) continue;
        const [item, warehouse, bin] = key.split(' ').map(Number);
        balance.run(item, warehouse, bin, pieces * UNIT);
        const pool = `${item} ${warehouse}`;
        pools.set(pool, (pools.get(pool) ?? 0) + pieces);
      }
      const cost = db.prepare('insert into cost_pool (item_id, warehouse_id, quantity, value) values (?, ?, ?, ?)');
      for (const [key, pieces] of pools) cost.run(...key.split(' ').map(Number), pieces * UNIT, pieces * 100);
    })();
  };

  const places = db.prepare(
    `select w.code, n.code as bin, b.lot, b.state, b.quantity from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = ?`,
  );
  const worthThen = db.prepare(
    'select i.group_code, sum(c.value) from (select item_id, sum(value) as value from worth_change where date <= ? group by item_id) c join item i on i.id = c.item_id group by 1',
  );
  const rebuild = db.prepare(
    `select count(*) from (select item, place, bin, sum(q) from (
       select item_id as item, to_id as place, to_bin_id as bin, quantity as q from stock_move where to_kind = 'stock'
       union all select item_id, from_id, from_bin_id, -quantity from stock_move where from_kind = 'stock') group by 1, 2, 3 having sum(q) <> 0)`,
  );
  const past = dateOf(Math.round(DAYS * 0.6));

  const measure = async () => {
    db.exec('analyze');
    server.refresh();
    const one = [];
    const floor = [];
    const oneBare = [];
    for (let warm = 0; warm < 100; warm += 1) await call('GET', `/stores/items/${firstItem + ((warm * 6151) % ITEMS)}/places`);
    for (let read = 0; read < READS; read += 1) {
      const item = firstItem + ((read * 7919) % ITEMS);
      const begun = clock();
      await call('GET', `/stores/items/${item}/places`);
      one.push(clock() - begun);
      const empty = clock();
      await call('GET', '/health');
      floor.push(clock() - empty);
      oneBare.push(timed(() => places.all(item)));
    }
    const value = [];
    const valueBare = [];
    for (let read = 0; read < 7; read += 1) {
      const begun = clock();
      await call('GET', `/stores/worth?by=group&date=${past}&limit=100`);
      value.push(clock() - begun);
      valueBare.push(timed(() => worthThen.all(past)));
    }
    const explorer = [];
    for (let read = 0; read < 30; read += 1) {
      const begun = clock();
      await call('GET', `/stores/stock?offset=${((read * 977) % ITEMS) - (((read * 977) % ITEMS) % 100)}&limit=100`);
      explorer.push(clock() - begun);
    }
    const adjusting = [];
    for (let write = 0; write < 60; write += 1) {
      const begun = clock();
      const lines = [{ itemId: firstItem + ((write * 104_729) % ITEMS), binId: bins[0].id, change: '1', unitCost: '1.00' }];
      await call('POST', '/stores/adjustments', { warehouseId: bins[0].warehouse, reason: 'FOUND', lines }, `ledger-${made}-${write}`);
      adjusting.push(clock() - begun);
    }
    const env = { ...process.env, TERRACE_DATA: join(server.folder, 'data'), TERRACE_TODAY: TODAY };
    const begun = clock();
    const check = spawnSync(process.execPath, [join(root, 'dist/terrace.js'), 'check'], { env, encoding: 'utf8' });
    const checking = clock() - begun;
    if (check.status !== 0) throw new Error(`the check fails:\n${check.stdout}${check.stderr}`);
    const checkBare = timed(() => rebuild.get());
    return { one, floor, oneBare, value, valueBare, explorer, adjusting, checking, checkBare };
  };

  fill(MOVES / 2);
  const half = await measure();
  // What the adjustments of the measuring brought counts, too.
  for (const row of db
    .prepare('select item_id as item, warehouse_id as warehouse, bin_id as bin, quantity from balance where item_id >= ?')
    .all(firstItem))
    balances.set(`${row.item} ${row.warehouse} ${row.bin}`, row.quantity / UNIT);
  fill(MOVES / 2);
  const full = await measure();
  const ms = (values) => median(values).toFixed(2);
  const ratio = (ours, theirs) => (median(ours) / median(theirs)).toFixed(2);
  console.log(`\nA ledger of ${MOVES.toLocaleString('en-GB')} moves over ${ITEMS.toLocaleString('en-GB')} items`);
  console.log(`  99 of 100 balances within ${share(full.one, 0.99).toFixed(2)} ms; the explorer has ${(ITEMS * 2).toLocaleString('en-GB')} rows`);
  figure('ledger: balance of one item over HTTP', Number(ms(full.one)), { unit: 'ms', most: 2 });
  figure('ledger: an answer without database over HTTP', Number(ms(full.floor)), { unit: 'ms' });
  figure('ledger: balance of one item, bare SQL', Number(ms(full.oneBare)), { unit: 'ms', digits: 3 });
  figure('ledger: value of stock on a past day over HTTP', Number(ms(full.value)), { unit: 'ms', most: 1000 });
  figure('ledger: value of stock on a past day, ratio to bare SQL', Number(ratio(full.value, full.valueBare)), {});
  figure('ledger: terrace check', full.checking / 1000, { unit: 's', digits: 1, most: 60 });
  figure('ledger: terrace check, ratio to rebuilding balances in bare SQL', full.checking / full.checkBare, { most: 8, long: true });
  figure('ledger: explorer, any 100 rows over HTTP', Number(ms(full.explorer)), { unit: 'ms' });
  figure('ledger: one adjustment over HTTP', Number(ms(full.adjusting)), { unit: 'ms' });
  // Linear is 2 for what reads all of them, 1 for what reads one item.
  figure('ledger: twice the moves, balance of one item', Number(ratio(full.one, half.one)), { unit: 'times' });
  figure('ledger: twice the moves, value on a past day', Number(ratio(full.value, half.value)), { unit: 'times', most: 2.1 });
  figure('ledger: twice the moves, terrace check', full.checking / half.checking, { unit: 'times', most: 2.1 });
  figure('ledger: twice the moves, one adjustment', Number(ratio(full.adjusting, half.adjusting)), { unit: 'times' });
  db.close();
} finally {
  await server.stop();
}
