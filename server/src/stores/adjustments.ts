/** Adjusting stock, by a change or to a new quantity, for a reason that carries the account. */
import type { api } from '@terrace/contract';
import { type AdjustmentView, type AnswerOf, type BodyOf, type ListQuery } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  extend,
  parseAskedPrice,
  parseQuantity,
  writeAmount,
  writeQuantity,
  type Amount,
  type Place,
  type Quantity,
  type StockState,
} from '@terrace/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { accountName } from '../accounts';
import { bin, binOf, item as items, reason as reasons, usableItem, warehouse, usableWarehouse } from '../catalogue';
import { inner, scalar, total } from '../platform/expressions';
import { asAmountText, asFlag, asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { atField, atRow } from '../platform/fields';
import { addRow, orNotFound, setRow } from '../platform/rows';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { postMoves, reverseMoves, type MoveRequest, type ValuedMove } from './post-moves';
import { piecesComing, piecesNamed, trackingOf, type Piece } from './tracking';
import { balanceAt } from './balances';
import { adjustment, stockMove } from './schema';
import { stockCost } from './unit-cost';

type Input = BodyOf<typeof api.stores.adjust>;
type Line = Input['lines'][number];

const comesIn = sql`${stockMove.toKind} = 'stock'`;
const quantityAdjusted = sql<Quantity>`case when ${comesIn} then ${stockMove.quantity} else -${stockMove.quantity} end`;
const valueAdjusted = sql<Amount>`case when ${comesIn} then ${stockMove.value} else -${stockMove.value} end`;
const itsMoves = and(eq(stockMove.documentKind, 'adjustment'), eq(stockMove.documentId, adjustment.id));

const itemsMoved = inner
  .selectDistinct({ code: items.code })
  .from(stockMove)
  .innerJoin(items, eq(items.id, stockMove.itemId))
  .where(itsMoves)
  .as('moved');
const whoMoved = inner.select({ name: user.name }).from(stockMove).innerJoin(user, eq(user.id, stockMove.userId)).where(itsMoves).limit(1);

const adjustments = list(() => ({
  columns: {
    id: asNumber(adjustment.id),
    number: asText(adjustment.number),
    date: asText(adjustment.date),
    warehouse: asText(warehouse.code),
    reason: asText(reasons.name),
    note: asText(adjustment.note),
    items: asText(scalar(inner.select({ codes: sql`group_concat(${itemsMoved.code}, ', ')` }).from(itemsMoved))),
    value: asAmountText(
      scalar(
        inner
          .select({ value: total(valueAdjusted) })
          .from(stockMove)
          .where(and(itsMoves, isNull(stockMove.reversalOf))),
      ),
    ),
    who: asText(sql`coalesce(${whoMoved}, '')`),
    reversed: asFlag(adjustment.reversed),
  },
  from: adjustment,
  joins: [refersTo(warehouse, eq(warehouse.id, adjustment.warehouseId)), refersTo(reasons, eq(reasons.code, adjustment.reason))],
  find: [adjustment.number, adjustment.note, reasons.name, warehouse.code],
  order: [sql`${adjustment.id} desc`],
  tie: [sql`${adjustment.id} desc`],
}));

export function listAdjustments(work: Work, asked: ListQuery): AnswerOf<typeof api.stores.listAdjustments> {
  return listPage(work, adjustments, asked);
}

const headOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        id: adjustment.id,
        number: adjustment.number,
        date: adjustment.date,
        warehouse: warehouse.code,
        reason: reasons.name,
        account: reasons.account,
        note: adjustment.note,
        reversed: adjustment.reversed,
      })
      .from(adjustment)
      .innerJoin(warehouse, eq(warehouse.id, adjustment.warehouseId))
      .innerJoin(reasons, eq(reasons.code, adjustment.reason))
      .where(eq(adjustment.id, $.id)),
);
const linesOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        itemId: stockMove.itemId,
        code: items.code,
        description: items.description,
        unit: items.unitCode,
        bin: bin.code,
        lot: sql<string>`${stockMove.fromLot} || ${stockMove.toLot}`,
        serial: sql<string>`${stockMove.fromSerial} || ${stockMove.toSerial}`,
        state: sql<StockState>`${stockMove.fromState} || ${stockMove.toState}`,
        change: quantityAdjusted,
        value: valueAdjusted,
        who: user.name,
      })
      .from(stockMove)
      .innerJoin(items, eq(items.id, stockMove.itemId))
      .innerJoin(user, eq(user.id, stockMove.userId))
      .innerJoin(bin, sql`${bin.id} = max(${stockMove.fromBinId}, ${stockMove.toBinId})`)
      .where(and(eq(stockMove.documentKind, 'adjustment'), eq(stockMove.documentId, $.id), isNull(stockMove.reversalOf)))
      .orderBy(stockMove.id),
);

