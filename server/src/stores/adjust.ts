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
  type Place,
  type Quantity,
} from '@terrace/core';
import { binOf, usableItem, warehouseOf } from '../catalogue';
import { asAmountText, asFlag, asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { atField, atRow, orNotFound, type Work } from '../platform/work';
import { postMoves, reverseMoves, type MoveRequest, type ValuedMove } from './post-moves';
import { piecesComing, piecesNamed, trackingOf, type Piece } from './tracked';
import { stockCost } from './worth';

type Input = BodyOf<typeof api.stores.adjust>;
type Line = Input['lines'][number];

const ADJUSTED = "case when m.to_kind = 'stock' then m.quantity else -m.quantity end";
const ADJUSTED_VALUE = "case when m.to_kind = 'stock' then m.value else -m.value end";

const adjustments: ListDefinition = {
  columns: {
    id: asNumber('a.id'),
    number: asText('a.number'),
    date: asText('a.date'),
    warehouse: asText('w.code'),
    reason: asText('r.name'),
    note: asText('a.note'),
    items: asText(
      "(select group_concat(code, ', ') from (select distinct i.code from stock_move m join item i on i.id = m.item_id where m.document_kind = 'adjustment' and m.document_id = a.id))",
    ),
    value: asAmountText(
      `coalesce((select sum(${ADJUSTED_VALUE}) from stock_move m where m.document_kind = 'adjustment' and m.document_id = a.id and m.reversal_of is null), 0)`,
    ),
    who: asText(
      "coalesce((select u.name from stock_move m join user u on u.id = m.user_id where m.document_kind = 'adjustment' and m.document_id = a.id limit 1), '')",
    ),
    reversed: asFlag('a.reversed'),
  },
  from: 'adjustment a join warehouse w on w.id = a.warehouse_id join reason r on r.code = a.reason',
  countFrom: 'adjustment a',
  find: ['a.number', 'a.note', 'r.name', 'w.code'],
  order: 'a.id desc',
  tie: 'a.id desc',
};

export function listAdjustments(work: Work, query: ListQuery): AnswerOf<typeof api.stores.listAdjustments> {
  return listPage(work, adjustments, query);
}

export function adjustmentView(work: Work, id: number): AdjustmentView {
  const head = orNotFound(
    work.row<{ id: number; number: string; date: string; warehouse: string; reason: string; account: string; note: string; reversed: number }>(
      `select a.id, a.number, a.date, w.code as warehouse, r.name as reason, r.account || ' ' || coalesce(c.name, '') as account, a.note, a.reversed
       from adjustment a join warehouse w on w.id = a.warehouse_id join reason r on r.code = a.reason left join account c on c.code = r.account where a.id = ?`,
      id,
    ),
    'adjustment',
  );
  const lines = work.rows<{
    itemId: number;
    code: string;
    description: string;
    unit: string;
    bin: string;
    lot: string;
    serial: string;
    state: string;
    change: number;
    value: number;
    who: string;
  }>(
    `select m.item_id as itemId, i.code, i.description, i.unit_code as unit, n.code as bin, m.from_lot || m.to_lot as lot, m.from_serial || m.to_serial as serial,
       m.from_state || m.to_state as state, ${ADJUSTED} as change, ${ADJUSTED_VALUE} as value, u.name as who
     from stock_move m join item i on i.id = m.item_id join user u on u.id = m.user_id join bin n on n.id = max(m.from_bin_id, m.to_bin_id)
     where m.document_kind = 'adjustment' and m.document_id = ? and m.reversal_of is null order by m.id`,
    id,
  );
  return {
    ...head,
    reversed: head.reversed === 1,
    who: lines[0]?.who ?? '',
    value: writeAmount(lines.reduce((sum, line) => sum + line.value, 0)),
    lines: lines.map(({ who: _, ...line }) => ({ ...line, change: writeQuantity(line.change), value: writeAmount(line.value) })),
  };
}

/** Posts an adjustment. Never below what is reserved, never below zero. */
export function adjustStock(work: Work, input: Input): { id: number; number: string } {
  const reason = reasonOf(work, input.reason);
  if (reason.noteNeeded && input.note === '') throw new Refusal('noteNeeded', `"${reason.name}" needs a note: say what happened.`, { field: 'note' });
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
export function reasonOf(work: Work, code: string): { readonly name: string; readonly account: string; readonly noteNeeded: boolean } {
  const row = work.row<{ account: string; name: string; noteNeeded: number }>(
    'select account, name, note_needed as noteNeeded from reason where code = ?',
    code,
  );
  return { ...orNotFound(row, 'reason'), noteNeeded: row?.noteNeeded === 1 };
}

function movesOf(work: Work, warehouse: number, adjustment: number, line: Line, date: string): MoveRequest[] {
  const item = usableItem(work, line.itemId);
  const { tracking } = trackingOf(work, item.id);
  const bin = binOf(work, warehouse, line.binId);
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
  const there =
    work.row<{ quantity: number }>(
      "select quantity from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = ? and serial = '' and state = ?",
      item.id,
      warehouse,
      bin,
      lot,
      state,
    )?.quantity ?? 0;
  const change = changeOf(line, item.decimals, there);
  if (change === 0) return [];
  const quantity = asQuantity(Math.abs(change));
  const placeOf = (piece: Piece): Place => ({
    kind: 'stock',
    key: { item: item.id, warehouse, bin, lot: piece.lot, serial: piece.serial, state },
  });
  const outside: Place = { kind: 'adjustment', id: adjustment };
  const untracked: Piece[] = [{ lot: '', serial: '', quantity }];
  if (change < 0) {
    const named = tracking === 'none' ? untracked : piecesNamed(work, item.id, quantity, line.pieces ?? []);
    return named.map((piece) => ({ item: item.id, quantity: piece.quantity, from: placeOf(piece), to: outside }));
  }
  const { unitCost } = line;
  const cost = unitCost === undefined ? stockCost(work, item.id, warehouse) : atField('unitCost', () => parseAskedPrice(unitCost, 'the unit cost'));
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
  work.run('update adjustment set reversed = 1 where id = ?', id);
  work.record('adjustment', id, `took ${number} back`);
  return adjustmentView(work, id);
}
