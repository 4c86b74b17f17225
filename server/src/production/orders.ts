/** Production orders: entering, releasing, cancelling. */
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type ProductionView } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asQuantity,
  componentQuantity,
  dateOf,
  dayOf,
  isLineValid,
  parsePositiveQuantity,
  readDecimal,
  unitCostOf,
  writeAmount,
  writeDecimal,
  writePrice,
  writeQuantity,
  type Quantity,
} from '@terrace/core';
import { calendarOf, itemFacts, itemView, usableItem, warehouseOf } from '../catalogue';
import { asFlag, asNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, changesBetween, orNotFound, type Work } from '../platform/work';
import { dropReservation, lowerReservation, reserveFree, reservedFor, stockOf, trackingOf, proposedPieces } from '../stores';
import * as tables from './schema';

function productionOrders(today: string): ListDefinition {
  return {
    columns: {
      id: asNumber('o.id'),
      number: asText('o.number'),
      code: asText('i.code'),
      description: asText('i.description'),
      state: asText('o.state'),
      warehouse: asText('w.code'),
      quantity: asQuantityText('o.quantity'),
      finished: asQuantityText('o.finished'),
      unit: asText('i.unit_code'),
      startDate: asText('o.start_date'),
      dueDate: asText('o.due_date'),
      late: asFlag(`o.state in ('draft', 'released', 'running') and o.due_date < '${today}'`),
      short:
        asNumber(`case when o.state in ('draft', 'released', 'running') then (select count(*) from production_component c where c.order_id = o.id and c.needed > c.issued
        + coalesce((select r.quantity from reservation r where r.holder_kind = 'productionOrder' and r.holder_id = c.id), 0)
        + max(0, coalesce((select sum(b.quantity) from balance b where b.item_id = c.item_id and b.warehouse_id = o.warehouse_id and b.state = 'available'), 0) - coalesce((select sum(r.quantity) from reservation r where r.item_id = c.item_id and r.warehouse_id = o.warehouse_id), 0))) else 0 end`),
    },
    from: 'production_order o join item i on i.id = o.item_id join warehouse w on w.id = o.warehouse_id',
    countFrom: 'production_order o',
    find: ['o.number', 'i.code', 'i.description'],
    order: 'o.id desc',
    tie: 'o.id',
  };
}

export function listProduction(work: Work, query: ListQuery): AnswerOf<typeof api.production.listProduction> {
  return listPage(work, productionOrders(work.today), query);
}

export type ProductionRecord = typeof tables.productionOrder.$inferSelect;
export type ComponentRecord = typeof tables.productionComponent.$inferSelect;

export function productionOf(work: Work, id: number): ProductionRecord {
  return orNotFound(
    work.store
      .query('productionOrder', (db) =>
        db
          .select()
          .from(tables.productionOrder)
          .where(eq(tables.productionOrder.id, sql.placeholder('id')))
          .prepare(),
      )
      .all({ id: id })[0],
    'production order',
  );
}

export function componentsOf(work: Work, orderId: number): ComponentRecord[] {
  return work.store
    .query('productionComponent', (db) =>
      db
        .select()
        .from(tables.productionComponent)
        .where(eq(tables.productionComponent.orderId, sql.placeholder('id')))
        .orderBy(tables.productionComponent.position)
        .prepare(),
    )
    .all({ id: orderId });
}

const stillNeeded = (component: ComponentRecord): Quantity => asQuantity(Math.max(0, component.needed - component.issued));

function componentView(work: Work, order: ProductionRecord, component: ComponentRecord, open: boolean): ProductionView['components'][number] {
  const item = itemFacts(work, component.itemId);
  const { tracking } = trackingOf(work, component.itemId);
  const needed = open ? stillNeeded(component) : asQuantity(0);
  const reserved = reservedFor(work, 'productionOrder', component.id);
  const reachable = asQuantity(reserved + stockOf(work, component.itemId, order.warehouseId, 'use').free);
  return {
    id: component.id,
    position: component.position,
    itemId: component.itemId,
    code: item.code,
    description: item.description,
    unit: item.unit,
    tracking,
    pieces: needed === 0 || tracking === 'none' ? [] : proposedPieces(work, component.itemId, order.warehouseId, 'use'),
    per: component.per,
    scrap: component.scrap,
    needed: writeQuantity(component.needed),
    issued: writeQuantity(component.issued),
    outstanding: writeQuantity(needed),
    reserved: writeQuantity(reserved),
    available: writeQuantity(reachable),
    short: writeQuantity(item.kind === 'stocked' ? Math.max(0, needed - reachable) : 0),
  };
}

