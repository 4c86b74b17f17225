/** Places: warehouses and bins, added, changed, closed. What still holds stock or has open documents stays open, and it is said what. */
import { and, eq, gt, inArray, ne, or, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { AnswerOf, BinView, BodyOf, PlacesView, api } from '@terrace/contract';
import { Refusal, binsFrom } from '@terrace/core';
import { IS_EXPECTED, purchaseOrder } from '../buying';
import { bin, calendarDefinition, item, warehouse, warehouseOf } from '../catalogue';
import { planningRule } from '../planning';
import { among, countOf } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertSeen, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { IS_OPEN, productionOrder } from '../production';
import { customerOrder } from '../selling';
import { UNDER_WAY, balance, transfer } from '../stores';

const STEP = 10;
const MOST_NAMED = 3;

const everyWarehouse = query(
  () => (db) =>
    db
      .select({
        id: warehouse.id,
        code: warehouse.code,
        name: warehouse.name,
        address: warehouse.address,
        calendar: warehouse.calendar,
        active: warehouse.active,
        bins: countOf(bin, and(eq(bin.warehouseId, warehouse.id), eq(bin.active, true))),
        version: warehouse.version,
      })
      .from(warehouse)
      .orderBy(warehouse.id),
);
const itemsIn = countOf(balance, and(eq(balance.binId, bin.id), gt(balance.quantity, sql`0`)));
const binsOf = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select({
        id: bin.id,
        code: bin.code,
        dock: bin.dock,
        walk: bin.walk,
        size: bin.size,
        blocked: bin.blocked,
        active: bin.active,
        items: itemsIn,
      })
      .from(bin)
      .where(eq(bin.warehouseId, $.warehouseId))
      .orderBy(bin.walk, bin.code),
);
const sameCode = query(
  ($: { code: string; id: number }) => (db) =>
    db
      .select({ code: warehouse.code })
      .from(warehouse)
      .where(and(sql`lower(${warehouse.code}) = lower(${$.code})`, ne(warehouse.id, $.id))),
);
/** What lies in bins, a few of it by name. */
const lyingIn = query(
  ($: { bins: readonly number[] }) => (db) =>
    db
      .select({ bin: bin.code, item: item.code, n: sql<number>`count(*) over ()` })
      .from(balance)
      .innerJoin(bin, eq(bin.id, balance.binId))
      .innerJoin(item, eq(item.id, balance.itemId))
      .where(and(among(balance.binId, $.bins), gt(balance.quantity, sql`0`)))
      .orderBy(bin.code, item.code)
      .limit(MOST_NAMED),
);

interface InTheWay {
  readonly one: string;
  readonly several: string;
  readonly of: ReturnType<typeof openIn>;
}
/** Documents of a warehouse that are open: a few of their numbers, and how many. */
const openIn = (table: SQLiteTable & { readonly number: SQLiteColumn }, place: (id: SQL) => SQL | undefined, open: SQL | undefined) =>
  query(
    ($: { id: number }) => (db) =>
      db
        .select({ number: sql<string>`${table.number}`, n: sql<number>`count(*) over ()` })
        .from(table as SQLiteTable)
        .where(and(place(sql`${$.id}`), open))
        .limit(MOST_NAMED),
  );
const documents: readonly InTheWay[] = [
  {
    one: 'customer order',
    several: 'customer orders',
    of: openIn(customerOrder, (id) => eq(customerOrder.warehouseId, id), inArray(customerOrder.state, ['draft', 'confirmed', 'partShipped'])),
  },
  { one: 'purchase order', several: 'purchase orders', of: openIn(purchaseOrder, (id) => eq(purchaseOrder.warehouseId, id), IS_EXPECTED) },
  { one: 'production order', several: 'production orders', of: openIn(productionOrder, (id) => eq(productionOrder.warehouseId, id), IS_OPEN) },
  { one: 'transfer', several: 'transfers', of: openIn(transfer, (id) => or(eq(transfer.fromId, id), eq(transfer.toId, id)), UNDER_WAY) },
];
const planned = query(
  ($: { id: number }) => (db) =>
    db
      .select({ n: sql<number>`count(*)` })
      .from(planningRule)
      .where(or(eq(planningRule.warehouseId, $.id), eq(planningRule.fromId, $.id))),
);
const activeWarehouses = query(
  () => (db) =>
    db
      .select({ n: sql<number>`count(*)` })
      .from(warehouse)
      .where(eq(warehouse.active, true)),
);

export function placesView(work: Work): PlacesView {
  return { warehouses: everyWarehouse.all(work) };
}

export function binsView(work: Work, warehouseId: number): { bins: BinView[] } {
  warehouseOf(work, warehouseId);
  return { bins: binsOf.all(work, { warehouseId }) };
}

