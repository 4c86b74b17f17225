/** Costs of a receipt that come late, split between what is still here and what has gone. */
import { and, eq, exists, isNull, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf } from '@terrace/contract';
import { Refusal, asAmount, parseAmount, splitByWeights, writeAmount } from '@terrace/core';
import { assertPostingDate, postEvent } from '../accounts';
import { accountsOfItem } from '../catalogue';
import { flag, inner } from '../platform/expressions';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { addLateCost } from './costing';
import { lateCost, lateCostShare } from './document-schema';
import { otherRooms } from './handed-in';
import { stockMove } from './schema';

type LateCosts = AnswerOf<typeof api.stores.lateCosts>;

const contrary = alias(lateCost, 'contrary');
const hasContrary = exists(
  inner
    .select({ one: sql`1` })
    .from(contrary)
    .where(eq(contrary.reversalOf, lateCost.id)),
);
const isTakenBack = sql`${lateCost.reversalOf} is not null or ${hasContrary}`;
const ofReceipt = query(
  ($: { receiptId: number }) => (db) =>
    db
      .select({
        id: lateCost.id,
        number: lateCost.number,
        date: lateCost.date,
        what: lateCost.what,
        amount: lateCost.amount,
        inStock: lateCost.inStock,
        note: lateCost.note,
        reversed: flag(isTakenBack),
      })
      .from(lateCost)
      .where(eq(lateCost.receiptId, $.receiptId))
      .orderBy(lateCost.id),
);

export function lateCostsOf(work: Work, receiptId: number): LateCosts {
  return ofReceipt.all(work, { receiptId }).map((row) => ({
    ...row,
    amount: writeAmount(row.amount),
    inStock: writeAmount(row.inStock),
    gone: writeAmount(row.amount - row.inStock),
  }));
}

const received = {
  id: stockMove.id,
  item: stockMove.itemId,
  warehouse: stockMove.toId,
  quantity: stockMove.quantity,
};
const movesOfReceipt = query(
  ($: { receiptId: number }) => (db) =>
    db
      .select({ ...received, worth: sql<number>`${stockMove.value} + ${stockMove.variance}` })
      .from(stockMove)
      .where(
        and(
          eq(stockMove.documentKind, 'receipt'),
          eq(stockMove.documentId, $.receiptId),
          eq(stockMove.fromKind, 'supplier'),
          isNull(stockMove.reversalOf),
        ),
      )
      .orderBy(stockMove.id),
);
type ReceivedMove = ReturnType<typeof movesOfReceipt.all>[number];
const sharesOf = query(
  ($: { lateCostId: number }) => (db) =>
    db
      .select({ ...received, worth: sql<number>`${stockMove.value}`, amount: lateCostShare.amount })
      .from(lateCostShare)
      .innerJoin(stockMove, eq(stockMove.id, lateCostShare.moveId))
      .where(eq(lateCostShare.lateCostId, $.lateCostId))
      .orderBy(lateCostShare.id),
);
const byId = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: lateCost.number, receiptId: lateCost.receiptId, what: lateCost.what, amount: lateCost.amount, reversed: flag(isTakenBack) })
      .from(lateCost)
      .where(eq(lateCost.id, $.id)),
);

/** Adds a cost to a receipt, split over its lines by their worth: what is still here takes its share, the rest is a difference. */
export function chargeLate(work: Work, receiptId: number, input: BodyOf<typeof api.stores.addLateCost>): LateCosts {
  const receipt = otherRooms.get().receiptOf(work, receiptId);
  if (receipt.reversed) throw new Refusal('alreadyReversed', `${receipt.number} has been taken back: nothing can be added to it.`);
  const amount = atField('amount', () => parseAmount(input.amount, 'the amount'));
  if (amount === 0) throw new Refusal('nothingChanges', 'A cost of 0 changes nothing.', { field: 'amount' });
  const moves = movesOfReceipt.all(work, { receiptId });
  if (moves.length === 0) throw new Refusal('nothingStocked', `${receipt.number} brought nothing into stock: book the cost with its invoice.`);
  const weights = moves.some((move) => move.worth > 0) ? moves.map((move) => move.worth) : moves.map((move) => move.quantity);
  const parts = splitByWeights(amount, weights);
  bookLate(
    work,
    receiptId,
    receipt.number,
    input,
    amount,
    moves.map((move, index) => ({ move, part: parts[index] ?? 0 })),
    null,
  );
  return lateCostsOf(work, receiptId);
}

function bookLate(
  work: Work,
  receiptId: number,
  receipt: string,
  input: { what: LateCosts[number]['what']; date?: string | undefined; note: string },
  amount: number,
  parts: readonly { readonly move: ReceivedMove; readonly part: number }[],
  reversalOf: number | null,
): void {
  const date = input.date ?? work.today;
  assertPostingDate(work, date);
  const shares = parts.map(({ move, part }) => {
    const facts = accountsOfItem(work, move.item);
    const value = addLateCost(work, facts, move, asAmount(part), { of: move.id, quantity: move.quantity }, date);
    return { move, part, value, inventoryAccount: facts.inventoryAccount };
  });
  const number = work.nextNumber('LC');
  const inStock = asAmount(shares.reduce((sum, share) => sum + share.value, 0));
  const id = addRow(work, lateCost, { number, date, receiptId, what: input.what, amount: asAmount(amount), inStock, note: input.note, reversalOf });
  for (const { move, part, value } of shares) addRow(work, lateCostShare, { lateCostId: id, moveId: move.id, amount: asAmount(part), value });
  postEvent(work, { kind: 'lateCost', id, number }, date, { kind: 'lateCost', stock: shares, amount: asAmount(amount) });
  work.link('receipt', receiptId, 'lateCost', id);
  work.record('lateCost', id, `added ${writeAmount(amount)} to ${receipt}`);
  for (const { move } of shares) work.touch('stock', move.item, number, true);
}

/** Takes a late cost back: the same amounts again with the other sign, split by what is still here now. */
export function reverseLateCost(work: Work, id: number): LateCosts {
  const cost = orNotFound(byId.one(work, { id }), 'late cost');
  if (cost.reversed) throw new Refusal('alreadyReversed', `${cost.number} has been taken back already.`);
  const { number: receipt } = otherRooms.get().receiptOf(work, cost.receiptId);
  const parts = sharesOf.all(work, { lateCostId: id }).map((move) => ({ move, part: -move.amount }));
  bookLate(work, cost.receiptId, receipt, { what: cost.what, note: `${cost.number} taken back` }, -cost.amount, parts, id);
  return lateCostsOf(work, cost.receiptId);
}