export function productionView(work: Work, id: number): ProductionView {
  const order = productionOf(work, id);
  const item = itemFacts(work, order.itemId);
  const completions = work.rows<{ id: number; number: string; date: string; quantity: number; cost: number; reversed: number }>(
    'select id, number, date, quantity, cost, reversed from completion where order_id = ? order by id',
    id,
  );
  const cost = asAmount(completions.filter((each) => each.reversed === 0).reduce((sum, each) => sum + each.cost, 0));
  const open = order.state === 'draft' || order.state === 'released' || order.state === 'running';
  return {
    id,
    number: order.number,
    itemId: order.itemId,
    code: item.code,
    description: item.description,
    unit: item.unit,
    decimals: item.decimals,
    tracking: trackingOf(work, order.itemId).tracking,
    state: order.state,
    warehouseId: order.warehouseId,
    warehouse: warehouseOf(work, order.warehouseId).code,
    quantity: writeQuantity(order.quantity),
    finished: writeQuantity(order.finished),
    outstanding: writeQuantity(open ? Math.max(0, order.quantity - order.finished) : 0),
    startDate: order.startDate,
    dueDate: order.dueDate,
    late: open && order.dueDate < work.today,
    cost: writeAmount(cost),
    unitCost: writePrice(unitCostOf(cost, order.finished)),
    note: order.note,
    version: order.version,
    components: componentsOf(work, id).map((component) => componentView(work, order, component, open)),
    completions: completions.map((each) => ({
      ...each,
      quantity: writeQuantity(each.quantity),
      cost: writeAmount(each.cost),
      reversed: each.reversed === 1,
    })),
  };
}

type Input = BodyOf<typeof api.production.createProduction>;

/** Enters a production order as a draft, with the components that are valid on its start. */
export function createProduction(work: Work, input: Input): ProductionView {
  const item = atField('itemId', () => usableItem(work, input.itemId));
  const warehouse = atField('warehouseId', () => warehouseOf(work, input.warehouseId));
  if (item.kind !== 'stocked') throw new Refusal('notMade', `${item.code} is not kept in stock: it can't be made.`, { field: 'itemId' });
  const quantity = atField('quantity', () => parsePositiveQuantity(input.quantity, item.decimals, `the quantity of ${item.code}`));
  const startDate = input.startDate ?? startFor(work, item.id, warehouse.id, input.dueDate);
  assertDates(work, startDate, input.dueDate);
  const lines = explodedLines(work, item.id, startDate);
  if (lines.length === 0)
    throw new Refusal('noBom', `${item.code} has no bill of materials valid on ${startDate}: set up what it is made from first.`, {
      field: 'itemId',
    });
  const number = work.nextNumber('PRD');
  const { id } = work.run(
    "insert into production_order (number, item_id, warehouse_id, quantity, finished, start_date, due_date, state, note) values (?, ?, ?, ?, 0, ?, ?, 'draft', ?)",
    number,
    item.id,
    warehouse.id,
    quantity,
    startDate,
    input.dueDate,
    input.note,
  );
  lines.forEach((line, index) => {
    const needed = componentQuantity(quantity, { quantity: line.per, scrap: line.scrap }, itemFacts(work, line.itemId).decimals);
    work.run(
      'insert into production_component (order_id, position, item_id, per, scrap, offset_days, needed, issued) values (?, ?, ?, ?, ?, ?, ?, 0)',
      id,
      index + 1,
      line.itemId,
      line.per,
      line.scrap,
      line.offsetDays,
      needed,
    );
    work.touch('stock', line.itemId, number);
  });
  work.record('productionOrder', id, `entered ${number}`);
  work.touch('stock', item.id, number);
  return productionView(work, id);
}

function assertDates(work: Work, startDate: string, dueDate: string): void {
  if (dueDate < work.today)
    throw new Refusal('badDate', `${dueDate} has passed: nothing can be finished before today, ${work.today}.`, { field: 'dueDate' });
  if (startDate > dueDate)
    throw new Refusal('badDate', `It can't start on ${startDate} and be due on ${dueDate} before that.`, { field: 'startDate' });
}

/** The start from the due date and the lead time of the item's rule, today at the earliest. */
function startFor(work: Work, item: number, warehouse: number, dueDate: string): string {
  const leadDays =
    work.row<{ n: number }>('select lead_days as n from planning_rule where item_id = ? and warehouse_id = ?', item, warehouse)?.n ?? 0;
  const start = dateOf(calendarOf(work, warehouse).back(dayOf(dueDate), leadDays));
  return start < work.today ? (dueDate < work.today ? dueDate : work.today) : start;
}

interface ComponentLine {
  readonly itemId: number;
  readonly per: string;
  readonly scrap: string;
  readonly offsetDays: number;
}

