/**
 * Posting stock moves: the only way in which stock changes. Checks the key's balance and what others have reserved,
 * values the moves, posts the journal entry and keeps moves, balances and cost together.
 */
import { accountsOfItem } from '../catalogue';
import { assertPostingDate, postEvent, reverseEntry, type PostingDocument } from '../accounts';
import {
  Refusal,
  applyChange,
  asAmount,
  asQuantity,
  assertFree,
  changesOf,
  contrary,
  costingOf,
  type Amount,
  type BusinessEvent,
  type CostPool,
  type CostingMethod,
  type Move,
  type Place,
  type Quantity,
  type StockKey,
} from '@terrace/core';
import type { Work } from '../platform/work';
import type { HolderKind } from './schema';

export interface MoveRequest extends Move {
  /** What it is worth when it comes from outside; what goes out is valued by its costing. */
  readonly value?: Amount;
  /** Whose reservation this takes from; others' are protected. */
  readonly holder?: { readonly kind: HolderKind; readonly id: number };
  readonly reversalOf?: number;
}

/** A move with its value and the accounts of its item. */
export interface ValuedMove extends MoveRequest {
  readonly worth: Amount;
  readonly inventoryAccount: string;
  readonly costOfSalesAccount: string;
}

export interface Posting {
  readonly document: PostingDocument;
  readonly date: string;
  readonly moves: readonly MoveRequest[];
  readonly note?: string;
  /** The event to post for these moves, or the entry that they take back. */
  readonly entry: { readonly event: (moves: readonly ValuedMove[]) => BusinessEvent } | { readonly reverses: number | null };
}

interface ItemFacts {
  readonly code: string;
  readonly costing: CostingMethod;
  readonly inventoryAccount: string;
  readonly costOfSalesAccount: string;
}

/** Posts moves with their entry. Refuses `notEnough`, `heldByOthers` and what the ledger refuses; then nothing is done. */
export function postMoves(work: Work, posting: Posting): { readonly moves: readonly ValuedMove[]; readonly entryId: number | null } {
  assertPostingDate(work, posting.date);
  const valued = posting.moves.map((move) => applyMove(work, move));
  const entryId =
    'event' in posting.entry
      ? postEvent(work, posting.document, posting.date, posting.entry.event(valued))
      : posting.entry.reverses === null
        ? null
        : reverseEntry(work, posting.document, posting.date, posting.entry.reverses, valued.map(worthDifference));
  for (const move of valued) writeMove(work, posting, move, entryId);
  return { moves: valued, entryId };
}

/** How much more the inventory holds than the contrary of the first entry says. */
function worthDifference(move: ValuedMove): { inventoryAccount: string; value: Amount } {
  const said = move.value ?? move.worth;
  const difference = move.from.kind === 'stock' ? said - move.worth : 0;
  return { inventoryAccount: move.inventoryAccount, value: asAmount(difference) };
}

function applyMove(work: Work, move: MoveRequest): ValuedMove {
  const facts = factsOf(work, move.item);
  const name = `${facts.code}`;
  if (move.from.kind === 'stock' && move.from.key.state === 'available') protectReservations(work, move, move.from.key.warehouse, name);
  for (const { key, change } of changesOf(move)) {
    const before = asQuantity(work.row<{ quantity: number }>(BALANCE, ...valuesOf(key))?.quantity ?? 0);
    const after = applyChange(before, change, `${name} in this place`);
    if (after === 0)
      work.run(
        'delete from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = ? and serial = ? and state = ?',
        ...valuesOf(key),
      );
    else work.run(SET_BALANCE, ...valuesOf(key), after);
  }
  const worth = moveCost(work, move, facts);
  return { ...move, worth, inventoryAccount: facts.inventoryAccount, costOfSalesAccount: facts.costOfSalesAccount };
}

const BALANCE = 'select quantity from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = ? and serial = ? and state = ?';
const SET_BALANCE = `insert into balance (item_id, warehouse_id, bin_id, lot, serial, state, quantity) values (?, ?, ?, ?, ?, ?, ?)
  on conflict (item_id, warehouse_id, bin_id, lot, serial, state) do update set quantity = excluded.quantity`;

