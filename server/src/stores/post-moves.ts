/**
 * Posting stock moves: the only way in which stock changes. Checks the key's balance and what others have reserved,
 * values the moves, posts the journal entry and keeps moves, balances and cost together.
 */
import type { DocumentKind, Right } from '@terrace/contract';
import { accountsOfItem, assertMayHere, assertTakesStock } from '../catalogue';
import { assertPostingDate, postEvent, reverseEntry, type PostingDocument } from '../accounts';
import {
  Refusal,
  applyChange,
  asAmount,
  asQuantity,
  assertFree,
  changesOf,
  contrary,
  keyText,
  writeAmount,
  writeQuantity,
  type Amount,
  type BusinessEvent,
  type Move,
  type Place,
  type Quantity,
  type StockKey,
} from '@terrace/core';
import { and, desc, eq, gt, isNull, isNotNull, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { flag } from '../platform/expressions';
import { query } from '../platform/query';
import { addRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { availableIn, balanceAt, keepBalance } from './balances';
import { valueMove, type CostFacts, type Worth } from './costing';
import { accountOfMove } from './reclassify';
import { reservationsIn } from './reservations';
import { stockMove, type HolderKind } from './schema';
import { assertNamed, assertNowhere, lotNamed, type Tracking } from './tracking';

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

/** More would keep everybody else waiting while they are posted. */
const MOST_MOVES = 1000;

const lastMove = query(() => (db) => db.select({ id: sql<number | null>`max(${stockMove.id})` }).from(stockMove));

/** Posts moves with their entry. Refuses `notEnough`, `heldByOthers` and what the ledger refuses; then nothing is done. */
export function postMoves(work: Work, posting: Posting): { readonly moves: readonly ValuedMove[]; readonly entryId: number | null } {
  assertPostingDate(work, posting.date);
  assertMayMove(work, posting);
  assertRoom(work, posting);
  // What takes a document back takes it back whole, however large it was.
  if ('event' in posting.entry && posting.moves.length > MOST_MOVES)
    throw new Refusal(
      'tooMuchAtOnce',
      `${posting.moves.length} lots and serial numbers are too many for one document: name at most ${MOST_MOVES} at once, and the rest in another.`,
      { most: MOST_MOVES },
    );
  const last = lastMove.one(work)?.id ?? 0;
  const asked = posting.moves.map((move) => intoItsState(work, move));
  if (posting.date < work.today) assertAllThereSince(work, asked, posting.date);
  protectReservations(work, asked);
  const valued = asked.map((move, index) => applyMove(work, move, last + 1 + index, posting.date));
  const entryId =
    'event' in posting.entry
      ? postEvent(work, posting.document, posting.date, posting.entry.event(valued), valued.map(varianceOf))
      : takeEntryBack(work, posting, posting.entry.reverses, [
          ...valued.map(worthDifference),
          ...valued.map(varianceOf),
          ...valued.flatMap((move) => onAccountOfToday(work, move)),
        ]);
  for (const move of valued) writeMove(work, posting, move, entryId);
  return { moves: valued, entryId };
}

/** The right that moving stock takes in its warehouse, by the document that moves it. */
const TAKEN_BY: Readonly<Partial<Record<DocumentKind, Right>>> = {
  adjustment: 'stores.adjust',
  relocation: 'stores.adjust',
  transfer: 'stores.adjust',
  customerReturn: 'stores.adjust',
  receipt: 'buying.receive',
  completion: 'production.report',
  shipment: 'dispatch.ship',
};

/** Refuses `notHere` where somebody moves stock of a warehouse in which they may not: where it leaves from, or else comes to. */
function assertMayMove(work: Work, { document, moves }: Posting): void {
  const right = TAKEN_BY[document.kind];
  if (right === undefined) return;
  for (const { from, to } of moves) {
    const place = from.kind === 'stock' ? from : to;
    if (place.kind === 'stock') assertMayHere(work, right, place.key.warehouse);
  }
}

/** Refuses `closed` and `blocked` where something comes into a bin that takes nothing; within a bin, its state may still change. */
function assertRoom(work: Work, { moves }: Posting): void {
  const into = new Set(
    moves.flatMap(({ from, to }) => (to.kind === 'stock' && !(from.kind === 'stock' && from.key.bin === to.key.bin) ? [to.key.bin] : [])),
  );
  for (const binId of into) assertTakesStock(work, binId);
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

/** The contrary entry takes the account that the first move was booked on; since then its stock may have gone to another. */
function onAccountOfToday(work: Work, move: ValuedMove): Differences {
  const inward = move.to.kind === 'stock';
  if (move.reversalOf === undefined || inward === (move.from.kind === 'stock')) return [];
  const booked = accountOfMove(work, move.item, move.reversalOf, move.inventoryAccount);
  if (booked === move.inventoryAccount) return [];
  const said = (move.value ?? move.worth) * (inward ? 1 : -1);
  return [
    { inventoryAccount: booked, value: asAmount(-said) },
    { inventoryAccount: move.inventoryAccount, value: asAmount(said) },
  ];
}

/** What the inventory holds less than the event says: the cost beyond the standard. */
function varianceOf(move: ValuedMove): { inventoryAccount: string; value: Amount } {
  return { inventoryAccount: move.inventoryAccount, value: asAmount(-move.variance) };
}

function applyMove(work: Work, move: MoveRequest, id: number, date: string): ValuedMove {
  const facts = factsOf(work, move.item);
  const name = facts.code;
  for (const place of [move.from, move.to]) if (place.kind === 'stock') assertNamed(name, facts.tracking, place.key, move.quantity);
  if (move.from.kind !== 'stock' && move.to.kind === 'stock' && move.to.key.serial !== '') assertNowhere(work, move.item, move.to.key.serial, name);
  for (const { key, change } of changesOf(move)) {
    const after = applyChange(
      balanceAt(work, key),
      change,
      `${name}${key.lot === '' ? '' : ` lot ${key.lot}`}${key.serial === '' ? '' : ` ${key.serial}`} in this place`,
    );
    keepBalance(work, key, after);
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
  return lotNamed(work, move.item, move.to.key.lot)?.blocked === true
    ? { ...move, to: { kind: 'stock', key: { ...move.to.key, state: 'held' } } }
    : move;
}

const atKey = ($: StockKey, side: 'from' | 'to'): SQL | undefined => {
  const [kind, id, bin, lot, serial, state] =
    side === 'from'
      ? [stockMove.fromKind, stockMove.fromId, stockMove.fromBinId, stockMove.fromLot, stockMove.fromSerial, stockMove.fromState]
      : [stockMove.toKind, stockMove.toId, stockMove.toBinId, stockMove.toLot, stockMove.toSerial, stockMove.toState];
  return and(eq(kind, 'stock'), eq(id, $.warehouse), eq(bin, $.bin), eq(lot, $.lot), eq(serial, $.serial), eq(state, $.state));
};
const movedWhere = (condition: SQL | undefined): SQL<number> => sql<number>`sum(case when ${condition} then ${stockMove.quantity} else 0 end)`;
const laterChanges = query(
  ($: StockKey & { since: string }) => (db) =>
    db
      .select({ date: stockMove.date, change: sql<number>`${movedWhere(atKey($, 'to'))} - ${movedWhere(atKey($, 'from'))}` })
      .from(stockMove)
      .where(and(eq(stockMove.itemId, $.item), gt(stockMove.date, $.since)))
      .groupBy(stockMove.date)
      .orderBy(desc(stockMove.date)),
);

/** What a back-dated document takes in all from each place was there since. */
function assertAllThereSince(work: Work, moves: readonly MoveRequest[], date: string): void {
  const taken = new Map<string, { readonly key: StockKey; readonly quantity: number }>();
  for (const { from, quantity } of moves)
    if (from.kind === 'stock') taken.set(keyText(from.key), { key: from.key, quantity: (taken.get(keyText(from.key))?.quantity ?? 0) + quantity });
  for (const { key, quantity } of taken.values()) assertThereSince(work, key, asQuantity(quantity), date, factsOf(work, key.item).code);
}

/** Refuses `notEnoughThen` for a back-dated move that would leave less than nothing on any day since. */
function assertThereSince(work: Work, key: StockKey, quantity: Quantity, date: string, name: string): void {
  let there: number = balanceAt(work, key);
  let [least, day] = [there, work.today];
  for (const later of laterChanges.all(work, { ...key, since: date })) {
    there -= later.change;
    if (there < least) [least, day] = [there, later.date];
  }
  if (quantity > least)
    throw new Refusal(
      'notEnoughThen',
      `${writeQuantity(quantity)} of ${name} can't be taken as of ${date}: before ${day} only ${writeQuantity(Math.max(0, least))} were in this place. Take a later date.`,
      { field: 'date', there: writeQuantity(Math.max(0, least)) },
    );
}

function factsOf(work: Work, itemId: number): ItemFacts {
  const facts = accountsOfItem(work, itemId);
  if (facts.kind !== 'stocked') throw new Refusal('notStocked', `${facts.code} is not kept in stock, so none of it can be moved.`);
  return facts;
}

/** Where a move takes what is available from, or brings it to. */
function availableAt({ kind, ...place }: Place): number | null {
  return kind === 'stock' && 'key' in place && place.key.state === 'available' ? place.key.warehouse : null;
}

/**
 * What a document takes in all of what is available of an item in a warehouse, less what it brings, never comes from what
 * others have reserved. Refuses `notEnough` and `heldByOthers`.
 */
function protectReservations(work: Work, moves: readonly MoveRequest[]): void {
  const taken = new Map<string, { readonly item: number; readonly warehouse: number; readonly quantity: number }>();
  const count = (item: number, warehouse: number | null, quantity: number): void => {
    if (warehouse === null) return;
    const key = `${item} ${warehouse}`;
    taken.set(key, { item, warehouse, quantity: (taken.get(key)?.quantity ?? 0) + quantity });
  };
  for (const move of moves) {
    if (staysAvailable(move)) continue;
    count(move.item, availableAt(move.from), move.quantity);
    count(move.item, availableAt(move.to), -move.quantity);
  }
  const own = new Set(moves.flatMap(({ holder }) => (holder ? [`${holder.kind} ${holder.id}`] : [])));
  for (const { item, warehouse, quantity } of taken.values()) {
    if (quantity <= 0) continue;
    const name = factsOf(work, item).code;
    const available = availableIn(work, item, warehouse);
    const others = reservationsIn(work, item, warehouse)
      .filter((each) => !own.has(`${each.kind} ${each.holder}`))
      .reverse()
      .map(({ document, quantity: held }) => ({ document, quantity: held }));
    if (quantity > available) applyChange(available, asQuantity(-quantity), name);
    assertFree(name, asQuantity(quantity), available, others);
  }
}

function writeMove(work: Work, { document, date, note = '' }: Posting, move: ValuedMove, entryId: number | null): void {
  addRow(work, stockMove, {
    id: move.id,
    at: work.now,
    date,
    itemId: move.item,
    quantity: move.quantity,
    value: move.stockValue,
    variance: move.variance,
    ...fromColumns(move.from),
    ...toColumns(move.to),
    documentKind: document.kind,
    documentId: document.id,
    documentNumber: document.number,
    entryId,
    reversalOf: move.reversalOf ?? null,
    userId: work.actor.id,
    note: noteOf(note, move),
  });
  // Who takes what is reserved for them takes nothing from others.
  work.touch('stock', move.item, document.number, move.holder !== undefined);
}

/** What is taken back at another worth than it brought says so. */
function noteOf(note: string, move: ValuedMove): string {
  const difference = move.reversalOf === undefined ? 0 : worthDifference(move).value;
  return difference === 0
    ? note
    : `${note}: brought ${writeAmount(move.value ?? 0)}, takes ${writeAmount(move.worth)}; ${writeAmount(difference)} is a cost difference`;
}

type MoveRow = typeof stockMove.$inferInsert;

function fromColumns(place: Place): Pick<MoveRow, 'fromKind' | 'fromId' | 'fromBinId' | 'fromLot' | 'fromSerial' | 'fromState'> {
  if (place.kind !== 'stock') return { fromKind: place.kind, fromId: place.id, fromBinId: 0, fromLot: '', fromSerial: '', fromState: '' };
  const { warehouse: fromId, bin: fromBinId, lot: fromLot, serial: fromSerial, state: fromState } = place.key;
  return { fromKind: 'stock', fromId, fromBinId, fromLot, fromSerial, fromState };
}

function toColumns(place: Place): Pick<MoveRow, 'toKind' | 'toId' | 'toBinId' | 'toLot' | 'toSerial' | 'toState'> {
  if (place.kind !== 'stock') return { toKind: place.kind, toId: place.id, toBinId: 0, toLot: '', toSerial: '', toState: '' };
  const { warehouse: toId, bin: toBinId, lot: toLot, serial: toSerial, state: toState } = place.key;
  return { toKind: 'stock', toId, toBinId, toLot, toSerial, toState };
}

/** The place on one side of a move as it is kept. */
function placeOf(
  item: number,
  kind: Place['kind'],
  id: number,
  key: Omit<StockKey, 'item' | 'warehouse' | 'state'> & { state: StockKey['state'] | '' },
): Place {
  return kind === 'stock' ? { kind, key: { item, warehouse: id, ...key, state: key.state as StockKey['state'] } } : { kind, id };
}

const contraryMove = alias(stockMove, 'contrary_move');
const movesOfDocument = query(
  ($: { kind: PostingDocument['kind']; id: number }) => (db) =>
    db
      .select({ move: stockMove, reversed: flag(isNotNull(contraryMove.id)) })
      .from(stockMove)
      .leftJoin(contraryMove, eq(contraryMove.reversalOf, stockMove.id))
      .where(and(eq(stockMove.documentKind, $.kind), eq(stockMove.documentId, $.id), isNull(stockMove.reversalOf)))
      .orderBy(stockMove.id),
);

/**
 * Takes all moves of a document back by contrary moves that point to the first ones. What was taken back before is refused
 * (`alreadyReversed`), or left as it is where a document may be done again.
 */
export function reverseMoves(work: Work, document: PostingDocument, date: string, again: 'refused' | 'left' = 'refused'): void {
  const groups = new Map<number | null, MoveRequest[]>();
  for (const { move: row, reversed } of movesOfDocument.all(work, { kind: document.kind, id: document.id })) {
    if (reversed && again === 'left') continue;
    if (reversed) throw new Refusal('alreadyReversed', `${document.number} has been taken back already.`);
    const move: Move = {
      item: row.itemId,
      quantity: row.quantity,
      from: placeOf(row.itemId, row.fromKind, row.fromId, { bin: row.fromBinId, lot: row.fromLot, serial: row.fromSerial, state: row.fromState }),
      to: placeOf(row.itemId, row.toKind, row.toId, { bin: row.toBinId, lot: row.toLot, serial: row.toSerial, state: row.toState }),
    };
    groups.set(row.entryId, [...(groups.get(row.entryId) ?? []), { ...contrary(move), value: row.value, reversalOf: row.id }]);
  }
  // The last to be posted is the first to go back, so that what was made leaves before its components return.
  for (const [entryId, group] of [...groups].reverse()) {
    postMoves(work, { document, date, moves: group, note: 'taken back', entry: { reverses: entryId } });
  }
}
