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
  writeQuantity,
  type Amount,
  type BusinessEvent,
  type Move,
  type Place,
  type Quantity,
  type StockKey,
} from '@terrace/core';
import type { Work } from '../platform/work';
import type { HolderKind } from './schema';
import { assertNamed, assertNowhere, type Tracking } from './tracked';
import { valueMove, type CostFacts, type Worth } from './valuing';

export interface MoveRequest extends Move {
  /** What it is worth when it comes from outside; what goes out is valued by its costing. */
  readonly value?: Amount;
  /** Whose reservation this takes from; others' are protected. */
  readonly holder?: { readonly kind: HolderKind; readonly id: number };
  readonly reversalOf?: number;
}

/** A move with its worth and the accounts of its item. */
export interface ValuedMove extends MoveRequest, Worth {
  readonly id: number;
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

interface ItemFacts extends CostFacts {
  readonly code: string;
  readonly tracking: Tracking;
  readonly inventoryAccount: string;
  readonly costOfSalesAccount: string;
}

/** Posts moves with their entry. Refuses `notEnough`, `heldByOthers` and what the ledger refuses; then nothing is done. */
export function postMoves(work: Work, posting: Posting): { readonly moves: readonly ValuedMove[]; readonly entryId: number | null } {
  assertPostingDate(work, posting.date);
  const last = work.row<{ id: number | null }>('select max(id) as id from stock_move')?.id ?? 0;
  const valued = posting.moves.map((move, index) => applyMove(work, move, last + 1 + index, posting.date));
  const entryId =
    'event' in posting.entry
      ? postEvent(work, posting.document, posting.date, posting.entry.event(valued), valued.map(varianceOf))
      : takeEntryBack(work, posting, posting.entry.reverses, [...valued.map(worthDifference), ...valued.map(varianceOf)]);
  for (const move of valued) writeMove(work, posting, move, entryId);
  return { moves: valued, entryId };
}

type Differences = readonly { readonly inventoryAccount: string; readonly value: Amount }[];

/** What was worth nothing has no entry to take back; what it is worth now is a difference all the same. */
function takeEntryBack(work: Work, { document, date }: Posting, entryId: number | null, differences: Differences): number | null {
  return entryId === null
    ? postEvent(work, document, date, { kind: 'transfer' }, differences)
    : reverseEntry(work, document, date, entryId, differences);
}

/** How much more the inventory holds than the contrary of the first entry says. */
function worthDifference(move: ValuedMove): { inventoryAccount: string; value: Amount } {
  const said = move.value ?? move.worth;
  const difference = move.from.kind === 'stock' && move.to.kind !== 'stock' ? said - move.worth : 0;
  return { inventoryAccount: move.inventoryAccount, value: asAmount(difference) };
}

/** What the inventory holds less than the event says: the cost beyond the standard. */
function varianceOf(move: ValuedMove): { inventoryAccount: string; value: Amount } {
  return { inventoryAccount: move.inventoryAccount, value: asAmount(-move.variance) };
}

function applyMove(work: Work, requested: MoveRequest, id: number, date: string): ValuedMove {
  const facts = factsOf(work, requested.item);
  const name = facts.code;
  const move = intoItsState(work, requested);
  for (const place of [move.from, move.to]) if (place.kind === 'stock') assertNamed(name, facts.tracking, place.key, move.quantity);
  if (move.from.kind === 'stock' && date < work.today) assertThereSince(work, move.from.key, move.quantity, date, name);
  if (move.from.kind !== 'stock' && move.to.kind === 'stock' && move.to.key.serial !== '') assertNowhere(work, move.item, move.to.key.serial, name);
  if (move.from.kind === 'stock' && move.from.key.state === 'available' && !staysAvailable(move))
    protectReservations(work, move, move.from.key.warehouse, name);
  for (const { key, change } of changesOf(move)) {
    const before = asQuantity(work.row<{ quantity: number }>(BALANCE, ...valuesOf(key))?.quantity ?? 0);
    const after = applyChange(
      before,
      change,
      `${name}${key.lot === '' ? '' : ` lot ${key.lot}`}${key.serial === '' ? '' : ` ${key.serial}`} in this place`,
    );
    if (after === 0)
      work.run(
        'delete from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = ? and serial = ? and state = ?',
        ...valuesOf(key),
      );
    else work.run(SET_BALANCE, ...valuesOf(key), after);
  }
  const valued = valueMove(work, facts, { ...move, id, amount: move.value ?? asAmount(0), takesBack: move.reversalOf }, date);
  return { ...move, ...valued, id, inventoryAccount: facts.inventoryAccount, costOfSalesAccount: facts.costOfSalesAccount };
}

/** From bin to bin it stays where a reservation can have it. */
function staysAvailable({ from, to }: Move): boolean {
  return from.kind === 'stock' && to.kind === 'stock' && to.key.state === 'available' && to.key.warehouse === from.key.warehouse;
}

/** Of a lot that is blocked nothing becomes available, wherever it comes from. */
function intoItsState(work: Work, move: MoveRequest): MoveRequest {
  if (move.to.kind !== 'stock' || move.to.key.lot === '' || move.to.key.state !== 'available') return move;
  const lot = work.row<{ blocked: number }>('select blocked from lot where item_id = ? and code = ?', move.item, move.to.key.lot);
  return lot?.blocked === 1 ? { ...move, to: { kind: 'stock', key: { ...move.to.key, state: 'held' } } } : move;
}

const LATER_CHANGES = `select date, sum(case when to_kind = 'stock' and to_id = ?2 and to_bin_id = ?3 and to_lot = ?4 and to_serial = ?5 and to_state = ?6 then quantity else 0 end)
    - sum(case when from_kind = 'stock' and from_id = ?2 and from_bin_id = ?3 and from_lot = ?4 and from_serial = ?5 and from_state = ?6 then quantity else 0 end) as change
  from stock_move where item_id = ?1 and date > ?7 group by date order by date desc`;

/** Refuses `notEnoughThen` for a back-dated move that would leave less than nothing on any day since. */
function assertThereSince(work: Work, key: StockKey, quantity: Quantity, date: string, name: string): void {
  let balance = work.row<{ quantity: number }>(BALANCE, ...valuesOf(key))?.quantity ?? 0;
  let [least, day] = [balance, work.today];
  for (const later of work.rows<{ date: string; change: number }>(LATER_CHANGES, ...valuesOf(key), date)) {
    balance -= later.change;
    if (balance < least) [least, day] = [balance, later.date];
  }
  if (quantity > least)
    throw new Refusal(
      'notEnoughThen',
      `${writeQuantity(quantity)} of ${name} can't be taken as of ${date}: before ${day} only ${writeQuantity(Math.max(0, least))} were in this place. Take a later date.`,
      { field: 'date', there: writeQuantity(Math.max(0, least)) },
    );
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

function writeMove(work: Work, { document, date, note = '' }: Posting, move: ValuedMove, entryId: number | null): void {
  work.run(
    `insert into stock_move (id, at, date, item_id, quantity, value, variance, from_kind, from_id, from_bin_id, from_lot, from_serial, from_state,
       to_kind, to_id, to_bin_id, to_lot, to_serial, to_state, document_kind, document_id, document_number, entry_id, reversal_of, user_id, note)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    move.id,
    work.now,
    date,
    move.item,
    move.quantity,
    move.stockValue,
    move.variance,
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
  readonly variance: number;
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

const MOVES_OF_DOCUMENT = `select id, item_id as itemId, quantity, value, variance, entry_id as entryId,
    from_kind as fromKind, from_id as fromId, from_bin_id as fromBinId, from_lot as fromLot, from_serial as fromSerial, from_state as fromState,
    to_kind as toKind, to_id as toId, to_bin_id as toBinId, to_lot as toLot, to_serial as toSerial, to_state as toState,
    exists (select 1 from stock_move r where r.reversal_of = m.id) as reversed
  from stock_move m where document_kind = ? and document_id = ? and reversal_of is null order by id`;
