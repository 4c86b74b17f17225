// 50,000 items and their suppliers' terms from two files, against bare SQLite inserting the same rows into the same
// tables; then finding among them by words, also mistyped.
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { figure, sized } from './figures.mjs';
import { median, serving, share } from './serving.mjs';

const ITEMS = sized(50_000, 2000, 'BENCH_ITEMS');
const FINDS = sized(600, 60);

const THINGS = [
  'Frame',
  'Hive',
  'Smoker',
  'Veil',
  'Jar',
  'Lid',
  'Bracket',
  'Spring',
  'Strainer',
  'Feeder',
  'Clamp',
  'Excluder',
  'Scraper',
  'Barrel',
  'Extractor',
  'Foundation',
];
const KINDS = ['oak', 'pine', 'steel', 'brass', 'cotton', 'glass', 'copper', 'plastic', 'linen', 'zinc'];
const SIZES = ['small', 'medium', 'large', 'double', 'narrow', 'wide', 'long', 'short'];
const pick = (list, number) => list[number % list.length];
const name = (number) => `${pick(THINGS, number)}, ${pick(KINDS, Math.floor(number / 16))}, ${pick(SIZES, Math.floor(number / 160))} ${number % 977}`;

const items = ['Code,Description,Group,Selling price,Barcodes,Manufacturer,Packs'];
const terms = ['Item,Supplier,Supplier’s code,Price,Lead days,Minimum'];
for (let number = 0; number < ITEMS; number += 1) {
  const code = `B${String(number).padStart(6, '0')}`;
  items.push(
    `${code},"${name(number)}",GOODS,${(number % 400) + 0.95},29${String(number).padStart(11, '0')},Maker ${number % 50},${number % 4 === 0 ? 'case=12' : ''}`,
  );
  terms.push(
    `${code},${pick(['TIMBER', 'METAL', 'GLASS', 'OUTFIT'], number)},S${number},${(number % 300) + 0.5},${(number % 20) + 1},${number % 3 === 0 ? 10 : 0}`,
  );
}

const server = await serving(4393);
const { call, upload } = server;

async function settled(id) {
  for (;;) {
    const { json } = await call('GET', `/bulk/imports/${id}`);
    if (json.state !== 'trying' && json.state !== 'taking') return json;
    await new Promise((done) => setTimeout(done, 50));
  }
}

async function bring(kind, lines) {
  const seconds = {};
  let begun = performance.now();
  const lap = (what) => {
    seconds[what] = (performance.now() - begun) / 1000;
    begun = performance.now();
  };
  const view = await upload(`/bulk/files/${kind}`, `${kind}.csv`, lines.join('\n'));
  lap('read');
  const mapping = Object.fromEntries(view.headings.map((each) => [each.heading, each.column]));
  await call('POST', `/bulk/imports/${view.id}/try`, { mapping, decimals: view.decimals, dates: view.dates }, `bench-try-${kind}`);
  const tried = await settled(view.id);
  lap('tried');
  if (tried.state !== 'tried' || tried.counts.added !== lines.length - 1) throw new Error(JSON.stringify({ ...tried, columns: 0 }));
  await call('POST', `/bulk/imports/${view.id}/take`, { goodOnly: false }, `bench-take-${kind}`);
  const taken = await settled(view.id);
  lap('taken');
  if (taken.state !== 'taken') throw new Error(taken.problem);
  return seconds;
}

