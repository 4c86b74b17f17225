// Planning 50,000 items in 2 warehouses, 6 levels, 250,000 lines of bills of materials and 300,000 events, half a year
// ahead: a full run from rows to rows against bare SQLite reading and writing as much, the engine alone, half the size,
// one changed order line, and the pegging of one order.
import { tmpdir } from 'node:os';
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { bundle } from '../lib/bundling.mjs';
import { root } from '../lib/prepare.mjs';
import { sessionOf, untilUp } from '../lib/up.mjs';
import { figure, sized } from './figures.mjs';
import { TODAY, median, share } from './serving.mjs';

// What is measured is bundled as what runs.
await bundle({ server: 'server/src/index.ts', core: 'core/src/index.ts', contract: 'contract/src/index.ts' }, 'dist/bench');
const { Commands, Work, grantsOfRole, hashPassword, openStore, openFile, planning, registerRooms, setup } =
  await import('../../dist/bench/server.js');
const { standardRoles } = await import('../../dist/bench/contract.js');
const { PlanKeeper } = await import('../../dist/bench/core.js');

const ITEMS = sized(50_000, 2000, 'BENCH_ITEMS');
const UNIT = 100_000;
const HORIZON = 180;
const NOW = `${TODAY}T09:00:00.000Z`;
const clock = () => Number(process.hrtime.bigint()) / 1e6;
const timed = (act) => {
  const begun = clock();
  const answer = act();
  return { took: clock() - begun, answer };
};
const day = (offset) => new Date(Date.parse(TODAY) + offset * 86_400_000).toISOString().slice(0, 10);
const days = Array.from({ length: HORIZON + 30 }, (_, offset) => day(offset - 5));
let heap = 0;
const noteHeap = () => (heap = Math.max(heap, process.memoryUsage().heapUsed));