function assertFree(work: Work, code: string, id: number): void {
  const other = sameCode.one(work, { code, id });
  if (other) throw new Refusal('alreadyThere', `There is a warehouse ${other.code} already.`, { field: 'code' });
}

/** Adds a warehouse with its dock; it can be used at once. Refuses `alreadyThere`, `notFound` for the calendar. */
export function addWarehouse(work: Work, { dock, ...fields }: BodyOf<typeof api.setup.addWarehouse>): number {
  assertFree(work, fields.code, 0);
  atField('calendar', () => calendarDefinition(work, fields.calendar));
  const id = addRow(work, warehouse, fields);
  addRow(work, bin, { warehouseId: id, code: dock, dock: true });
  work.record('setup', id, `added warehouse ${fields.code}`);
  return id;
}

/** "3 customer orders (CO-1001, CO-1002, …)", where there is any. */
function inTheWay(rows: readonly { readonly name: string; readonly n: number }[], one: string, several: string): string[] {
  const [first] = rows;
  if (!first) return [];
  const names = rows.map(({ name }) => name).join(', ');
  return [`${first.n} ${first.n === 1 ? one : several} (${names}${first.n > rows.length ? ', …' : ''})`];
}

/** Refuses `inUse` with all that is in the way of closing a warehouse. */
function assertClosable(work: Work, id: number, code: string): void {
  if ((activeWarehouses.one(work)?.n ?? 0) < 2)
    throw new Refusal('inUse', `${code} is the only warehouse: add another before this one is closed.`, { field: 'active' });
  const bins = binsOf.all(work, { warehouseId: id }).map((each) => each.id);
  const lying = lyingIn.all(work, { bins });
  const rules = planned.one(work, { id })?.n ?? 0;
  const ways = [
    ...inTheWay(
      lying.map(({ bin: place, item: what, n }) => ({ name: `${what} in ${place}`, n })),
      'balance of stock',
      'balances of stock',
    ),
    ...documents.flatMap(({ one, several, of }) =>
      inTheWay(
        of.all(work, { id }).map(({ number, n }) => ({ name: number, n })),
        one,
        several,
      ),
    ),
    ...(rules > 0 ? [`${rules} planning ${rules === 1 ? 'rule' : 'rules'}`] : []),
  ];
  if (ways.length > 0)
    throw new Refusal('inUse', `${code} can’t be closed yet: ${ways.join('; ')}. Move, finish or cancel these first.`, { field: 'active' });
}

/** Changes, closes or opens a warehouse. Refuses `staleVersion`, `alreadyThere`, `inUse`. */
export function changeWarehouse(work: Work, id: number, { version, ...fields }: BodyOf<typeof api.setup.changeWarehouse>): void {
  const before = warehouseOf(work, id);
  assertSeen(before, version, before.code);
  assertFree(work, fields.code, id);
  atField('calendar', () => calendarDefinition(work, fields.calendar));
  if (before.active && !fields.active) assertClosable(work, id, before.code);
  changeRow(work, warehouse, id, fields);
  const { id: _id, version: _version, ...was } = before;
  const what = before.active === fields.active ? 'changed' : fields.active ? 'opened' : 'closed';
  work.record('setup', id, `${what} warehouse ${fields.code}`, changesBetween(was, fields));
}

/** Adds bins by a list or ranges, after those that are walked by last; answers how many were not there yet. Refuses `badRange`, `tooMany`. */
export function addBins(work: Work, warehouseId: number, { codes: text, size }: BodyOf<typeof api.setup.addBins>): number {
  const { code: place } = warehouseOf(work, warehouseId);
  const there = binsOf.all(work, { warehouseId });
  const known = new Set(there.map(({ code }) => code.toLowerCase()));
  const codes = atField('codes', () => binsFrom(text));
  const wrong = codes.find((code) => code.length > 20 || code.includes(':'));
  if (wrong !== undefined)
    throw new Refusal('badCode', `"${wrong.slice(0, 40)}" is no code: at most 20 characters, and no colon.`, { field: 'codes' });
  const fresh = codes.filter((code) => !known.has(code.toLowerCase()));
  let walk = there.reduce((last, each) => Math.max(last, each.walk), 0);
  for (const code of fresh) {
    walk += STEP;
    addRow(work, bin, { warehouseId, code, walk, size });
  }
  if (fresh.length > 0) work.record('setup', warehouseId, `added ${fresh.length} ${fresh.length === 1 ? 'bin' : 'bins'} to ${place}`);
  return fresh.length;
}

/** Bins of one warehouse by their numbers, in the order in which they are asked for. Refuses `notFound`. */
function binsNamed(work: Work, warehouseId: number, ids: readonly number[]): BinView[] {
  const known = new Map(binsOf.all(work, { warehouseId }).map((each) => [each.id, each]));
  return ids.map((id) => {
    const found = known.get(id);
    if (!found) throw new Refusal('notFound', 'One of the bins is not in this warehouse.', { field: 'bins' });
    return found;
  });
}