export function adjustmentView(work: Work, id: number): AdjustmentView {
  const { account, ...head } = orNotFound(headOf.one(work, { id }), 'adjustment');
  const lines = linesOf.all(work, { id });
  return {
    ...head,
    account: `${account} ${accountName(work, account) ?? ''}`,
    who: lines[0]?.who ?? '',
    value: writeAmount(lines.reduce((sum, line) => sum + line.value, 0)),
    lines: lines.map(({ who: _, ...line }) => ({ ...line, change: writeQuantity(line.change), value: writeAmount(line.value) })),
  };
}

/** Posts an adjustment. Never below what is reserved, never below zero. */
export function adjustStock(work: Work, input: Input): { id: number; number: string } {
  const reason = reasonOf(work, input.reason);
  if (!reason.active) throw new Refusal('closed', `The reason "${reason.name}" is not used any more: choose another.`, { field: 'reason' });
  if (reason.noteNeeded && input.note === '') throw new Refusal('noteNeeded', `"${reason.name}" needs a note: say what happened.`, { field: 'note' });
  usableWarehouse(work, input.warehouseId);
  const date = input.date ?? work.today;
  const number = work.nextNumber('ADJ');
  const { warehouseId, note } = input;
  const id = addRow(work, adjustment, { number, date, warehouseId, reason: input.reason, note });
  const counted = new Set<string>();
  input.lines.forEach((line, index) => {
    if (line.newQuantity === undefined) return;
    const place = [line.itemId, line.binId ?? 0, line.state ?? 'available', line.pieces?.[0]?.lot?.trim() ?? ''].join(' ');
    if (counted.has(place))
      throw new Refusal('countedTwice', 'This place is counted in a line above already: give it one new quantity.', {
        field: `lines.${index}.newQuantity`,
      });
    counted.add(place);
  });
  const moves = input.lines.flatMap((line, index) => atRow(`lines.${index}`, () => movesOf(work, input.warehouseId, id, line, date)));
  if (moves.length === 0) throw new Refusal('nothingChanges', 'Nothing would change: every line is at its new quantity already.');
  const document = { kind: 'adjustment', id, number } as const;
  postMoves(work, { document, date, moves, note: input.note, entry: { event: (valued) => adjustmentEvent(valued, reason.account) } });
  work.record('adjustment', id, `adjusted stock: ${reason.name}`);
  return { id, number };
}

/** What an adjustment posts: stock against the account of its reason. */
export function adjustmentEvent(
  moves: readonly ValuedMove[],
  account: string,
): { kind: 'adjustment'; account: string; stock: { inventoryAccount: string; value: ReturnType<typeof asAmount> }[] } {
  return {
    kind: 'adjustment',
    account,
    stock: moves.map((move) => ({ inventoryAccount: move.inventoryAccount, value: asAmount(move.to.kind === 'stock' ? move.worth : -move.worth) })),
  };
}

