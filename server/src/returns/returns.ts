/** Customers' returns: authorised, received to be held, decided on, made good, taken back. */
import { orderInput, type BodyOf, type ReturnView, type api } from '@terrace/contract';
import { and, eq } from 'drizzle-orm';
import {
  Refusal,
  addDays,
  asAmount,
  asQuantity,
  awaited,
  costBack,
  parsePositiveQuantity,
  returnState,
  undecided,
  writeQuantity,
  type Quantity,
  leastQuantity,
  type StockKey,
} from '@terrace/core';
import { invoiceOf, raiseCredit, worthBack, type CreditedLine, type LineCredit } from '../accounts';
import { assertMayHere, binOf, itemFacts, reason as reasons, usableWarehouse } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { trailLink } from '../platform/schema';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { createRework } from '../production';
import { createOrder, orderOf } from '../selling';
import { balanceAt, lotNamed, postMoves, reverseMoves, type MoveRequest } from '../stores';
import { invoicedLines } from './invoiced';
import { returningOf, shippedPieces, type Shipped } from './returnable';
import { replacementOf, returnLines, returnOf, returnView } from './return-view';
import { customerReturn, customerReturnLine, returnDecision } from './schema';

type Line = typeof customerReturnLine.$inferSelect;
type Return = typeof customerReturn.$inferSelect;

/** What a piece is called in words. */
function named(work: Work, { itemId, lot, serial }: Pick<Shipped, 'itemId' | 'lot' | 'serial'>): string {
  return [itemFacts(work, itemId).code, lot, serial].filter(Boolean).join(' ');
}

/** Agrees that something comes back. Refuses what did not leave with the order, and more than is still out. */
export function authorise(work: Work, input: BodyOf<typeof api.returns.authorise>): ReturnView {
  const order = orderOf(work, input.orderId);
  const warehouse = atField('warehouseId', () => usableWarehouse(work, input.warehouseId ?? order.warehouseId));
  const left = shippedPieces(work, order.id);
  const seen = new Set<Shipped>();
  const lines = input.lines.map(({ shipmentLineId, lot, serial, quantity: text }, index) => {
    const field = `lines.${index}.quantity`;
    const piece = left.find((each) => each.shipmentLineId === shipmentLineId && each.lot === lot && each.serial === serial);
    if (!piece) throw new Refusal('unknownLine', `This did not leave with ${order.number}.`, { field });
    if (seen.has(piece)) throw new Refusal('twice', `${named(work, piece)} is there twice: give one quantity for it.`, { field });
    seen.add(piece);
    const quantity = atField(field, () =>
      parsePositiveQuantity(text, itemFacts(work, piece.itemId).decimals, `the quantity of ${named(work, piece)}`),
    );
    assertAtMost(
      quantity,
      asQuantity(piece.quantity - returningOf(work, piece).quantity),
      `of ${named(work, piece)} are still with the customer`,
      field,
    );
    return { ...piece, quantity };
  });
  const number = work.nextNumber('RET');
  const id = addRow(work, customerReturn, {
    number,
    orderId: order.id,
    warehouseId: warehouse.id,
    date: work.today,
    reason: input.reason,
    state: 'authorised',
  });
  for (const { shipmentLineId, orderLineId, itemId, lot, serial, quantity } of lines)
    addRow(work, customerReturnLine, { returnId: id, shipmentLineId, orderLineId, itemId, lot, serial, quantity });
  for (const shipmentId of new Set(lines.map((line) => line.shipmentId))) work.link('shipment', shipmentId, 'customerReturn', id);
  work.record('customerReturn', id, `agreed that ${lines.map((line) => named(work, line)).join(', ')} come back: ${input.reason}`);
  work.touch('customerOrder', order.id, `return ${number} agreed`);
  return returnView(work, id);
}

function assertAtMost(quantity: Quantity, most: Quantity, words: string, field: string): void {
  if (quantity > most)
    throw new Refusal('tooMuch', `Only ${writeQuantity(Math.max(0, most))} ${words}.`, { field, most: writeQuantity(Math.max(0, most)) });
}

interface Asked {
  readonly line: Line;
  readonly quantity: Quantity;
}

/** The lines that were asked about, at most as much of each as `most` says. */
function readLines(
  work: Work,
  kept: Return,
  asked: BodyOf<typeof api.returns.receiveReturn>['lines'],
  most: (line: Line) => Quantity,
  words: string,
): Asked[] {
  const lines = returnLines(work, kept.id);
  return asked.map(({ lineId, quantity: text }, index) => {
    const field = `lines.${index}.quantity`;
    const line = lines.find((each) => each.id === lineId);
    if (!line || asked.some((other, at) => at < index && other.lineId === lineId))
      throw new Refusal('unknownLine', `This line is not on ${kept.number}, or is there twice.`, { field });
    const quantity = atField(field, () => parsePositiveQuantity(text, itemFacts(work, line.itemId).decimals, `the quantity of ${named(work, line)}`));
    assertAtMost(quantity, most(line), `of ${named(work, line)} ${words}`, field);
    return { line, quantity };
  });
}