function valuesOf(key: StockKey): readonly (string | number)[] {
  return [key.item, key.warehouse, key.bin, key.lot, key.serial, key.state];
}

function factsOf(work: Work, itemId: number): ItemFacts {
  const facts = accountsOfItem(work, itemId);
  if (facts.kind !== 'stocked') throw new Refusal('notStocked', `${facts.code} is not kept in stock, so none of it can be moved.`);
  return facts;
}

function protectReservations(work: Work, move: MoveRequest, warehouse: number, name: string): void {
  const available = asQuantity(
    work.row<{ n: number | null }>(
      "select sum(quantity) as n from balance where item_id = ? and warehouse_id = ? and state = 'available'",
      move.item,
      warehouse,
    )?.n ?? 0,
  );
  const others = work
    .rows<{ document: string; quantity: number; kind: HolderKind; holder: number }>(
      'select document_number as document, quantity, holder_kind as kind, holder_id as holder from reservation where item_id = ? and warehouse_id = ? order by id',
      move.item,
      warehouse,
    )
    .filter((each) => !(move.holder?.kind === each.kind && move.holder.id === each.holder))
    .map((each) => ({ document: each.document, quantity: asQuantity(each.quantity) }));
  if (move.quantity > available) applyChange(available, asQuantity(-move.quantity), name);
  assertFree(name, move.quantity, available, others);
}

/** Values a move by the item's costing and keeps what is left in its warehouses. */
function moveCost(work: Work, move: MoveRequest, facts: ItemFacts): Amount {
  const costing = costingOf(facts.costing);
  const from = move.from.kind === 'stock' ? move.from.key.warehouse : null;
  const to = move.to.kind === 'stock' ? move.to.key.warehouse : null;
  if (from === to) return asAmount(0);
  let worth = move.value ?? asAmount(0);
  if (from !== null) {
    const issued = costing.issue(poolOf(work, move.item, from), move.quantity);
    worth = issued.value;
    keepPool(work, move.item, from, issued.pool);
  }
  if (to !== null) keepPool(work, move.item, to, costing.receive(poolOf(work, move.item, to), move.quantity, worth));
  return worth;
}

function poolOf(work: Work, item: number, warehouse: number): CostPool {
  const row = work.row<{ quantity: number; value: number }>(
    'select quantity, value from cost_pool where item_id = ? and warehouse_id = ?',
    item,
    warehouse,
  );
  return { quantity: asQuantity(row?.quantity ?? 0), value: asAmount(row?.value ?? 0) };
}

function keepPool(work: Work, item: number, warehouse: number, pool: CostPool): void {
  work.run(
    `insert into cost_pool (item_id, warehouse_id, quantity, value) values (?, ?, ?, ?)
     on conflict (item_id, warehouse_id) do update set quantity = excluded.quantity, value = excluded.value`,
    item,
    warehouse,
    pool.quantity,
    pool.value,
  );
}

