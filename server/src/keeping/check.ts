/** The check of everything kept: what can be derived is derived again and compared. */
import { sql, type SQL } from 'drizzle-orm';
import { type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { keyText, rebuildBalances, type Move, type Place, type StockKey } from '@terrace/core';
import { proveAccounts } from '../accounts';
import { importRun } from '../bulk';
import { damageOf } from '../platform/database-file';
import type { Store } from '../platform/database';
import { documentSpecs } from '../platform/documents';
import { query, type Query } from '../platform/query';
import { sequence } from '../platform/schema';
import { NOBODY, Work } from '../platform/work';
import { registerRooms } from '../rooms';
import { NOTHING_WRONG } from './nothing-wrong';
import { balance, stockMove } from '../stores';

export interface CheckLine {
  readonly check: string;
  readonly holds: boolean;
  readonly detail: string;
}

const moves = query(
  () => (db) =>
    db
      .select({
        item: stockMove.itemId,
        quantity: stockMove.quantity,
        fromKind: stockMove.fromKind,
        fromId: stockMove.fromId,
        fromBin: stockMove.fromBinId,
        fromLot: stockMove.fromLot,
        fromSerial: stockMove.fromSerial,
        fromState: stockMove.fromState,
        toKind: stockMove.toKind,
        toId: stockMove.toId,
        toBin: stockMove.toBinId,
        toLot: stockMove.toLot,
        toSerial: stockMove.toSerial,
        toState: stockMove.toState,
      })
      .from(stockMove)
      .orderBy(stockMove.id),
);
const balances = query(
  () => (db) =>
    db
      .select({
        item: balance.itemId,
        warehouse: balance.warehouseId,
        bin: balance.binId,
        lot: balance.lot,
        serial: balance.serial,
        state: balance.state,
        quantity: balance.quantity,
      })
      .from(balance),
);

function placeOf(item: number, kind: Place['kind'], id: number, key: { bin: number; lot: string; serial: string; state: string }): Place {
  return kind === 'stock' ? { kind, key: { item, warehouse: id, ...key, state: key.state as StockKey['state'] } } : { kind, id };
}

function* movesOf(work: Work): Generator<Move> {
  for (const row of moves.each(work)) {
    const from = { bin: row.fromBin, lot: row.fromLot, serial: row.fromSerial, state: row.fromState };
    const to = { bin: row.toBin, lot: row.toLot, serial: row.toSerial, state: row.toState };
    yield {
      item: row.item,
      quantity: row.quantity,
      from: placeOf(row.item, row.fromKind, row.fromId, from),
      to: placeOf(row.item, row.toKind, row.toId, to),
    };
  }
}

function line(check: string, holds: boolean, detail: string): CheckLine {
  return { check, holds, detail };
}

function checkLedger(work: Work): CheckLine {
  const rebuilt = rebuildBalances(movesOf(work));
  const kept = balances.all(work);
  const wrong = kept.filter((row) => rebuilt.get(keyText(row)) !== row.quantity).length + Math.max(0, rebuilt.size - kept.length);
  return line('Ledger rebuilt equals balances', wrong === 0, `${kept.length} balances, ${wrong} differ`);
}

const numbersGiven = query(
  () => (db) =>
    db
      .select({ kind: sequence.kind, n: sql<number>`sum(${sequence.given})` })
      .from(sequence)
      .groupBy(sequence.kind),
);
const rowsOf = new Map<string, Query<Record<never, never>, { n: number }>>();

/** Kinds of documents of which there are not as many as numbers were given out. */
function numbersWrong(work: Work): string[] {
  const given = new Map(numbersGiven.all(work).map((each) => [each.kind, each.n]));
  return numberedTables().flatMap(({ prefix, table, ownNumber }) => {
    const counted =
      rowsOf.get(prefix) ??
      query(
        () => (db) =>
          db
            .select({ n: sql<number>`count(*)` })
            .from(table)
            .where(ownNumber),
      );
    rowsOf.set(prefix, counted);
    return (counted.one(work)?.n ?? 0) === (given.get(prefix) ?? 0) ? [] : [prefix];
  });
}

/** Checks a database without changing it. */
export function checkStore(store: Store, today: string): CheckLine[] {
  registerRooms();
  const { integrity, orphans } = damageOf(store);
  const work = new Work(store, { ...NOBODY, name: 'check' }, today, today);
  const nothing = (check: string, found: number): CheckLine => line(check, found === 0, found === 0 ? 'none' : `${found} found`);
  return [
    line('Database is whole', integrity === 'ok', integrity),
    line('References lead somewhere', orphans === 0, `${orphans} lead nowhere`),
    checkLedger(work),
    ...NOTHING_WRONG.map(([check, wrong]) => nothing(check, wrong.all(work).length)),
    nothing('No document number twice or missing', numbersWrong(work).length),
    ...proveAccounts(work).checks.map((each) =>
      line(each.name, each.holds, each.holds ? each.found : `expected ${each.expected}, found ${each.found}`),
    ),
  ];
}

/** The tables whose rows have numbers of their own; suggestions that are kept are no documents: they go when they are released. */
function numberedTables(): { readonly prefix: string; readonly table: SQLiteTable; readonly ownNumber?: SQL | undefined }[] {
  const documents = documentSpecs().flatMap(({ prefix, table, ownNumber, alsoNumbered = [] }) => [
    ...(prefix === null ? [] : [{ prefix, table, ownNumber }]),
    ...alsoNumbered.map((each) => ({ prefix: each.prefix, table, ownNumber: each.which })),
  ]);
  return [...documents, { prefix: 'IM', table: importRun }];
}