/** Refuses `inUse` for bins that hold stock, or that goods arrive in. */
function assertEmpty(work: Work, bins: readonly BinView[]): void {
  const dock = bins.find((each) => each.dock);
  if (dock) throw new Refusal('inUse', `${dock.code} is the dock, where goods arrive: make another bin the dock first.`, { field: 'bins' });
  const lying = lyingIn.all(work, { bins: bins.map(({ id }) => id) });
  const [first] = lying;
  if (!first) return;
  const names = lying.map(({ bin: place, item: what }) => `${what} in ${place}`).join(', ');
  throw new Refusal('inUse', `Stock lies there (${names}${first.n > lying.length ? `, and ${first.n - lying.length} more` : ''}): move it first.`, {
    field: 'bins',
  });
}

const setBins = {
  size: command(($: { bins: readonly number[]; size: string }) => (db) => db.update(bin).set({ size: $.size }).where(among(bin.id, $.bins))),
  blocked: command(
    ($: { bins: readonly number[]; blocked: boolean }) => (db) => db.update(bin).set({ blocked: $.blocked }).where(among(bin.id, $.bins)),
  ),
  active: command(($: { bins: readonly number[]; active: boolean }) => (db) => db.update(bin).set({ active: $.active }).where(among(bin.id, $.bins))),
};

/** Changes several bins of a warehouse: all of it, or nothing. Refuses `inUse`, `notFound`. */
export function changeBins(work: Work, warehouseId: number, input: BodyOf<typeof api.setup.changeBins>): void {
  const { code: place } = warehouseOf(work, warehouseId);
  const bins = binsNamed(work, warehouseId, input.bins);
  const ids = bins.map(({ id }) => id);
  const { size, blocked, active, walkFrom } = input;
  const dock = bins.find((each) => each.dock);
  if (blocked === true && dock)
    throw new Refusal('inUse', `${dock.code} is the dock, where goods arrive: make another bin the dock first.`, { field: 'bins' });
  if (active === false) assertEmpty(work, bins);
  const said: string[] = [];
  if (size !== undefined) {
    setBins.size.run(work, { bins: ids, size });
    said.push(size === '' ? 'without a size' : `of size ${size}`);
  }
  if (blocked !== undefined) {
    setBins.blocked.run(work, { bins: ids, blocked });
    said.push(blocked ? 'blocked' : 'free again');
  }
  if (active !== undefined) {
    setBins.active.run(work, { bins: ids, active });
    said.push(active ? 'open' : 'closed');
  }
  if (walkFrom !== undefined) {
    ids.forEach((id, index) => setRow(work, bin, id, { walk: walkFrom + index * STEP }));
    said.push(`walked by from ${walkFrom}`);
  }
  const names = bins.slice(0, MOST_NAMED).map(({ code }) => code);
  work.record(
    'setup',
    warehouseId,
    `${place}: ${names.join(', ')}${bins.length > names.length ? ` and ${bins.length - names.length} more` : ''} ${said.join(', ')}`,
  );
}

const noDock = command(($: { warehouseId: number }) => (db) => db.update(bin).set({ dock: false }).where(eq(bin.warehouseId, $.warehouseId)));

/** Renames a bin, or makes it the dock. Refuses `alreadyThere`, `inUse`. */
export function changeBin(work: Work, warehouseId: number, id: number, { code, dock }: BodyOf<typeof api.setup.changeBin>): void {
  const [before] = binsNamed(work, warehouseId, [id]);
  if (!before) return;
  const other = binsOf.all(work, { warehouseId }).find((each) => each.id !== id && each.code.toLowerCase() === code.toLowerCase());
  if (other) throw new Refusal('alreadyThere', `There is a bin ${other.code} already.`, { field: 'code' });
  if (dock && (before.blocked || !before.active))
    throw new Refusal('inUse', `${before.code} is ${before.active ? 'blocked' : 'closed'}: goods can’t arrive there.`, { field: 'dock' });
  if (!dock && before.dock)
    throw new Refusal('inUse', `Goods arrive at ${before.code}: make another bin the dock, then this one is none.`, { field: 'dock' });
  if (dock && !before.dock) noDock.run(work, { warehouseId });
  setRow(work, bin, id, { code, dock });
  const changes = changesBetween({ code: before.code, dock: before.dock }, { code, dock });
  if (changes.length > 0)
    work.record('setup', warehouseId, `changed bin ${code}${code === before.code ? '' : ', whose labels have to be printed anew'}`, changes);
}

/** How an answer that adds is looked at. */
export function afterAdding(work: Work, id: number): AnswerOf<typeof api.setup.addWarehouse> {
  return { ...placesView(work), id };
}
