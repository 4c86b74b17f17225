/** Production orders: entering, releasing, cancelling. */
import { eq } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type BodyOf, type ProductionView } from '@terrace/contract';
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
import { assertMayHere, bomOf, calendarOf, itemFacts, usableItem, usableWarehouse, warehouseOf } from '../catalogue';
import { plus } from '../platform/expressions';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { addRow, changeRow, fetching, fetchingAll, setRow } from '../platform/rows';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { dropReservation, lowerReservation, proposedPieces, reserveFree, reservedFor, stockOf, trackingOf } from '../stores';
import { otherRooms } from './handed-in';
import { toMakeOf } from './progress';
import { completion, productionComponent, productionOrder } from './schema';

const NONE = asQuantity(0);
export type ProductionRecord = typeof productionOrder.$inferSelect;
export type ComponentRecord = typeof productionComponent.$inferSelect;

/** A production order as kept. Refuses `notFound`. */
export const productionOf = fetching(productionOrder, 'production order');

/** The components of a production order, in order. */
export const componentsOf = fetchingAll(productionComponent, productionComponent.orderId, productionComponent.position);

const completionsOf = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({
        id: completion.id,
        number: completion.number,
        date: completion.date,
        quantity: completion.quantity,
        cost: completion.cost,
        reversed: completion.reversed,
      })
      .from(completion)
      .where(eq(completion.orderId, $.orderId))
      .orderBy(completion.id),
);
const issueMore = command(
  ($: { id: number; quantity: Quantity }) => (db) =>
    db
      .update(productionComponent)
      .set({ issued: plus(productionComponent.issued, $.quantity) })
      .where(eq(productionComponent.id, $.id)),
);

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
  const made = itemFacts(work, order.itemId);
  const completions = completionsOf.all(work, { orderId: id });
  const cost = asAmount(completions.filter((each) => !each.reversed).reduce((sum, each) => sum + each.cost, 0));
  const open = order.state === 'draft' || order.state === 'released' || order.state === 'running';
  return {
    id,
    number: order.number,
    itemId: order.itemId,
    code: made.code,
    description: made.description,
    unit: made.unit,
    decimals: made.decimals,
    tracking: trackingOf(work, order.itemId).tracking,
    state: order.state,
    warehouseId: order.warehouseId,
    warehouse: warehouseOf(work, order.warehouseId).code,
    quantity: writeQuantity(order.quantity),
    finished: writeQuantity(order.finished),
    cancelled: writeQuantity(order.cancelled),
    outstanding: writeQuantity(open ? toMakeOf(order) : asQuantity(0)),
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
    })),
  };
}

type Input = BodyOf<typeof api.production.createProduction>;

/** Enters a production order as a draft, with the components that are valid on its start. */
export function createProduction(work: Work, input: Input): ProductionView {
  const made = atField('itemId', () => usableItem(work, input.itemId));
  const place = atField('warehouseId', () => usableWarehouse(work, input.warehouseId));
  atField('warehouseId', () => assertMayHere(work, 'production.edit', place.id));
  if (made.kind !== 'stocked') throw new Refusal('notMade', `${made.code} is not kept in stock: it can't be made.`, { field: 'itemId' });
  const quantity = atField('quantity', () => parsePositiveQuantity(input.quantity, made.decimals, `the quantity of ${made.code}`));
  const startDate = input.startDate ?? startFor(work, made.id, place.id, input.dueDate);
  assertDates(work, startDate, input.dueDate);
  const lines = explodedLines(work, made.id, startDate);
  if (lines.length === 0)
    throw new Refusal('noBom', `${made.code} has no bill of materials valid on ${startDate}: set one up first.`, {
      field: 'itemId',
    });
  const number = work.nextNumber('PRD');
  const id = addRow(work, productionOrder, {
    number,
    itemId: made.id,
    warehouseId: place.id,
    quantity,
    finished: NONE,
    startDate,
    dueDate: input.dueDate,
    state: 'draft',
    note: input.note,
  });
  lines.forEach((line, index) => {
    const needed = componentQuantity(quantity, { quantity: line.per, scrap: line.scrap }, itemFacts(work, line.itemId).decimals);
    addRow(work, productionComponent, { orderId: id, position: index + 1, ...line, needed, issued: NONE });
    work.touch('stock', line.itemId, number);
  });
  work.record('productionOrder', id, `entered ${number}`);
  work.touch('stock', made.id, number);
  return productionView(work, id);
}