/** Figures that look random and are the same every time. */
function figures(seed) {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

const MADE_LEVELS = 5;
const LINES = 8;

function fill(db, items) {
  const pick = figures(items);
  const perLevel = Math.floor(items / 8);
  const levelStart = (level) => level * perLevel;
  const made = perLevel * MADE_LEVELS;
  const run = (sql) => db.prepare(sql);
  db.transaction(() => {
    db.exec(`insert into calendar (code, workdays, holidays) values ('STD', '[1,2,3,4,5]', '[]');
      insert into unit (code, name, decimals) values ('each', 'each', 0);
      insert into item_group (code, name, inventory_account, cost_of_sales_account, revenue_account) values ('ALL', 'All', '2000', '5000', '4000');
      insert into warehouse (id, code, name, calendar) values (1, 'WORKS', 'Works', 'STD'), (2, 'DEPOT', 'Depot', 'STD');
      insert into bin (id, warehouse_id, code, dock) values (1, 1, 'A', 0), (2, 2, 'A', 0);
      insert into customer (id, code, name, address, email, payment_days, tax_rate) values (1, 'TARN', 'Tarn', '', '', 30, 0);
      insert into supplier (id, code, name, address, email, payment_days) values (1, 'A', 'Supplier A', '', '', 30), (2, 'B', 'Supplier B', '', '', 30)`);
    const item = run(
      "insert into item (id, code, description, kind, group_code, unit_code, sell_price) values (?, ?, ?, 'stocked', 'ALL', 'each', 1)",
    );
    const bom = run("insert into bom_line (item_id, position, component_id, quantity, scrap, offset_days) values (?, ?, ?, ?, '0', 0)");
    const rule = run(
      'insert into planning_rule (item_id, warehouse_id, source, from_id, lead_days, safety, minimum, multiple, slack_days, lot_sizing) values (?, ?, ?, ?, ?, ?, ?, ?, 2, ?)',
    );
    const term = run(
      'insert into supplier_term (item_id, supplier_id, supplier_item_code, price, lead_days, minimum, multiple, preferred) values (?, ?, ?, ?, ?, 0, 0, ?)',
    );
    const balance = run("insert into balance (item_id, warehouse_id, bin_id, lot, serial, state, quantity) values (?, ?, ?, '', '', 'available', ?)");
    const PERIOD = JSON.stringify({ kind: 'period', days: 20 });
    const FIXED = JSON.stringify({ kind: 'reorderPoint', point: '100', quantity: '2500' });
    const TO_DEPOT = JSON.stringify({ kind: 'period', days: 10 });
    for (let index = 0; index < items; index += 1) {
      const id = index + 1;
      const level = index < made ? Math.floor(index / perLevel) : MADE_LEVELS;
      item.run(id, `P${level}-${String(index).padStart(6, '0')}`, `Part ${index} of level ${level}`);
      if (level < MADE_LEVELS) {
        rule.run(id, 1, 'make', null, 2 + pick(4), pick(20) * UNIT, 0, 0, PERIOD);
        for (let line = 0; line < LINES; line += 1) {
          const deeper = pick(10) < 6 ? level + 1 : level + 1 + pick(MADE_LEVELS - level);
          const from = deeper >= MADE_LEVELS ? made : levelStart(deeper);
          const to = deeper >= MADE_LEVELS ? items : levelStart(deeper + 1);
          bom.run(id, line + 1, from + pick(to - from) + 1, pick(8) === 0 ? '2' : '1');
        }
      } else {
        rule.run(id, 1, 'buy', null, 5 + pick(20), 0, 0, 0, FIXED);
        for (let supplier = 1; supplier <= 1 + pick(2); supplier += 1)
          term.run(id, supplier, '', 1_000_000 + pick(9_000_000), 5 + pick(20), supplier === 1 ? 1 : 0);
      }
      rule.run(id, 2, 'transfer', 1, 2, pick(10) * UNIT, 0, 0, TO_DEPOT);
      balance.run(id, 1, 1, (20 + pick(2000)) * UNIT);
      balance.run(id, 2, 2, pick(60) * UNIT);
    }
    const events = items * 6;
    const sales = Math.floor(events * 0.6);
    const order = run(
      "insert into customer_order (id, number, customer_id, reference, warehouse_id, order_date, required_date, state, note, total) values (?, ?, 1, '', ?, ?, ?, 'confirmed', '', 0)",
    );
    const line = run(
      'insert into customer_order_line (order_id, position, item_id, quantity, price, discount, required_date, shipped, invoiced, cancelled) values (?, ?, ?, ?, 1, 0, ?, 0, 0, 0)',
    );
    for (let index = 0; index < sales; index += 1) {
      const id = Math.floor(index / 4) + 1;
      const wanted = days[pick(HORIZON)];
      if (index % 4 === 0) order.run(id, `CO-B${id}`, 1 + (id % 3 === 0 ? 1 : 0), TODAY, wanted);
      line.run(id, (index % 4) + 1, 1 + (pick(10) < 7 ? pick(perLevel) : pick(items)), (1 + pick(9)) * UNIT, wanted);
    }
    const purchase = run(
      "insert into purchase_order (id, number, supplier_id, warehouse_id, order_date, state, note) values (?, ?, 1, 1, ?, 'sent', '')",
    );
    const buys = run(
      'insert into purchase_order_line (order_id, position, item_id, quantity, price, due_date, received, cancelled) values (?, ?, ?, ?, 1, ?, 0, 0)',
    );
    for (let index = 0; index < events - sales; index += 1) {
      const id = Math.floor(index / 4) + 1;
      if (index % 4 === 0) purchase.run(id, `PO-B${id}`, TODAY);
      buys.run(id, (index % 4) + 1, 1 + (pick(10) < 8 ? made + pick(items - made) : pick(items)), (50 + pick(400)) * UNIT, days[pick(90)]);
    }
  })();
}

/** The rows that planning reads, by plain statements without joins. */
const INPUT = [
  'select id, code, kind, unit_code, description, group_code from item',
  'select item_id, component_id, quantity, scrap, offset_days, valid_from, valid_to from bom_line',
  'select * from planning_rule',
  'select item_id, warehouse_id, lot, state, quantity from balance',
  'select order_id, position, item_id, quantity, shipped, cancelled, required_date from customer_order_line',
  'select id, number, warehouse_id, state from customer_order',
  'select order_id, position, item_id, quantity, received, cancelled, due_date from purchase_order_line',
  'select id, number, warehouse_id, state from purchase_order',
  'select id, item_id, supplier_id, price, lead_days, minimum, multiple, preferred, valid_from, valid_to from supplier_term',
];
const RESULT = ['suggestion', 'exception', 'problem', 'called', 'promise'];

function bareRead(file) {
  const db = new Sqlite(file, { readonly: true });
  let rows = 0;
  const { took } = timed(() => {
    // As arrays: the cheapest way to have all of it in memory.
    for (const sql of INPUT) rows += db.prepare(sql).raw().all().length;
  });
  db.close();
  return { took, rows };
}

function bareWrite(folder, planFile) {
  const source = new Sqlite(planFile, { readonly: true });
  const bare = join(folder, 'bare');
  rmSync(bare, { recursive: true, force: true });
  const target = planning.openPlanFile(mkdtempSync(join(folder, 'bare-'))).sqlite;
  let took = 0;
  let rows = 0;
  for (const table of RESULT) {
    const kept = source.prepare(`select * from ${table}`).raw().all();
    if (kept.length === 0) continue;
    rows += kept.length;
    const insert = target.prepare(`insert into ${table} values (${kept[0].map(() => '?').join(', ')})`);
    took += timed(() =>
      target.transaction(() => {
        for (const row of kept) insert.run(row);
      })(),
    ).took;
    noteHeap();
  }
  source.close();
  target.close();
  return { took, rows };
}

const folder = mkdtempSync(join(tmpdir(), 'terrace-planning-'));
const migrations = join(root, 'server/migrations');

/** Somebody who may do what an operations manager may. */
function signUp(store) {
  registerRooms();
  const commands = new Commands(store, { today: () => TODAY, now: () => NOW }, () => undefined);
  commands.perform({ id: 0, name: 'the bench', grants: grantsOfRole('administrator') }, (work) => {
    setup.setUpRoles(work);
    const roleId = setup.roleCalled(work, standardRoles.manager.name);
    setup.addPerson(work, { login: 'maren', name: 'Maren', email: '', roles: [{ roleId, warehouses: null }] }, '');
  });
}

function company(items) {
  const data = join(folder, `of-${items}`);
  const store = openStore(data, migrations);
  store.sqlite.pragma('synchronous = OFF');
  store.sqlite.pragma('foreign_keys = OFF');
  fill(store.sqlite, items);
  signUp(store);
  store.sqlite.pragma('wal_checkpoint(TRUNCATE)');
  const reader = openFile(join(data, 'terrace.db'), { readonly: true });
  const file = planning.openPlanFile(data);
  const planner = new planning.Planner(reader, file, () => ({ today: TODAY, now: NOW }));
  return { data, store, reader, file, planner };
}

/** The engine alone: from the problem in memory to the plan in memory. */
function engineAlone(reader) {
  const problem = planning.gatherProblem(new Work(reader, { id: 0, name: '', grants: grantsOfRole('viewer') }, TODAY, NOW));
  globalThis.gc?.();
  const keeper = timed(() => new PlanKeeper(problem));
  noteHeap();
  const again = [0, 1, 2].map(() => timed(() => keeper.answer.live.runAll()).took);
  return { load: keeper.took, plan: median(again) };
}

function measure(items, deep) {
  const { data, store, reader, file, planner } = company(items);
  const rounds = [];
  for (let round = 0; round < 3; round += 1) {
    globalThis.gc?.();
    const read = bareRead(join(data, 'terrace.db'));
    globalThis.gc?.();
    const whole = timed(() => planner.planAllNow());
    noteHeap();
    globalThis.gc?.();
    const write = bareWrite(folder, join(data, 'plan.db'));
    rounds.push({ read, whole: whole.took, write });
  }
  const middle = (of) => median(rounds.map(of));
  const read = middle((each) => each.read.took);
  const write = middle((each) => each.write.took);
  const whole = middle((each) => each.whole);
  const [first] = rounds;
  console.log(`  ${items} items: ${first.read.rows} rows read, ${first.write.rows} rows written`);
  const size = deep ? '50,000' : '25,000';
  figure(`planning: full run of ${size} items, rows to rows`, whole, { unit: 'ms', digits: 0 });
  figure(`planning: bare SQLite reading and writing as much, of ${size}`, read + write, { unit: 'ms', digits: 0 });
  figure(`planning: full run of ${size}, ratio to bare SQLite`, whole / (read + write), { most: 2.5, long: true });
  if (deep) {
    const engine = engineAlone(reader);
    console.log(`  the engine alone: ${engine.plan.toFixed(0)} ms; reading the problem's texts ${engine.load.toFixed(0)} ms`);
    figure('planning: the engine alone, ratio to reading the rows', engine.plan / read, { most: 1.5 });
    netChange(store, planner, items, whole);
    pegging(planner, store, items);
  }
  reader.sqlite.close();
  store.sqlite.close();
  file.sqlite.close();
  return { whole, read };
}

/** One order line changes; only what depends on it is planned anew, and written. */
function netChange(store, planner, items, whole) {
  const pick = figures(7);
  const took = [];
  let nodes = 0;
  const lines = Math.floor(items * 6 * 0.6);
  for (let turn = 0; turn < 200; turn += 1) {
    const id = 1 + pick(lines);
    store.sqlite.transaction(() => {
      const { order_id: order } = store.sqlite.prepare('select order_id from customer_order_line where id = ?').get(id);
      store.sqlite.prepare('update customer_order_line set quantity = quantity + ? where id = ?').run((1 + pick(30)) * UNIT, id);
      store.sqlite
        .prepare("insert into history (at, user_id, kind, record_id, what, changes) values (?, 1, 'customerOrder', ?, 'changed it', '[]')")
        .run(NOW, order);
    })();
    const { took: each, answer } = timed(() => planner.catchUp());
    took.push(each);
    nodes += answer?.planned ?? 0;
  }
  console.log(
    `  net change after one order line: 95 of 100 within ${share(took, 0.95).toFixed(1)} ms, ${(nodes / took.length).toFixed(0)} of ${items * 2} planned anew; 1/200 of the full run is ${(whole / 200).toFixed(1)} ms`,
  );
  figure('planning: net change after one order line, median', median(took), { unit: 'ms', most: 2 });
}

function pegging(planner, store, items) {
  planner.keepPromises();
  const pick = figures(9);
  const took = [];
  let supplies = 0;
  const count = (pegs) => pegs.reduce((sum, peg) => sum + 1 + count(peg.below), 0);
  for (let turn = 0; turn < 200; turn += 1) {
    const { number } = store.sqlite.prepare('select number from customer_order where id = ?').get(1 + pick(Math.floor(items * 0.8)));
    const { took: each, answer } = timed(() => planner.ask({ about: 'below', demands: [1, 2, 3, 4].map((line) => `${number}/${line}`) }));
    took.push(each);
    supplies += answer.pegs.reduce((sum, list) => sum + count(list), 0);
  }
  console.log(`  pegging of one order: 95 of 100 within ${share(took, 0.95).toFixed(1)} ms, ${(supplies / took.length).toFixed(0)} supplies each`);
  figure('planning: pegging of one order through all levels, median', median(took), { unit: 'ms', digits: 1, most: 20 });
}

/** A process whose main thread says for how long it was held up at most since it was last asked. */
function heldProcess(name, args, env = {}) {
  const note = join(folder, `held-${name}`);
  const child = spawn(process.execPath, ['--import', join(root, 'scripts/bench/held.mjs'), ...args], {
    env: { ...process.env, ...env, TERRACE_HELD: note },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const read = async () => {
    rmSync(note, { force: true });
    child.kill('SIGUSR2');
    for (let tries = 0; !existsSync(note) || readFileSync(note, 'utf8') === ''; tries += 1) {
      if (tries > 500) throw new Error(`the ${name} does not say how long it was held up`);
      await rest(20);
    }
    return Number(readFileSync(note, 'utf8'));
  };
  return { child, read };
}

const rest = (milliseconds) => new Promise((done) => setTimeout(done, milliseconds));

/**
 * The server on the same company, its planner in a thread: how long the main thread is held up at most while everything
 * is planned, while orders change, while a copy of the plan is taken, while somebody looks. Beside each stands how long a
 * process that does nothing at all is held up at the same time: so much of it is waiting for a core.
 */
async function mainThread(items) {
  const data = join(folder, `of-${items}`);
  const store = openStore(data, migrations);
  store.sqlite.prepare('update user set password_hash = ? where id = 1').run(await hashPassword('bench'));
  const port = 4398;
  const base = `http://127.0.0.1:${port}`;
  const server = heldProcess('server', [join(root, 'dist/terrace.js'), 'serve'], {
    TERRACE_DATA: data,
    TERRACE_TODAY: TODAY,
    TERRACE_PORT: String(port),
    TERRACE_LOG: 'error',
  });
  const idle = heldProcess('idle', ['--eval', 'setInterval(() => undefined, 60_000)']);
  try {
    await untilUp(base, server.child);
    let cookie = '';
    const call = async (method, path, body) => {
      const headers = { cookie, 'content-type': 'application/json', 'idempotency-key': `bench-${Math.random()}`.replace('.', '') };
      const answer = await fetch(`${base}/api${path}`, { method, headers, ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
      const bytes = (await answer.arrayBuffer()).byteLength;
      if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
      return { bytes, cookie: sessionOf(answer) };
    };
    const held = async (act) => {
      await Promise.all([server.read(), idle.read()]);
      const begun = clock();
      const answer = await act();
      const took = clock() - begun;
      const [ours, theirs] = await Promise.all([server.read(), idle.read()]);
      return { took, answer, most: `${ours.toFixed(0)} ms (idle ${theirs.toFixed(0)})`, ours };
    };
    ({ cookie } = await call('POST', '/session', { login: 'maren', password: 'bench' }));
    await call('POST', '/planning/plan');
    await rest(2000);
    const quiet = await held(() => rest(2000));
    const whole = await held(() => call('POST', '/planning/plan'));
    await rest(2000);
    const state = await held(() => call('GET', '/planning/plan'));
    const list = await held(() => call('GET', '/planning/suggestions'));
    const changes = await held(async () => {
      const pick = figures(13);
      for (let turn = 0; turn < 30; turn += 1) {
        const line = { itemId: 1 + pick(Math.floor(items / 8)), quantity: String(1 + pick(30)) };
        await call('POST', '/selling/orders', { customerId: 1, warehouseId: 1, requiredDate: days[40 + pick(90)], lines: [line], confirm: true });
        await rest(20);
      }
    });
    await rest(2000);
    const copy = await held(() => call('GET', '/planning/copy'));
    figure('planning: main thread held up while everything is planned, at most', whole.ours, { unit: 'ms', digits: 0, most: 20, long: true });
    console.log('  main thread of the server, held up at most, and a process that does nothing meanwhile:');
    console.log(
      `    quiet ${quiet.most}; planning everything (${(whole.took / 1000).toFixed(1)} s) ${whole.most}; 30 orders entered and planned ${changes.most}`,
    );
    console.log(
      `    how the plan stands ${state.most}; first page of suggestions ${list.most}; a copy of ${(copy.answer.bytes / 2 ** 20).toFixed(0)} MiB (${(copy.took / 1000).toFixed(1)} s) ${copy.most}`,
    );
  } finally {
    idle.child.kill('SIGKILL');
    const ended = new Promise((done) => server.child.once('exit', done));
    server.child.kill('SIGTERM');
    await ended;
    store.sqlite.close();
  }
}

/** Items of 36 months, by the best of nine methods, in a thread as the server does it; BENCH_FORECASTS=10000 takes some minutes. */
async function forecasting() {
  const { Piscina } = createRequire(join(root, 'server/package.json'))('piscina');
  const pool = new Piscina({ filename: join(root, 'dist/forecast-worker.js'), maxThreads: 1 });
  const pick = figures(11);
  const count = sized(1000, 50, 'BENCH_FORECASTS');
  const TOGETHER = 50;
  let longest = 0;
  let last = clock();
  const beat = setInterval(() => {
    longest = Math.max(longest, clock() - last - 5);
    last = clock();
  }, 5);
  const begun = clock();
  for (let done = 0; done < count; done += TOGETHER) {
    const tasks = Array.from({ length: TOGETHER }, (_, item) => ({
      history: Array.from({ length: 36 }, (__, month) => Math.round(60 + 30 * Math.sin((month + item) / 1.9) + month + pick(25))),
      season: 12,
      periods: 12,
      method: 'best',
      leaveOutliers: true,
    }));
    await pool.run(tasks);
  }
  clearInterval(beat);
  const took = clock() - begun;
  await pool.destroy();
  console.log(`  forecasting ${count} items: the thread that asks was held up for ${longest.toFixed(0)} ms at most`);
  figure('planning: forecasting an item of 36 months by the best of nine methods', took / count, { unit: 'ms' });
}

try {
  const half = measure(Math.floor(ITEMS / 2), false);
  const all = measure(ITEMS, true);
  figure('planning: twice the size', all.whole / half.whole, { unit: 'times', most: 2.1 });
  await mainThread(ITEMS);
  await forecasting();
  figure('planning: heap at most', heap / 2 ** 20, { unit: 'MiB', digits: 0, most: 1024 });
} finally {
  rmSync(folder, { recursive: true, force: true });
}
