/** The check of everything kept: what can be derived is derived again and compared. */
import { asQuantity, keyText, rebuildBalances, type Move, type Place, type StockKey } from '@terrace/core';
import { proveAccounts } from '../accounts';
import type { Store } from '../platform/database';
import { Work } from '../platform/work';

export interface CheckLine {
  readonly check: string;
  readonly holds: boolean;
  readonly detail: string;
}

interface MoveRow {
  readonly item: number;
  readonly quantity: number;
  readonly fromKind: Place['kind'];
  readonly fromId: number;
  readonly fromBin: number;
  readonly fromLot: string;
  readonly fromSerial: string;
  readonly fromState: StockKey['state'];
  readonly toKind: Place['kind'];
  readonly toId: number;
  readonly toBin: number;
  readonly toLot: string;
  readonly toSerial: string;
  readonly toState: StockKey['state'];
}

const MOVES = `select item_id as item, quantity, from_kind as fromKind, from_id as fromId, from_bin_id as fromBin, from_lot as fromLot, from_serial as fromSerial, from_state as fromState,
  to_kind as toKind, to_id as toId, to_bin_id as toBin, to_lot as toLot, to_serial as toSerial, to_state as toState from stock_move order by id`;

function* movesOf(store: Store): Generator<Move> {
  for (const row of store.sqlite.prepare(MOVES).iterate() as IterableIterator<MoveRow>) {
    const from: Place =
      row.fromKind === 'stock'
        ? {
            kind: 'stock',
            key: { item: row.item, warehouse: row.fromId, bin: row.fromBin, lot: row.fromLot, serial: row.fromSerial, state: row.fromState },
          }
        : { kind: row.fromKind, id: row.fromId };
    const to: Place =
      row.toKind === 'stock'
        ? { kind: 'stock', key: { item: row.item, warehouse: row.toId, bin: row.toBin, lot: row.toLot, serial: row.toSerial, state: row.toState } }
        : { kind: row.toKind, id: row.toId };
    yield { item: row.item, quantity: asQuantity(row.quantity), from, to };
  }
}

function line(check: string, holds: boolean, detail: string): CheckLine {
  return { check, holds, detail };
}

function checkLedger(store: Store): CheckLine {
  const rebuilt = rebuildBalances(movesOf(store));
  const kept = store.sqlite
    .prepare('select item_id as item, warehouse_id as warehouse, bin_id as bin, lot, serial, state, quantity from balance')
    .all() as (StockKey & { quantity: number })[];
  const wrong = kept.filter((row) => rebuilt.get(keyText(row)) !== row.quantity).length + Math.max(0, rebuilt.size - kept.length);
  return line('Ledger rebuilt equals balances', wrong === 0, `${kept.length} balances, ${wrong} differ`);
}

function countOf(store: Store, sql: string): number {
  return (store.sqlite.prepare(sql).get() as { n: number }).n;
}

function nothing(store: Store, check: string, sql: string): CheckLine {
  const found = countOf(store, sql);
  return line(check, found === 0, found === 0 ? 'none' : `${found} found`);
}

