import { mkdtempSync } from 'node:fs'; import { join } from 'node:path'; import Sqlite from 'better-sqlite3';
import { bundle } from './lib/bundling.mjs'; import { copyDemo } from './lib/demo.mjs';
await bundle({ server: 'server/src/index.ts', core: 'core/src/index.ts', contract: 'contract/src/index.ts' }, 'dist/bench');
const { Work, grantsOfRole, openStore, openFile, planning, registerRooms, selling } = await import('../dist/bench/server.js');
const { listQuery } = await import('../dist/bench/contract.js');
const folder = mkdtempSync('/tmp/fp-'); copyDemo(folder);
const store = openStore(folder, 'server/migrations'); store.sqlite.pragma('analysis_limit=1000'); store.sqlite.pragma('optimize=0x10002');
const db = new Sqlite(join(folder, 'terrace.db'));
const item = (code) => db.prepare('select id from item where code = ?').pluck().get(code);
const [one, two, three] = [item('SCREW'), item('NAIL'), item('WIRE')];
const order = db.prepare("insert into customer_order (number, customer_id, reference, warehouse_id, order_date, required_date, promise_date, state, open, note, total) values (?, ?, ?, 1, ?, ?, ?, 'confirmed', 1, '', ?)");
const line = db.prepare('insert into customer_order_line (order_id, position, item_id, quantity, price, discount, required_date, promise_date, shipped, invoiced, cancelled) values (?, ?, ?, 100000, 1000000, 0, ?, ?, 0, 0, 0)');
const N = Number(process.argv[2] ?? 20000);
db.transaction(() => { for (let n = 0; n < N; n++) { const date = new Date(Date.UTC(2027, 2, 1) + (n % 400) * 86400000).toISOString().slice(0, 10); const { lastInsertRowid } = order.run(`BENCH-${n}`, 1 + (n % 10), `ref ${n}`, '2027-03-01', date, date, 300); for (let p = 1; p <= 3; p++) line.run(lastInsertRowid, p, [one, two, three][p - 1], date, date); } })();
if (!process.env.NOANA) db.exec('analyze'); else { db.exec('drop table if exists sqlite_stat1'); const t = performance.now(); db.pragma('analysis_limit=1000'); db.pragma('optimize=0x10002'); console.log('optimize', performance.now() - t); } db.close();
registerRooms();
store.plan = openFile(join(folder, planning.PLAN_FILE), { readonly: true });
const took = new Map();
const Stmt = Object.getPrototypeOf(store.sqlite.prepare('select 1'));
for (const name of process.env.PROF ? [] : ["all", "get"]) { const was = Stmt[name]; Stmt[name] = function (...a) { const t = performance.now(); const r = was.apply(this, a); const e = took.get(this.source) ?? [0, 0]; e[0] += performance.now() - t; e[1]++; took.set(this.source, e); return r; }; }
const work = new Work(store, { id: 1, name: 'x', grants: grantsOfRole('manager') }, '2027-03-01', '2027-03-01T09:00:00.000Z');
const q = listQuery.parse({ offset: 0, limit: 100, filter: JSON.stringify({ open: { op: 'equals', value: 'true' } }) });
for (let i = 0; i < 5; i++) selling.listOrders(work, q);
took.clear(); const t = performance.now(); const R = Number(process.env.R ?? 20); for (let i = 0; i < R; i++) selling.listOrders(work, q);
console.log('each', (performance.now() - t) / R);
for (const [sql, [ms, n]] of [...took].sort((a, b) => b[1][0] - a[1][0]).slice(0, 8)) { console.log((ms / R).toFixed(2), n / R, sql.slice(0, 3000)); try { for (const p of store.sqlite.prepare('explain query plan ' + sql).all(...Array((sql.match(/\?/g)||[]).length).fill(1))) console.log('      ', p.id, p.parent, p.detail) } catch (e) { console.log(e.message) } }