try {
  const db = new Sqlite(server.database);
  await db.backup(join(server.folder, 'bare.db'));
  const first = await bring('items', items);
  const second = await bring('terms', terms);
  const ours = first.taken + second.taken;
  const all = Object.values(first)
    .concat(Object.values(second))
    .reduce((sum, each) => sum + each, 0);

  // The rows that the two files became, into a copy of the database from before, with the same indexes and triggers.
  const bare = new Sqlite(join(server.folder, 'bare.db'));
  bare.pragma('journal_mode = WAL');
  bare.pragma('synchronous = FULL');
  const tables = ['item', 'item_barcode', 'pack_unit', 'supplier_term', 'history'];
  const batches = tables.map((table) => {
    const names = db.prepare(`select name from pragma_table_info('${table}')`).pluck().all();
    const known = bare.prepare(`select count(*) from ${table}`).pluck().get();
    const rows = db
      .prepare(
        `select * from ${table} where rowid > (select coalesce(max(rowid), 0) from (select rowid from ${table} order by rowid limit ${known}))`,
      )
      .raw()
      .all();
    return {
      rows,
      insert: bare.prepare(`insert into ${table} (${names.map((each) => `"${each}"`).join(', ')}) values (${names.map(() => '?').join(', ')})`),
    };
  });
  const count = batches.reduce((sum, { rows }) => sum + rows.length, 0);
  const begun = performance.now();
  bare.transaction(() => {
    for (const { rows, insert } of batches) for (const row of rows) insert.run(...row);
  })();
  const theirs = (performance.now() - begun) / 1000;
  bare.close();
  const words = (seconds) => `read ${seconds.read.toFixed(1)} s, tried ${seconds.tried.toFixed(1)} s, taken ${seconds.taken.toFixed(1)} s`;
  console.log(`\n${ITEMS.toLocaleString('en-GB')} items and as many suppliers’ terms, from two CSV files`);
  console.log(`  items            ${words(first)}`);
  console.log(`  terms            ${words(second)}`);
  figure('imports: 50,000 items and terms read, tried and taken', all, { unit: 's', digits: 1, most: 60 });
  figure(`imports: bare SQLite inserting the same rows`, theirs, { unit: 's' });
  console.log(`  ${count.toLocaleString('en-GB')} rows`);
  figure('imports: taking both files, ratio to bare SQLite', ours / theirs, { digits: 1, most: 5, long: true });
  figure('imports: most memory of the server', server.peak(), { unit: 'MiB', digits: 0, most: 500 });

  server.refresh();
  // What the import left to be written is written; then a few to warm up.
  await new Promise((done) => setTimeout(done, 3000));
  for (let number = 0; number < 200; number += 1) await call('GET', `/catalogue/items/find?text=${encodeURIComponent(name(number * 31))}`);
  const finds = { 'words in any order': [], 'beginnings of words': [], 'mistyped words': [], 'a code': [] };
  const slip = (word) => word.slice(0, 3) + word.slice(4);
  for (let number = 0; number < FINDS; number += 1) {
    const at = (number * 7919) % ITEMS;
    const [thing, kind, rest] = name(at).toLowerCase().split(', ');
    const asked = {
      'words in any order': `${rest} ${kind} ${thing}`,
      'beginnings of words': `${kind.slice(0, 3)} ${thing.slice(0, 4)}`,
      'mistyped words': `${slip(thing.length > 5 ? thing : 'extractor')} ${kind}`,
      'a code': `B${String(at).padStart(6, '0')}`,
    };
    for (const [what, text] of Object.entries(asked)) {
      const start = performance.now();
      const { json } = await call('GET', `/catalogue/items/find?text=${encodeURIComponent(text)}`);
      finds[what].push(performance.now() - start);
      if (json.length === 0) throw new Error(`nothing found for ${text}`);
    }
  }
  console.log(`\nFinding one of ${(ITEMS + 40).toLocaleString('en-GB')} items over HTTP, ${FINDS} times each   (aim: under 50 ms)`);
  for (const [what, times] of Object.entries(finds)) {
    console.log(`  ${what}: 99 of 100 within ${share(times, 0.99).toFixed(1)} ms, longest ${Math.max(...times).toFixed(1)} ms`);
    figure(`imports: finding one of 50,000 by ${what}, median`, median(times), { unit: 'ms', digits: 1, most: 50 });
  }
  db.close();
} finally {
  await server.stop();
}
