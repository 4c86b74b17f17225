// Order confirmations over HTTP with 20 clients at once, against bare SQLite transactions that write the same number of
// rows; the first page of an order book of 100,000 orders against its bare SQL; the server's heap after all of it.
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { figure, sized } from './figures.mjs';
import { plainClient } from './plain-client.mjs';
import { TODAY, median, serving } from './serving.mjs';

const CLIENTS = 20;
const CONFIRMATIONS = sized(3000, 240);
const ROUNDS = 6;
const ORDERS = sized(100_000, 20_000, 'BENCH_ORDERS');
const PAGES = sized(200, 30);
// Both sides are measured as they are after a while, not in their first second.
const WARMING = sized(1000, 120);

// Runs the same work with all clients at once; gives the seconds that it took.
async function together(count, act) {
  let next = 0;
  const begun = process.hrtime.bigint();
  await Promise.all(
    Array.from({ length: CLIENTS }, async (_, client) => {
      for (let number = next++; number < count; number = next++) await act(number, client);
    }),
  );
  return Number(process.hrtime.bigint() - begun) / 1e9;
}

const counted = ['customer_order', 'customer_order_line', 'reservation', 'history', 'trail_link', 'idempotency', 'notice'];
const server = await serving(4392, CLIENTS);
const { call, folder } = server;
try {
  const db = new Sqlite(server.database);
  const item = (code) => db.prepare('select id from item where code = ?').pluck().get(code);
  const [one, two, three] = [item('SCREW'), item('NAIL'), item('WIRE')];

  // Something to reserve, so that confirming does all that it does.
  await call(
    'POST',
    '/stores/adjustments',
    { warehouseId: 1, reason: 'FOUND', lines: [one, two, three].map((itemId) => ({ itemId, binId: 1, change: '900000' })) },
    'bench-stock-key',
  );
  const drafts = [];
  await together(CONFIRMATIONS + WARMING, async (number) => {
    const lines = [one, two, three].map((itemId) => ({ itemId, quantity: '1' }));
    drafts[number] = (
      await call(
        'POST',
        '/selling/orders',
        { customerId: 1 + (number % 10), warehouseId: 1, requiredDate: '2027-03-12', lines },
        `bench-draft-${number}`,
      )
    ).json;
  });
  const clients = await Promise.all(Array.from({ length: CLIENTS }, () => plainClient(server.port, server.cookie())));
  const confirm = async (number, client) => {
    const { status, text } = await clients[client].post(`/selling/orders/${drafts[number].id}/confirm`, { version: 1 }, `bench-confirm-${number}`);
    if (status !== 200) throw new Error(`confirming ${drafts[number].number}: ${status} ${text.slice(0, 300)}`);
  };
  await together(WARMING, (number, client) => confirm(CONFIRMATIONS + number, client));
  // The same rows into the same tables with the same indexes, on a copy of the database: nothing is read or decided.
  await db.backup(join(folder, 'bare.db'));
  const bare = new Sqlite(join(folder, 'bare.db'));
  bare.pragma('journal_mode = WAL');
  bare.pragma('synchronous = FULL');
  bare.exec("delete from reservation where document_number like 'CO-%'");
  const at = '2027-03-01T09:00:00.000Z';
  const orderState = bare.prepare("update customer_order set state = 'confirmed', version = version + 1 where id = ?");
  const orderPromise = bare.prepare('update customer_order set promise_date = ? where id = ?');
  const linePromise = bare.prepare('update customer_order_line set promise_date = ? where id = ?');
  const reserve = bare.prepare(
    "insert into reservation (item_id, warehouse_id, holder_kind, holder_id, document_id, document_number, quantity) values (?, 1, 'customerOrder', ?, ?, ?, 100000)",
  );
  const note = bare.prepare("insert into history (at, user_id, kind, record_id, what, changes) values (?, 1, 'customerOrder', ?, ?, '[]')");
  const answer = bare.prepare('insert into idempotency (user_id, key, fingerprint, answer, at) values (1, ?, ?, ?, ?)');
  const text = JSON.stringify(drafts[0]);
  const transaction = bare.transaction((number) => {
    const { id, number: code, lines } = drafts[number];
    orderState.run(id);
    for (const line of lines) {
      reserve.run(line.itemId, line.id, id, code);
      linePromise.run('2027-03-12', line.id);
    }
    orderPromise.run('2027-03-12', id);
    note.run(at, id, `confirmed ${code}`);
    answer.run(`bare-${number}`, 'a fingerprint as long as the real one is', text, at);
  });
  for (let number = CONFIRMATIONS; number < CONFIRMATIONS + WARMING; number += 1) transaction.immediate(number);
  // Round by round in turn, so that both meet the same moods of the disk.
  const count = () => counted.map((table) => db.prepare(`select count(*) from ${table}`).pluck().get()).reduce((sum, rows) => sum + rows, 0);
  const chunk = CONFIRMATIONS / ROUNDS;
  const ours = [];
  const theirs = [];
  const before = count();
  for (let round = 0; round < ROUNDS; round += 1) {
    ours.push(chunk / (await together(chunk, (number, client) => confirm(round * chunk + number, client))));
    const begun = process.hrtime.bigint();
    for (let number = round * chunk; number < (round + 1) * chunk; number += 1) transaction.immediate(number);
    theirs.push(chunk / (Number(process.hrtime.bigint() - begun) / 1e9));
  }
  for (const client of clients) client.close();
  // Besides the rows inserted, a confirmation updates the order twice and each of its three lines once.
  const writes = Math.round((count() - before) / CONFIRMATIONS + 2 + 3);
  const ratios = ours.map((rate, round) => rate / theirs[round]);
  console.log(`Confirming orders of three lines over HTTP, ${CLIENTS} clients at once, ${writes} row writes each`);
  console.log(`  ${ROUNDS} rounds in turn: ${ratios.map((ratio) => ratio.toFixed(2)).join(', ')}`);
  figure('orders: confirmations', median(ours), { unit: 'a second', digits: 0 });
  figure('orders: bare SQLite, transactions of as many row writes', median(theirs), { unit: 'a second', digits: 0 });
  figure('orders: confirmations, ratio to bare SQLite', median(ratios), { least: 0.33 });

  // The order book: rows straight into the database, since only reading is measured.
  db.pragma('busy_timeout = 20000');
  const order = db.prepare(
    "insert into customer_order (number, customer_id, reference, warehouse_id, order_date, required_date, promise_date, state, open, note, total) values (?, ?, ?, 1, ?, ?, ?, 'confirmed', 1, '', ?)",
  );
  const line = db.prepare(
    'insert into customer_order_line (order_id, position, item_id, quantity, price, discount, required_date, promise_date, shipped, invoiced, cancelled) values (?, ?, ?, 100000, 1000000, 0, ?, ?, 0, 0, 0)',
  );
  db.transaction(() => {
    for (let number = 0; number < ORDERS; number += 1) {
      const date = new Date(Date.UTC(2027, 2, 1) + (number % 400) * 86_400_000).toISOString().slice(0, 10);
      const { lastInsertRowid } = order.run(`BENCH-${number}`, 1 + (number % 10), `ref ${number}`, TODAY, date, date, 300);
      for (let position = 1; position <= 3; position += 1) line.run(lastInsertRowid, position, [one, two, three][position - 1], date, date);
    }
  })();
  db.exec('analyze');
  server.refresh();
  const query = `/selling/orders?offset=0&limit=100&filter=${encodeURIComponent(JSON.stringify({ open: { op: 'equals', value: 'true' } }))}`;
  const page = async () => {
    const start = process.hrtime.bigint();
    const { json } = await call('GET', query);
    return { ms: Number(process.hrtime.bigint() - start) / 1e6, total: json.total };
  };
  const open = 'max(0, l.quantity - l.shipped - l.cancelled)';
  const held = `case when i.kind = 'stocked' then coalesce(r.quantity, 0) else ${open} end`;
  const rows =
    db.prepare(`select o.id, o.number, c.name, o.reference, o.state, o.order_date, o.required_date, o.promise_date, w.code, o.total, o.open,
      (select count(*) from customer_order_line l where l.order_id = o.id) as lines,
      (select case when sum(${held} < ${open}) = 0 then 'all' when sum(${held}) > 0 then 'part' else 'nothing' end from customer_order_line l join item i on i.id = l.item_id
        left join reservation r on r.holder_kind = 'customerOrder' and r.holder_id = l.id where l.order_id = o.id) as ready,
      o.required_date < ? or coalesce(o.promise_date, '9999') > o.required_date as late
    from customer_order o join customer c on c.id = o.customer_id join warehouse w on w.id = o.warehouse_id where o.open = 1 order by o.required_date desc, o.id desc limit 100`);
  const countOpen = db.prepare('select count(*) from customer_order o where o.open = 1');
  const bareRead = () => {
    const start = process.hrtime.bigint();
    rows.all(TODAY);
    countOpen.get();
    return Number(process.hrtime.bigint() - start) / 1e6;
  };
  for (let warm = 0; warm < 30; warm += 1) {
    await page();
    bareRead();
  }
  const over = [];
  const under = [];
  let total = 0;
  for (let number = 0; number < PAGES; number += 1) {
    const answer = await page();
    total = answer.total;
    over.push(answer.ms);
    under.push(bareRead());
  }
  console.log(
    `\nFirst page (100 rows) of an order book of ${total.toLocaleString('en-GB')} open orders, median of ${PAGES}; bare SQL reads the same columns and the count`,
  );
  figure('orders: first page over HTTP', median(over), { unit: 'ms' });
  figure('orders: first page, bare SQL', median(under), { unit: 'ms' });
  figure('orders: first page, ratio to bare SQL', median(over) / median(under), { most: 1.5 });
  db.close();
  bare.close();

  const { json: health } = await call('GET', '/health');
  figure('orders: heap of the server after the run', health.heapUsed / 2 ** 20, { unit: 'MiB', digits: 0 });
} finally {
  await server.stop();
}
