/** Cash drawers: one open in each warehouse; opened with what is in it, closed with what was counted. */
import { and, desc, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, DrawerView, ListQuery } from '@terrace/contract';
import { Refusal, asAmount, expectedCash, parseAmount, writeAmount, type Amount } from '@terrace/core';
import { postEvent } from '../accounts';
import { usableWarehouse, warehouse } from '../catalogue';
import { countOf, inner, scalar, total } from '../platform/expressions';
import { atField } from '../platform/fields';
import { asAmountText, asNumber, asText, list, listPage, listRows, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, fetching } from '../platform/rows';
import { user } from '../platform/schema';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { counterSale, drawer, drawerCash } from './schema';

const sold = scalar(
  inner
    .select({ cash: total(sql<Amount>`${counterSale.given} - ${counterSale.change}`) })
    .from(counterSale)
    .where(eq(counterSale.drawerId, drawer.id)),
);
const paidIn = scalar(
  inner
    .select({ cash: total(drawerCash.amount) })
    .from(drawerCash)
    .where(eq(drawerCash.drawerId, drawer.id)),
);
/** What is in a drawer, as it was counted, or as it should be. */
const expected = sql<Amount>`coalesce(${drawer.expected}, ${drawer.float} + ${sold} + ${paidIn})`;
const closer = alias(user, 'closer');
const drawers = list(() => ({
  columns: {
    id: asNumber(drawer.id),
    number: asText(drawer.number),
    warehouseId: asNumber(drawer.warehouseId),
    warehouse: asText(warehouse.code),
    openedAt: asText(drawer.openedAt),
    openedBy: asText(user.name),
    float: asAmountText(drawer.float),
    expected: asAmountText(expected),
    sales: asNumber(countOf(counterSale, eq(counterSale.drawerId, drawer.id))),
    closedAt: asText(drawer.closedAt),
    closedBy: asText(sql`coalesce(${closer.name}, '')`),
    counted: asAmountText(drawer.counted),
    difference: asAmountText(sql<Amount>`${drawer.counted} - ${drawer.expected}`),
    left: asAmountText(drawer.left),
    version: asNumber(drawer.version),
  },
  from: drawer,
  joins: [
    refersTo(warehouse, eq(warehouse.id, drawer.warehouseId)),
    refersTo(user, eq(user.id, drawer.openedBy)),
    { table: closer, on: eq(closer.id, drawer.closedBy), left: true },
  ],
  find: [drawer.number, warehouse.code],
  order: [sql`${drawer.id} desc`],
  tie: [drawer.id],
}));

export function listDrawers(work: Work, asked: ListQuery): AnswerOf<typeof api.counter.listDrawers> {
  const page = listPage<DrawerView>(work, drawers, asked);
  return { ...page, rows: page.rows.map(stillOpen) };
}

/** What is not known before it is counted is nothing, and not 0. */
function stillOpen(row: DrawerView): DrawerView {
  return row.closedAt === null ? { ...row, counted: null, difference: null, left: null } : row;
}

const drawerOf = fetching(drawer, 'drawer');
const openIn = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select({ id: drawer.id, number: drawer.number })
      .from(drawer)
      .where(and(eq(drawer.warehouseId, $.warehouseId), isNull(drawer.closedAt))),
);
const lastLeft = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select({ left: drawer.left })
      .from(drawer)
      .where(and(eq(drawer.warehouseId, $.warehouseId), isNotNull(drawer.closedAt)))
      .orderBy(desc(drawer.id))
      .limit(1),
);
const cashIn = query(
  ($: { drawerId: number }) => (db) =>
    db
      .select({ cash: sql<Amount>`${counterSale.given} - ${counterSale.change}` })
      .from(counterSale)
      .where(eq(counterSale.drawerId, $.drawerId))
      .unionAll(
        db
          .select({ cash: sql<Amount>`${drawerCash.amount}` })
          .from(drawerCash)
          .where(eq(drawerCash.drawerId, $.drawerId)),
      ),
);

function viewOf(work: Work, id: number): DrawerView {
  const { number } = drawerOf(work, id);
  const row = listRows<DrawerView>(work, drawers, { find: number, offset: 0, limit: 50 }).find((each) => each.id === id);
  if (!row) throw new RangeError(`drawer ${id} is not in its list`);
  return stillOpen(row);
}

/** The open drawer of a warehouse. Refuses `noDrawer`. */
export function openDrawerIn(work: Work, warehouseId: number): number {
  const found = openIn.one(work, { warehouseId });
  if (!found) throw new Refusal('noDrawer', 'The drawer is not open: open it with what is in it first.', { field: 'cash' });
  return found.id;
}

/** The open drawer of a warehouse, and what the last one was left with. */
export function drawerNow(work: Work, warehouseId: number): AnswerOf<typeof api.counter.drawer> {
  const found = openIn.one(work, { warehouseId });
  return { drawer: found ? viewOf(work, found.id) : null, left: writeAmount(lastLeft.one(work, { warehouseId })?.left ?? 0) };
}