/** Checks a database without changing it. */
export function checkStore(store: Store, today: string): CheckLine[] {
  const integrity = store.sqlite.pragma('integrity_check', { simple: true }) as string;
  const orphans = (store.sqlite.pragma('foreign_key_check') as unknown[]).length;
  const work = new Work(store, { id: 0, name: 'check', role: 'viewer' }, today, today);
  return [
    line('Database is whole', integrity === 'ok', integrity),
    line('References lead somewhere', orphans === 0, `${orphans} lead nowhere`),
    checkLedger(store),
    nothing(store, 'No balance below zero', 'select count(*) as n from balance where quantity < 0'),
    nothing(
      store,
      'Pieces valued equal pieces kept',
      `select count(*) as n from (select item_id, warehouse_id, sum(q) as q from (
        select item_id, warehouse_id, quantity as q from balance union all select item_id, warehouse_id, -quantity from cost_pool) group by 1, 2 having sum(q) <> 0)`,
    ),
    nothing(
      store,
      'Layers of stock costed first in, first out equal what is kept',
      `select count(*) as n from (select item_id, warehouse_id, sum(q) as q, sum(v) as v from (
        select item_id, warehouse_id, quantity as q, value as v from cost_layer
        union all select p.item_id, p.warehouse_id, -p.quantity, -p.value from cost_pool p join item i on i.id = p.item_id where i.costing = 'fifo') group by 1, 2 having sum(q) <> 0 or sum(v) <> 0)`,
    ),
    nothing(
      store,
      'Changes of worth add up to what stock is worth',
      `select count(*) as n from (select item_id, warehouse_id, sum(q) as q, sum(v) as v from (
        select item_id, warehouse_id, sum(quantity) as q, sum(value) as v from worth_change group by 1, 2 union all select item_id, warehouse_id, -quantity, -value from cost_pool) group by 1, 2 having sum(q) <> 0 or sum(v) <> 0)`,
    ),
    nothing(
      store,
      'Every lot and serial number in stock is known and fits its item',
      `select count(*) as n from balance b join item i on i.id = b.item_id where
        (i.tracking = 'lot') <> (b.lot <> '') or (i.tracking = 'serial') <> (b.serial <> '') or (b.serial <> '' and b.quantity <> 100000)
        or (b.lot <> '' and not exists (select 1 from lot l where l.item_id = b.item_id and l.code = b.lot))
        or (b.serial <> '' and not exists (select 1 from serial_number s where s.item_id = b.item_id and s.code = b.serial))`,
    ),
    nothing(
      store,
      'No serial number in two places',
      "select count(*) as n from (select 1 from balance where serial <> '' group by item_id, serial having count(*) > 1)",
    ),
    nothing(
      store,
      'Nothing of a blocked lot is available',
      "select count(*) as n from balance b join lot l on l.item_id = b.item_id and l.code = b.lot where b.lot <> '' and l.blocked = 1 and b.state = 'available'",
    ),
    nothing(
      store,
      'What is in transit equals what transfers have under way',
      `select count(*) as n from (select item_id, warehouse_id, lot, serial, sum(q) as q from (
        select item_id, warehouse_id, lot, serial, quantity as q from balance where state = 'inTransit'
        union all select l.item_id, t.to_id, p.lot, p.serial, p.arrived - p.quantity from transfer_piece p join transfer_line l on l.id = p.line_id join transfer t on t.id = l.transfer_id)
        group by 1, 2, 3, 4 having sum(q) <> 0)`,
    ),
    nothing(
      store,
      'Reservations within what is available',
      `select count(*) as n from (select item_id, warehouse_id, sum(quantity) as q from reservation group by 1, 2) r
        where r.q > coalesce((select sum(quantity) from balance b where b.item_id = r.item_id and b.warehouse_id = r.warehouse_id and b.state = 'available'), 0)`,
    ),
    nothing(
      store,
      'Reserved in all equals reservations',
      `select count(*) as n from (select item_id, warehouse_id, sum(q) as q from (
        select item_id, warehouse_id, quantity as q from reservation union all select item_id, warehouse_id, -quantity from reserved_stock) group by 1, 2 having sum(q) <> 0)`,
    ),
    nothing(
      store,
      'No order line has more reserved than it still wants',
      `select count(*) as n from reservation r join customer_order_line l on r.holder_kind = 'customerOrder' and l.id = r.holder_id where r.quantity > l.quantity - l.shipped - l.cancelled`,
    ),
    // Suggestions that are kept are no documents: they go when they are released.
    nothing(
      store,
      'No document number twice or missing',
      `select (select count(*) from sequence where prefix <> 'FP') - (select count(*) from sequence s where s.prefix <> 'FP' and s.next - 1001 =
        (case s.prefix when 'CO' then (select count(*) from customer_order) when 'PO' then (select count(*) from purchase_order) when 'PRD' then (select count(*) from production_order) when 'SH' then (select count(*) from shipment)
          when 'INV' then (select count(*) from invoice) when 'PAY' then (select count(*) from payment) when 'RC' then (select count(*) from receipt) when 'FIN' then (select count(*) from completion) when 'ADJ' then (select count(*) from adjustment) when 'TR' then (select count(*) from transfer) when 'MV' then (select count(*) from relocation) when 'LC' then (select count(*) from late_cost) when 'RV' then (select count(*) from revaluation) when 'IM' then (select count(*) from import_run) end)) as n`,
    ),
    ...proveAccounts(work).checks.map((each) =>
      line(each.name, each.holds, each.holds ? each.found : `expected ${each.expected}, found ${each.found}`),
    ),
  ];
}
