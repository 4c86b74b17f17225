/** Adjusting stock, by a change or to a new quantity, for a reason that carries the account. */
import type { api } from '@terrace/contract';
import { type BodyOf } from '@terrace/contract';
import { Refusal, asAmount, asQuantity, extend, parsePrice, parseQuantity, unitCostOf, asPrice, type Place, type Quantity } from '@terrace/core';
import { binOf, usableItem, warehouseOf } from '../catalogue';
import { atField, orNotFound, type Work } from '../platform/work';
import { postMoves, type MoveRequest } from './post-moves';

type Input = BodyOf<typeof api.stores.adjust>;
type Line = Input['lines'][number];

/** Posts an adjustment. Never below what is reserved, never below zero. */
export function adjustStock(work: Work, input: Input): { id: number; number: string } {
  const reason = orNotFound(
    work.row<{ account: string; name: string; noteNeeded: number }>(
      'select account, name, note_needed as noteNeeded from reason where code = ?',
      input.reason,
    ),
    'reason',
  );
  if (reason.noteNeeded === 1 && input.note === '')
    throw new Refusal('noteNeeded', `"${reason.name}" needs a note: say what happened.`, { field: 'note' });
  warehouseOf(work, input.warehouseId);
  const date = input.date ?? work.today;
  const number = work.nextNumber('ADJ');
  const { id } = work.run(
    'insert into adjustment (number, date, warehouse_id, reason, note) values (?, ?, ?, ?, ?)',
    number,
    date,
    input.warehouseId,
    input.reason,
    input.note,
  );
  const moves = input.lines.flatMap((line, index) => atField(`lines.${index}`, () => moveOf(work, input.warehouseId, id, line)));
  if (moves.length === 0) throw new Refusal('nothingChanges', 'Nothing would change: every line is at its new quantity already.');
  const document = { kind: 'adjustment', id, number } as const;
  postMoves(work, {
    document,
    date,
    moves,
    note: input.note,
    entry: {
      event: (valued) => ({
        kind: 'adjustment',
        account: reason.account,
        stock: valued.map((move) => ({
          inventoryAccount: move.inventoryAccount,
          value: asAmount(move.to.kind === 'stock' ? move.worth : -move.worth),
        })),
      }),
    },
  });
  work.record('adjustment', id, `adjusted stock: ${reason.name}`);
  return { id, number };
}

function moveOf(work: Work, warehouse: number, adjustment: number, line: Line): MoveRequest[] {
  const item = usableItem(work, line.itemId);
  const key = { item: item.id, warehouse, bin: binOf(work, warehouse, line.binId), lot: '', serial: '', state: 'available' as const };
  const there =
    work.row<{ quantity: number }>(
      "select quantity from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = '' and serial = '' and state = 'available'",
      key.item,
      key.warehouse,
      key.bin,
    )?.quantity ?? 0;
  const change = changeOf(line, item.decimals, there);
  if (change === 0) return [];
  const stock: Place = { kind: 'stock', key };
  const outside: Place = { kind: 'adjustment', id: adjustment };
  const quantity = asQuantity(Math.abs(change));
  if (change < 0) return [{ item: item.id, quantity, from: stock, to: outside }];
  const cost =
    line.unitCost === undefined
      ? currentCost(work, item.id, warehouse)
      : atField('unitCost', () => parsePrice(line.unitCost ?? '0', 'the unit cost'));
  return [{ item: item.id, quantity, from: outside, to: stock, value: extend(quantity, asPrice(cost)) }];
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

function currentCost(work: Work, item: number, warehouse: number): number {
  const pool = work.row<{ quantity: number; value: number }>(
    'select quantity, value from cost_pool where item_id = ? and warehouse_id = ? and quantity > 0',
    item,
    warehouse,
  );
  return pool ? unitCostOf(asAmount(pool.value), asQuantity(pool.quantity)) : 0;
}