/** Opens a drawer. Refuses `alreadyOpen`. */
export function openDrawer(work: Work, input: BodyOf<typeof api.counter.openDrawer>): DrawerView {
  const { id: warehouseId, code } = atField('warehouseId', () => usableWarehouse(work, input.warehouseId));
  const float = atField('float', () => parseAmount(input.float));
  if (float < 0) throw new Refusal('negative', 'There can’t be less than nothing in it.', { field: 'float' });
  const other = openIn.one(work, { warehouseId });
  if (other) throw new Refusal('alreadyOpen', `${other.number} is open in ${code} already: close it first.`, { field: 'warehouseId' });
  const left = lastLeft.one(work, { warehouseId })?.left ?? asAmount(0);
  const number = work.nextNumber('DR');
  const id = addRow(work, drawer, { number, warehouseId, openedAt: work.now, openedBy: work.actor.id, float });
  postEvent(work, { kind: 'drawer', id, number }, work.today, { kind: 'cashMoved', value: asAmount(float - left) });
  work.record('drawer', id, `opened ${number} with ${writeAmount(float)}`);
  return viewOf(work, id);
}

/** Closes a drawer with what was counted. Refuses to leave more in it than there is. */
export function closeDrawer(work: Work, id: number, input: BodyOf<typeof api.counter.closeDrawer>): DrawerView {
  const kept = drawerOf(work, id);
  assertVersion(work, 'drawer', kept, input.version, kept.number);
  if (kept.closedAt !== null) throw new Refusal('wrongState', `${kept.number} is closed already.`);
  const counted = atField('counted', () => parseAmount(input.counted));
  const left = atField('left', () => parseAmount(input.left));
  if (counted < 0) throw new Refusal('negative', 'There can’t be less than nothing in it.', { field: 'counted' });
  if (left < 0 || left > counted)
    throw new Refusal('tooMuch', `Between nothing and the ${writeAmount(counted)} that were counted can stay in it.`, { field: 'left' });
  const expected = expectedCash(
    kept.float,
    cashIn.all(work, { drawerId: id }).map(({ cash }) => cash),
  );
  const document = { kind: 'drawer', id, number: kept.number } as const;
  postEvent(work, document, work.today, { kind: 'cashCount', difference: asAmount(counted - expected) });
  postEvent(work, document, work.today, { kind: 'cashMoved', value: asAmount(left - counted) });
  changeRow(work, drawer, id, { closedAt: work.now, closedBy: work.actor.id, expected, counted, left, note: input.note });
  const difference = counted - expected;
  const words = difference === 0 ? 'as expected' : `${writeAmount(Math.abs(difference))} too ${difference > 0 ? 'much' : 'little'}`;
  work.record('drawer', id, `closed ${kept.number} with ${writeAmount(counted)}, ${words}`);
  return viewOf(work, id);
}

const whereOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ warehouseId: drawer.warehouseId, code: warehouse.code })
      .from(drawer)
      .innerJoin(warehouse, eq(warehouse.id, drawer.warehouseId))
      .where(eq(drawer.id, $.id)),
);

interface Cash {
  readonly paymentId: number;
  /** In the books' currency; below 0 what is given back. */
  readonly amount: Amount;
}

/** Puts the cash of a payment into a drawer, or takes it out. Refuses `wrongState` of one that is closed, and `notEnough`. */
export function cashInto(work: Work, drawerId: number, cash: Cash): void {
  const { number, closedAt } = drawerOf(work, drawerId);
  if (closedAt !== null)
    throw new Refusal('wrongState', `${number} is closed: choose one that is open, or bring the cash to the bank.`, { field: 'drawerId' });
  const { expected: there } = viewOf(work, drawerId);
  if (parseAmount(there) + cash.amount < 0)
    throw new Refusal('notEnough', `${writeAmount(-cash.amount)} can’t come out of ${number}: there should be ${there} in it.`, {
      field: 'drawerId',
    });
  addRow(work, drawerCash, { at: work.now, drawerId, ...cash });
  work.touch('drawer', drawerId, number);
}

/** Takes out again what a payment put in: of the drawer that is open now in its warehouse. Refuses `noDrawer`. */
export function cashBack(work: Work, drawerId: number, { paymentId, amount }: Cash): void {
  const place = whereOf.one(work, { id: drawerId });
  const now = openIn.one(work, { warehouseId: place?.warehouseId ?? 0 });
  if (!now) throw new Refusal('noDrawer', `The cash went into a drawer in ${place?.code ?? ''}, and none is open there: open it first.`);
  cashInto(work, now.id, { paymentId, amount: asAmount(-amount) });
}

const openOnes = query(
  () => (db) =>
    db
      .select({ id: drawer.id, number: drawer.number, warehouse: warehouse.code })
      .from(drawer)
      .innerJoin(warehouse, eq(warehouse.id, drawer.warehouseId))
      .where(isNull(drawer.closedAt))
      .orderBy(warehouse.code),
);

export function openDrawers(work: Work): ReturnType<typeof openOnes.all> {
  return openOnes.all(work);
}

const lastOfEach = query(
  () => (db) =>
    db
      .select({ cash: sql<Amount>`case when ${drawer.closedAt} is null then ${expected} else ${drawer.left} end` })
      .from(drawer)
      .where(
        inArray(
          drawer.id,
          db
            .select({ id: sql<number>`max(${drawer.id})` })
            .from(drawer)
            .groupBy(drawer.warehouseId),
        ),
      ),
);

/** What is in all drawers: what should be in those that are open, and what stayed in the others. */
export function cashInDrawers(work: Work): Amount {
  return asAmount(lastOfEach.all(work).reduce((sum, { cash }) => sum + cash, 0));
}