function writeMove(work: Work, { document, date, note = '' }: Posting, move: ValuedMove, entryId: number | null): void {
  work.run(
    `insert into stock_move (at, date, item_id, quantity, value, from_kind, from_id, from_bin_id, from_lot, from_serial, from_state,
       to_kind, to_id, to_bin_id, to_lot, to_serial, to_state, document_kind, document_id, document_number, entry_id, reversal_of, user_id, note)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    work.now,
    date,
    move.item,
    move.quantity,
    move.worth,
    ...placeValues(move.from),
    ...placeValues(move.to),
    document.kind,
    document.id,
    document.number,
    entryId,
    move.reversalOf ?? null,
    work.actor.id,
    note,
  );
  work.touch('stock', move.item, document.number);
}

function placeValues(place: Place): readonly (string | number)[] {
  return place.kind === 'stock'
    ? ['stock', place.key.warehouse, place.key.bin, place.key.lot, place.key.serial, place.key.state]
    : [place.kind, place.id, 0, '', '', ''];
}

interface MoveRecord {
  readonly id: number;
  readonly itemId: number;
  readonly quantity: number;
  readonly value: number;
  readonly fromKind: Place['kind'];
  readonly fromId: number;
  readonly fromBinId: number;
  readonly fromLot: string;
  readonly fromSerial: string;
  readonly fromState: StockKey['state'];
  readonly toKind: Place['kind'];
  readonly toId: number;
  readonly toBinId: number;
  readonly toLot: string;
  readonly toSerial: string;
  readonly toState: StockKey['state'];
}

/** Takes all moves of a document back by contrary moves that point to the first ones. Refuses `alreadyReversed`. */
export function reverseMoves(work: Work, document: PostingDocument, date: string): void {
  const groups = new Map<number | null, MoveRequest[]>();
  const moves = work.rows<MoveRecord & { entryId: number | null; reversed: number }>(MOVES_OF_DOCUMENT, document.kind, document.id);
  for (const row of moves) {
    if (row.reversed === 1) throw new Refusal('alreadyReversed', `${document.number} has been taken back already.`);
    const place = (kind: Place['kind'], id: number, key: Omit<StockKey, 'item' | 'warehouse'>): Place =>
      kind === 'stock' ? { kind, key: { item: row.itemId, warehouse: id, ...key } } : { kind, id };
    const move: Move = {
      item: row.itemId,
      quantity: asQuantity(row.quantity),
      from: place(row.fromKind, row.fromId, { bin: row.fromBinId, lot: row.fromLot, serial: row.fromSerial, state: row.fromState }),
      to: place(row.toKind, row.toId, { bin: row.toBinId, lot: row.toLot, serial: row.toSerial, state: row.toState }),
    };
    groups.set(row.entryId, [...(groups.get(row.entryId) ?? []), { ...contrary(move), value: asAmount(row.value), reversalOf: row.id }]);
  }
  // The last to be posted is the first to go back, so that what was made leaves before its components return.
  for (const [entryId, group] of [...groups].reverse()) {
    postMoves(work, { document, date, moves: group, note: 'taken back', entry: { reverses: entryId } });
  }
}

const MOVES_OF_DOCUMENT = `select id, item_id as itemId, quantity, value, entry_id as entryId,
    from_kind as fromKind, from_id as fromId, from_bin_id as fromBinId, from_lot as fromLot, from_serial as fromSerial, from_state as fromState,
    to_kind as toKind, to_id as toId, to_bin_id as toBinId, to_lot as toLot, to_serial as toSerial, to_state as toState,
    exists (select 1 from stock_move r where r.reversal_of = m.id) as reversed
  from stock_move m where document_kind = ? and document_id = ? and reversal_of is null order by id`;

/** Available stock of an item in a warehouse by bin, as it is picked: bins in order of their code. */
export function binsHolding(
  work: Work,
  item: number,
  warehouse: number,
): { readonly key: StockKey; readonly bin: string; readonly quantity: Quantity }[] {
  return work
    .rows<{ bin: number; code: string; lot: string; serial: string; quantity: number }>(
      "select b.bin_id as bin, n.code, b.lot, b.serial, b.quantity from balance b join bin n on n.id = b.bin_id where b.item_id = ? and b.warehouse_id = ? and b.state = 'available' order by n.code, b.lot, b.serial",
      item,
      warehouse,
    )
    .map((row) => ({
      bin: row.code,
      quantity: asQuantity(row.quantity),
      key: { item, warehouse, bin: row.bin, lot: row.lot, serial: row.serial, state: 'available' as const },
    }));
}

/** Splits a quantity over the bins that hold it. Refuses `notEnough`, naming item and warehouse. */
export function takeFromBins(
  work: Work,
  item: number,
  warehouse: number,
  wanted: Quantity,
): { readonly key: StockKey; readonly quantity: Quantity }[] {
  const taken: { key: StockKey; quantity: Quantity }[] = [];
  let left: number = wanted;
  for (const bin of binsHolding(work, item, warehouse)) {
    if (left === 0) break;
    const quantity = asQuantity(Math.min(left, bin.quantity));
    taken.push({ key: bin.key, quantity });
    left -= quantity;
  }
  if (left > 0) {
    const names = work.row<{ item: string; warehouse: string }>(
      'select i.code as item, w.code as warehouse from item i, warehouse w where i.id = ? and w.id = ?',
      item,
      warehouse,
    );
    applyChange(asQuantity(wanted - left), asQuantity(-wanted), `${names?.item ?? 'it'} in ${names?.warehouse ?? 'this warehouse'}`);
  }
  return taken;
}