/** A reason with its account. Refuses `notFound`. */
export function reasonOf(work: Work, code: string): typeof reasons.$inferSelect {
  return orNotFound(reasonByCode.one(work, { code }), 'reason');
}
const reasonByCode = query(($: { code: string }) => (db) => db.select().from(reasons).where(eq(reasons.code, $.code)));

function movesOf(work: Work, warehouseId: number, adjustmentId: number, line: Line, date: string): MoveRequest[] {
  const item = usableItem(work, line.itemId);
  const { tracking } = trackingOf(work, item.id);
  const binId = binOf(work, warehouseId, line.binId);
  const state = line.state ?? 'available';
  if (state === 'inTransit') throw new Refusal('wrongState', 'What is in transit is received, not adjusted.', { field: 'state' });
  const [only, second] = line.pieces ?? [];
  const lot = tracking === 'lot' ? (only?.lot?.trim() ?? '') : '';
  if (line.newQuantity !== undefined && tracking === 'lot' && (lot === '' || second))
    throw new Refusal('lotNeeded', `${item.code} is kept by lot: say of which one lot this is the new quantity.`, { field: 'pieces' });
  if (line.newQuantity !== undefined && tracking === 'serial')
    throw new Refusal('serialNeeded', `Each piece of ${item.code} has a number: give the change, with the numbers that come or go.`, {
      field: 'newQuantity',
    });
  const there = balanceAt(work, { item: item.id, warehouse: warehouseId, bin: binId, lot, serial: '', state });
  const change = changeOf(line, item.decimals, there);
  if (change === 0) return [];
  const quantity = asQuantity(Math.abs(change));
  const placeOf = (piece: Piece): Place => ({
    kind: 'stock',
    key: { item: item.id, warehouse: warehouseId, bin: binId, lot: piece.lot, serial: piece.serial, state },
  });
  const outside: Place = { kind: 'adjustment', id: adjustmentId };
  const untracked: Piece[] = [{ lot: '', serial: '', quantity }];
  if (change < 0) {
    const named = tracking === 'none' ? untracked : piecesNamed(work, item.id, quantity, line.pieces ?? []);
    return named.map((piece) => ({ item: item.id, quantity: piece.quantity, from: placeOf(piece), to: outside }));
  }
  const { unitCost } = line;
  const cost = unitCost === undefined ? stockCost(work, item.id, warehouseId) : atField('unitCost', () => parseAskedPrice(unitCost, 'the unit cost'));
  const whole = line.newQuantity === undefined ? line.pieces : line.pieces?.map((piece) => ({ ...piece, quantity: undefined }));
  return piecesComing(work, item.id, quantity, whole, { date }).map((piece) => ({
    item: item.id,
    quantity: piece.quantity,
    from: outside,
    to: placeOf(piece),
    value: extend(piece.quantity, asPrice(cost)),
  }));
}

function changeOf(line: Line, decimals: number, there: number): Quantity {
  const { change, newQuantity } = line;
  if ((change === undefined) === (newQuantity === undefined))
    throw new Refusal('oneOfTwo', 'Give either the change or the new quantity.', { field: 'change' });
  if (change !== undefined) return atField('change', () => parseQuantity(change, decimals, 'the change'));
  const target = atField('newQuantity', () => parseQuantity(newQuantity ?? '', decimals, 'the new quantity'));
  if (target < 0) throw new Refusal('negative', 'The new quantity can’t be below 0.', { field: 'newQuantity' });
  return asQuantity(target - there);
}

/** Takes an adjustment back by contrary moves. Refused where what it brought is used or promised meanwhile. */
export function reverseAdjustment(work: Work, id: number): AdjustmentView {
  const { number, reversed } = adjustmentView(work, id);
  if (reversed) throw new Refusal('alreadyReversed', `${number} has been taken back already.`);
  reverseMoves(work, { kind: 'adjustment', id, number }, work.today);
  setRow(work, adjustment, id, { reversed: true });
  work.record('adjustment', id, `took ${number} back`);
  return adjustmentView(work, id);
}