/** A return that goes on. Refuses `staleVersion`, `wrongState`. */
function going(work: Work, id: number, version: number): Return {
  const kept = returnOf(work, id);
  assertVersion(work, 'customerReturn', kept, version, kept.number);
  if (kept.state === 'cancelled') throw new Refusal('wrongState', `${kept.number} is cancelled: nothing comes back on it.`);
  return kept;
}

function refresh(work: Work, id: number): ReturnView {
  changeRow(work, customerReturn, id, { state: returnState(returnLines(work, id)) });
  return returnView(work, id);
}

/** Takes in what came: it is held, at the cost at which it left. */
export function receiveReturn(work: Work, id: number, input: BodyOf<typeof api.returns.receiveReturn>): ReturnView {
  const kept = going(work, id, input.version);
  assertMayHere(work, 'stores.adjust', kept.warehouseId);
  const asked = readLines(work, kept, input.lines, awaited, 'are still to come');
  const bin = binOf(work, kept.warehouseId, input.binId);
  const { customerId } = orderOf(work, kept.orderId);
  const left = shippedPieces(work, kept.orderId);
  const arrived = asked.map(({ line, quantity }) => {
    const piece = left.find((each) => each.shipmentLineId === line.shipmentLineId && each.lot === line.lot && each.serial === line.serial);
    if (!piece) throw new Refusal('unknownLine', `${named(work, line)} did not leave any more: its shipment was taken back.`);
    const before = returningOf(work, line);
    const value = costBack(piece, { quantity: before.received, value: before.value }, quantity);
    setRow(work, customerReturnLine, line.id, { received: asQuantity(line.received + quantity), value: asAmount(line.value + value), binId: bin });
    return { line, quantity, value };
  });
  postMoves(work, {
    document: { kind: 'customerReturn', id, number: kept.number },
    date: work.today,
    moves: arrived.map(({ line, quantity, value }): MoveRequest => ({
      item: line.itemId,
      quantity,
      value,
      from: { kind: 'customer', id: customerId },
      to: { kind: 'stock', key: { ...placeIn(kept, line, bin), state: 'held' } },
    })),
    note: kept.reason,
    entry: {
      event: (moves) => ({
        kind: 'customerReturn',
        stock: moves.map(({ inventoryAccount, costOfSalesAccount, worth }) => ({ inventoryAccount, costOfSalesAccount, value: worth })),
      }),
    },
  });
  work.record('customerReturn', id, `took in ${wordsOf(work, asked)}`);
  return refresh(work, id);
}

const placeIn = ({ warehouseId }: Return, { itemId, lot, serial }: Line, bin: number) => ({ item: itemId, warehouse: warehouseId, bin, lot, serial });
const wordsOf = (work: Work, asked: readonly Asked[]): string =>
  asked.map(({ line, quantity }) => `${writeQuantity(quantity)} ${named(work, line)}`).join(', ');

const reasonCalled = query(
  ($: { code: string }) => (db) =>
    db.select({ name: reasons.name, account: reasons.account, active: reasons.active }).from(reasons).where(eq(reasons.code, $.code)),
);

/** Decides on pieces that are held. Scrap takes a reason, whose account bears what they were worth. */
export function decideReturn(work: Work, id: number, input: BodyOf<typeof api.returns.decideReturn>): ReturnView {
  const kept = going(work, id, input.version);
  assertMayHere(work, 'stores.adjust', kept.warehouseId);
  const asked = readLines(work, kept, input.lines, undecided, 'wait to be decided on');
  const why = input.decision === 'scrap' ? scrap(work, kept, asked, input) : letGo(work, kept, asked, input.note);
  for (const { line, quantity } of asked) {
    const productionId = input.decision === 'rework' ? rework(work, kept, line, quantity) : null;
    addRow(work, returnDecision, { lineId: line.id, decision: input.decision, quantity, date: work.today, why, productionId, userId: work.actor.id });
    setRow(work, customerReturnLine, line.id, { decided: asQuantity(line.decided + quantity) });
  }
  work.record('customerReturn', id, `${DECIDED[input.decision]} ${wordsOf(work, asked)}${why === '' ? '' : `: ${why}`}`);
  return refresh(work, id);
}
const DECIDED = { restock: 'put back into stock', rework: 'has worked over', scrap: 'scrapped' } as const;