/** An order that works pieces over: they go in, and come out again with what was done to them. Released at once; gives its number. */
export function createRework(
  work: Work,
  input: { readonly itemId: number; readonly warehouseId: number; readonly quantity: Quantity; readonly dueDate: string; readonly note: string },
): number {
  const { itemId, warehouseId, quantity, dueDate, note } = input;
  const number = work.nextNumber('PRD');
  const id = addRow(work, productionOrder, {
    number,
    itemId,
    warehouseId,
    quantity,
    finished: NONE,
    startDate: work.today,
    dueDate,
    state: 'draft',
    note,
  });
  addRow(work, productionComponent, { orderId: id, position: 1, itemId, per: '1', scrap: '0', offsetDays: 0, needed: quantity, issued: NONE });
  work.record('productionOrder', id, `entered ${number} to work something over`);
  releaseProduction(work, id, productionOf(work, id).version);
  return id;
}

function assertDates(work: Work, startDate: string, dueDate: string): void {
  if (dueDate < work.today)
    throw new Refusal('badDate', `${dueDate} has passed: nothing can be finished before today, ${work.today}.`, { field: 'dueDate' });
  if (startDate > dueDate)
    throw new Refusal('badDate', `It can't start on ${startDate} and be due on ${dueDate} before that.`, { field: 'startDate' });
}

/** The start from the due date and the lead time of the item's rule, today at the earliest. */
function startFor(work: Work, itemId: number, warehouseId: number, dueDate: string): string {
  const leadDays = otherRooms.get().leadDays(work, itemId, warehouseId);
  const start = dateOf(calendarOf(work, warehouseId).back(dayOf(dueDate), leadDays));
  return start < work.today ? (dueDate < work.today ? dueDate : work.today) : start;
}

interface ComponentLine {
  readonly itemId: number;
  readonly per: string;
  readonly scrap: string;
  readonly offsetDays: number;
}

/** Lines valid on a date, phantoms replaced by their own; a phantom's share multiplies, so such a line has no scrap of its own. */
function explodedLines(work: Work, itemId: number, date: string): ComponentLine[] {
  return bomOf(work, itemId)
    .filter((line) => isLineValid(line, date))
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
  assertMayHere(work, 'production.edit', order.warehouseId);
  const made = itemFacts(work, order.itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(input.quantity, made.decimals, `the quantity of ${made.code}`));
  const startDate = input.startDate ?? startFor(work, made.id, order.warehouseId, input.dueDate);
  assertDates(work, startDate, input.dueDate);
  changeRow(work, productionOrder, id, { quantity, startDate, dueDate: input.dueDate, note: input.note });
  for (const component of componentsOf(work, id)) {
    setRow(work, productionComponent, component.id, {
      needed: componentQuantity(quantity, { quantity: component.per, scrap: component.scrap }, itemFacts(work, component.itemId).decimals),
    });
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
  assertMayHere(work, 'production.edit', order.warehouseId);
  for (const component of componentsOf(work, id)) {
    if (itemFacts(work, component.itemId).kind !== 'stocked') continue;
    reserveFree(
      work,
      component.itemId,
      order.warehouseId,
      { kind: 'productionOrder', id: component.id, documentId: id, documentNumber: order.number },
      stillNeeded(component),
    );
    work.touch('stock', component.itemId, order.number);
  }
  work.touch('stock', order.itemId, order.number);
  changeRow(work, productionOrder, id, { state: 'released' });
  work.record('productionOrder', id, `released ${order.number}`);
  return productionView(work, id);
}

/** Cancels what is not finished and gives its components up. Refuses `worksOver` where it works over what came back: that would be free to be sold. */
export function cancelProduction(work: Work, id: number, version: number, reason: string): ProductionView {
  const order = productionOf(work, id);
  assertVersion(work, 'productionOrder', order, version, order.number);
  if (order.state === 'finished' || order.state === 'settled' || order.state === 'cancelled')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to cancel.`);
  assertMayHere(work, 'production.edit', order.warehouseId);
  if (componentsOf(work, id).some(({ itemId }) => itemId === order.itemId))
    throw new Refusal(
      'worksOver',
      `${order.number} works over what came back: cancelled, it would be free to be sold. Finish it, and scrap what could not be mended.`,
    );
  for (const component of componentsOf(work, id)) {
    dropReservation(work, 'productionOrder', component.id);
    // Of what was finished the rest stays: it needs what it has taken, and that again if it is taken back.
    if (order.finished > 0) setRow(work, productionComponent, component.id, { needed: component.issued });
    work.touch('stock', component.itemId, order.number);
  }
  changeRow(work, productionOrder, id, {
    state: order.finished > 0 ? 'finished' : 'cancelled',
    cancelled: asQuantity(order.cancelled + toMakeOf(order)),
  });
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
  issueMore.run(work, { id: component.id, quantity });
}

/** Books what went back of a component; reserving it again is another matter. */
export function bookPutBack(work: Work, componentId: number, quantity: Quantity): void {
  issueMore.run(work, { id: componentId, quantity: asQuantity(-quantity) });
}