/** Lines valid on a date, phantoms replaced by their own; a phantom's share multiplies, so such a line has no scrap of its own. */
function explodedLines(work: Work, item: number, date: string): ComponentLine[] {
  return itemView(work, item)
    .bom.filter((line) => isLineValid(line, date))
    .flatMap((line): ComponentLine[] => {
      if (itemFacts(work, line.componentId).kind !== 'phantom')
        return [{ itemId: line.componentId, per: line.quantity, scrap: line.scrap, offsetDays: line.offsetDays }];
      return explodedLines(work, line.componentId, date).map((inner) => ({
        ...inner,
        per: multiplyPer(line.quantity, line.scrap, inner.per),
        offsetDays: line.offsetDays + inner.offsetDays,
      }));
    });
}

/** Quantity of a phantom, with its scrap, times a line of it; exact. */
function multiplyPer(quantity: string, scrap: string, per: string): string {
  const [parent, lost, inner] = [quantity, scrap, per].map((text) => readDecimal(text) ?? { mantissa: 0n, scale: 0 });
  if (!parent || !lost || !inner) return per;
  return writeDecimal(parent.mantissa * (10n ** BigInt(lost.scale) + lost.mantissa) * inner.mantissa, parent.scale + lost.scale + inner.scale);
}

/** Changes quantity, dates or note of a draft; components follow. */
export function changeProduction(work: Work, id: number, input: BodyOf<typeof api.production.changeProduction>): ProductionView {
  const order = productionOf(work, id);
  const before = productionView(work, id);
  assertVersion(work, 'productionOrder', order, input.version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be changed.`);
  const item = itemFacts(work, order.itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(input.quantity, item.decimals, `the quantity of ${item.code}`));
  const startDate = input.startDate ?? startFor(work, item.id, order.warehouseId, input.dueDate);
  assertDates(work, startDate, input.dueDate);
  work.run(
    'update production_order set quantity = ?, start_date = ?, due_date = ?, note = ?, version = version + 1 where id = ?',
    quantity,
    startDate,
    input.dueDate,
    input.note,
    id,
  );
  for (const component of componentsOf(work, id)) {
    work.run(
      'update production_component set needed = ? where id = ?',
      componentQuantity(quantity, { quantity: component.per, scrap: component.scrap }, itemFacts(work, component.itemId).decimals),
      component.id,
    );
  }
  const after = productionView(work, id);
  work.record(
    'productionOrder',
    id,
    `changed ${order.number}`,
    changesBetween(
      { quantity: before.quantity, startDate: before.startDate, dueDate: before.dueDate, note: before.note },
      { quantity: after.quantity, startDate: after.startDate, dueDate: after.dueDate, note: after.note },
    ),
  );
  return after;
}

/** Releases to the floor: reserves the components that are free. */
export function releaseProduction(work: Work, id: number, version: number): ProductionView {
  const order = productionOf(work, id);
  assertVersion(work, 'productionOrder', order, version, order.number);
  if (order.state !== 'draft') throw new Refusal('wrongState', `${order.number} is ${order.state}: only a draft can be released.`);
  for (const component of componentsOf(work, id)) {
    if (itemFacts(work, component.itemId).kind !== 'stocked') continue;
    reserveFree(
      work,
      component.itemId,
      order.warehouseId,
      { kind: 'productionOrder', id: component.id, documentId: id, documentNumber: order.number },
      stillNeeded(component),
    );
  }
  work.run("update production_order set state = 'released', version = version + 1 where id = ?", id);
  work.record('productionOrder', id, `released ${order.number}`);
  return productionView(work, id);
}

/** Cancels what is not finished and gives its components up. */
export function cancelProduction(work: Work, id: number, version: number, reason: string): ProductionView {
  const order = productionOf(work, id);
  assertVersion(work, 'productionOrder', order, version, order.number);
  if (order.state === 'finished' || order.state === 'settled' || order.state === 'cancelled')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  for (const component of componentsOf(work, id)) {
    dropReservation(work, 'productionOrder', component.id);
    work.touch('stock', component.itemId, order.number);
  }
  work.run('update production_order set state = ?, version = version + 1 where id = ?', order.finished > 0 ? 'finished' : 'cancelled', id);
  work.record('productionOrder', id, `cancelled ${order.number}: ${reason}`);
  work.touch('stock', order.itemId, order.number);
  return productionView(work, id);
}

/** What one completion takes of a component; the last one takes what is left of the plan. */
export function toTake(work: Work, component: ComponentRecord, quantity: Quantity, last: boolean): Quantity {
  const left = stillNeeded(component);
  if (last) return left;
  const share = componentQuantity(quantity, { quantity: component.per, scrap: component.scrap }, itemFacts(work, component.itemId).decimals);
  return asQuantity(Math.min(left, share));
}

/** Books what was taken of a component; its reservation shrinks with it. */
export function bookTaken(work: Work, component: ComponentRecord, quantity: Quantity): void {
  lowerReservation(work, 'productionOrder', component.id, quantity);
  work.run('update production_component set issued = issued + ? where id = ?', quantity, component.id);
}