function assertNotBlocked(work: Work, itemId: number, lot: string): void {
  const known = lot === '' ? undefined : lotNamed(work, itemId, lot);
  if (known?.blocked === true)
    throw new Refusal(
      'blocked',
      `Lot ${lot} of ${itemFacts(work, itemId).code} is blocked${known.blockReason === '' ? '' : `: ${known.blockReason}`}. Nothing of it goes back into stock until it is freed; scrap it, or decide later.`,
      { field: 'decision', lot },
    );
}

/** What was held is available again. Refuses `blocked` where its lot is. */
function letGo(work: Work, kept: Return, asked: readonly Asked[], note: string): string {
  for (const { line } of asked) assertNotBlocked(work, line.itemId, line.lot);
  postMoves(work, {
    document: { kind: 'customerReturn', id: kept.id, number: kept.number },
    date: work.today,
    // What was freed with its lot meanwhile is available already.
    moves: asked.flatMap(({ line, quantity }): MoveRequest[] => {
      const held: StockKey = { ...placeIn(kept, line, line.binId), state: 'held' };
      const still = leastQuantity(quantity, balanceAt(work, held));
      if (still === 0) return [];
      return [
        { item: line.itemId, quantity: still, from: { kind: 'stock', key: held }, to: { kind: 'stock', key: { ...held, state: 'available' } } },
      ];
    }),
    note,
    entry: { event: () => ({ kind: 'transfer' }) },
  });
  return note;
}

function scrap(work: Work, kept: Return, asked: readonly Asked[], { reason: code, note }: BodyOf<typeof api.returns.decideReturn>): string {
  const reason = reasonCalled.one(work, { code });
  if (!reason?.active) throw new Refusal('unknownChoice', 'Say for which reason it is scrapped: choose one from the list.', { field: 'reason' });
  postMoves(work, {
    document: { kind: 'customerReturn', id: kept.id, number: kept.number },
    date: work.today,
    moves: asked.map(({ line, quantity }): MoveRequest => ({
      item: line.itemId,
      quantity,
      from: { kind: 'stock', key: { ...placeIn(kept, line, line.binId), state: 'held' } },
      to: { kind: 'adjustment', id: kept.id },
    })),
    note,
    entry: {
      event: (moves) => ({
        kind: 'adjustment',
        account: reason.account,
        stock: moves.map(({ inventoryAccount, worth }) => ({ inventoryAccount, value: asAmount(-worth) })),
      }),
    },
  });
  return note === '' ? reason.name : `${reason.name}, ${note}`;
}

/** Days in which something is worked over, unless somebody says otherwise on the production order. */
const REWORK_DAYS = 7;

function rework(work: Work, kept: Return, line: Line, quantity: Quantity): number {
  const made = createRework(work, {
    itemId: line.itemId,
    warehouseId: kept.warehouseId,
    quantity,
    dueDate: addDays(work.today, REWORK_DAYS),
    note: `Worked over: ${named(work, line)} of ${kept.number}, ${kept.reason}`,
  });
  work.link('customerReturn', kept.id, 'productionOrder', made);
  return made;
}

/** Gives back what was charged for what came in and is not credited. Refuses what is on no invoice. */
export function creditReturn(work: Work, id: number, version: number): ReturnView {
  const kept = going(work, id, version);
  const open = returnLines(work, id).filter((line) => line.received > line.credited);
  if (open.length === 0) throw new Refusal('nothingToCredit', `Nothing has come in on ${kept.number} that is not given back already.`);
  const replaced = replacementOf(work, kept);
  if (replaced) throw new Refusal('wrongState', `${replaced.number} replaces it: what is replaced is not given back in money too.`);
  const byInvoice = new Map<number, LineCredit[]>();
  for (const line of open) {
    let left = line.received - line.credited;
    for (const { line: charged, left: most } of invoicedLines(work, line.orderLineId)) {
      const given = byInvoice.get(charged.invoiceId)?.find((each) => each.line.id === charged.id);
      const quantity = asQuantity(Math.min(left, most - (given?.quantity ?? 0)));
      if (quantity <= 0) continue;
      left -= quantity;
      const others = (byInvoice.get(charged.invoiceId) ?? []).filter((each) => each !== given);
      const all = asQuantity(quantity + (given?.quantity ?? 0));
      byInvoice.set(charged.invoiceId, [...others, { line: charged, quantity: all, amount: worthBack(work, charged, all) }]);
    }
    if (left > 0)
      throw new Refusal(
        'notInvoiced',
        `${writeQuantity(left)} of ${named(work, line)} are not invoiced: invoice what was shipped first, or replace them.`,
      );
    setRow(work, customerReturnLine, line.id, { credited: line.received });
  }
  for (const [invoiceId, credits] of byInvoice) {
    const note = raiseCredit(work, invoiceOf(work, invoiceId), credits, `${kept.number}: ${kept.reason}`);
    work.link('customerReturn', id, 'invoice', note);
  }
  work.record('customerReturn', id, `gave back what was charged for ${kept.number}`);
  return refresh(work, id);
}

const creditedBy = query(
  ($: { invoiceId: number }) => (db) =>
    db
      .select({ id: trailLink.fromId })
      .from(trailLink)
      .where(and(eq(trailLink.fromKind, 'customerReturn'), eq(trailLink.toKind, 'invoice'), eq(trailLink.toId, $.invoiceId))),
);

/** A credit note is taken back: what it gave back of returns may be given back once more, or replaced. */
export function freeCredited(work: Work, credit: { readonly id: number; readonly number: string }, freed: readonly CreditedLine[]): void {
  for (const { id } of creditedBy.all(work, { invoiceId: credit.id })) {
    const lines = returnLines(work, id);
    const left = new Map<number, number>();
    for (const { orderLineId, quantity } of freed) left.set(orderLineId, (left.get(orderLineId) ?? 0) + quantity);
    for (const { id: lineId, orderLineId, credited } of lines) {
      const part = Math.min(credited, left.get(orderLineId) ?? 0);
      if (part <= 0) continue;
      left.set(orderLineId, (left.get(orderLineId) ?? 0) - part);
      setRow(work, customerReturnLine, lineId, { credited: asQuantity(credited - part) });
    }
    changeRow(work, customerReturn, id, { state: returnState(returnLines(work, id)) });
    work.record('customerReturn', id, `has ${credit.number} taken back: it may be given back once more, or replaced`);
  }
}

/** Enters the same once more as a draft, free of charge. Refuses what was given back in money. */
export function replaceReturn(work: Work, id: number, version: number): ReturnView {
  const kept = going(work, id, version);
  const replaced = replacementOf(work, kept);
  if (replaced) throw new Refusal('wrongState', `${replaced.number} replaces ${kept.number} already.`);
  const lines = returnLines(work, id);
  if (lines.some((line) => line.credited > 0))
    throw new Refusal('wrongState', `What came back on ${kept.number} was given back in money: it is not replaced too.`);
  const order = orderOf(work, kept.orderId);
  const items = new Map<number, number>();
  for (const line of lines) items.set(line.itemId, (items.get(line.itemId) ?? 0) + line.quantity);
  const replacement = createOrder(
    work,
    orderInput.parse({
      customerId: order.customerId,
      reference: kept.number,
      requiredDate: work.today,
      warehouseId: kept.warehouseId,
      note: `Replaces ${kept.number}: ${kept.reason}`,
      shipTo: order.shipTo,
      charges: false,
      lines: [...items].map(([itemId, quantity]) => ({
        itemId,
        quantity: writeQuantity(quantity),
        free: writeQuantity(quantity),
      })),
    }),
  );
  changeRow(work, customerReturn, id, { replacementId: replacement.id });
  work.link('customerReturn', id, 'customerOrder', replacement.id);
  work.record('customerReturn', id, `${replacement.number} replaces ${kept.number}`);
  return returnView(work, id);
}

/** Cancels a return of which nothing came; where something was taken in and nothing decided, takes that back. */
export function takeReturnBack(work: Work, id: number, version: number): ReturnView {
  const kept = going(work, id, version);
  const lines = returnLines(work, id);
  if (lines.some((line) => line.decided > 0 || line.credited > 0))
    throw new Refusal('wrongState', `Something of ${kept.number} is decided on or given back: it can’t be taken back any more.`);
  const replaced = replacementOf(work, kept);
  if (replaced) throw new Refusal('wrongState', `${replaced.number} replaces what comes back on ${kept.number}: cancel that order first.`);
  if (lines.every((line) => line.received === 0)) {
    changeRow(work, customerReturn, id, { state: 'cancelled' });
    work.record('customerReturn', id, `cancelled ${kept.number}`);
    return returnView(work, id);
  }
  assertMayHere(work, 'stores.adjust', kept.warehouseId);
  reverseMoves(work, { kind: 'customerReturn', id, number: kept.number }, work.today);
  for (const line of lines) setRow(work, customerReturnLine, line.id, { received: asQuantity(0), value: asAmount(0) });
  work.record('customerReturn', id, `took back what was taken in on ${kept.number}`);
  return refresh(work, id);
}
