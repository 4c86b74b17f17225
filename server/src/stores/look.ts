/** Looking at stock: explorer, availability, balance strip, moves. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type Availability, type BalanceStrip, type ListQuery } from '@terrace/contract';
import {
  addDays,
  asQuantity,
  firstPromiseDate,
  firstShort,
  parsePositiveQuantity,
  projectBalance,
  writeQuantity,
  type Quantity,
} from '@terrace/core';
import { itemFacts, warehouseOf } from '../catalogue';
import { asAmountText, asNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { atField, type Work } from '../platform/work';
import { stockEvents, type StockEvent } from './events';
import { eventsWithLosses, promiseSteps } from './lives';
import { stockOf } from './reserve';
import type { HolderKind } from './schema';

const STRIP_WEEKS = 10;

const sum = (events: readonly { quantity: Quantity }[]): Quantity => asQuantity(events.reduce((all, each) => all + each.quantity, 0));
const firmOf = (events: readonly StockEvent[], kind: StockEvent['kind']): StockEvent[] => events.filter((each) => each.firm && each.kind === kind);

const RESERVED = 'coalesce((select r.quantity from reserved_stock r where r.item_id = i.id and r.warehouse_id = w.id), 0)';
const inStates = (states: string): string =>
  `coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.warehouse_id = w.id and ${states}), 0)`;
const IN = `coalesce((select sum(max(0, l.quantity - l.received - l.cancelled)) from purchase_order_line l join purchase_order o on o.id = l.order_id where l.item_id = i.id and o.warehouse_id = w.id and o.state in ('draft', 'approved', 'sent', 'partReceived')), 0)
  + coalesce((select sum(max(0, p.quantity - p.finished)) from production_order p where p.item_id = i.id and p.warehouse_id = w.id and p.state in ('draft', 'released', 'running')), 0)
  + coalesce((select sum(case t.state when 'requested' then l.quantity else l.shipped - l.received - l.lost end) from transfer_line l join transfer t on t.id = l.transfer_id where l.item_id = i.id and t.to_id = w.id and t.state in ('requested', 'shipped', 'partReceived')), 0)`;
const OUT = `coalesce((select sum(max(0, l.quantity - l.shipped - l.cancelled)) from customer_order_line l join customer_order o on o.id = l.order_id where l.item_id = i.id and o.warehouse_id = w.id and o.state in ('confirmed', 'partShipped')), 0)
  + coalesce((select sum(max(0, c.needed - c.issued)) from production_component c join production_order p on p.id = c.order_id where c.item_id = i.id and p.warehouse_id = w.id and p.state in ('draft', 'released', 'running')), 0)
  + coalesce((select sum(l.quantity) from transfer_line l join transfer t on t.id = l.transfer_id where l.item_id = i.id and t.from_id = w.id and t.state = 'requested'), 0)`;

function explorer(warehouse: number | undefined): ListDefinition {
  return {
    columns: {
      id: asText("i.id || '-' || w.id"),
      itemId: asNumber('i.id'),
      code: asText('i.code'),
      description: asText('i.description'),
      unit: asText('i.unit_code'),
      warehouseId: asNumber('w.id'),
      warehouse: asText('w.code'),
      onHand: asQuantityText(inStates("b.state <> 'inTransit'")),
      reserved: asQuantityText(RESERVED),
      free: asQuantityText(`max(0, ${inStates("b.state = 'available'")} - ${RESERVED})`),
      expectedIn: asQuantityText(IN),
      expectedOut: asQuantityText(OUT),
      value: asAmountText('coalesce((select c.value from cost_pool c where c.item_id = i.id and c.warehouse_id = w.id), 0)'),
    },
    from: 'item i cross join warehouse w',
    where: `i.kind = 'stocked' and (exists (select 1 from cost_pool c where c.item_id = i.id and c.warehouse_id = w.id) or exists (select 1 from planning_rule r where r.item_id = i.id and r.warehouse_id = w.id))${warehouse === undefined ? '' : ' and w.id = ?'}`,
    values: warehouse === undefined ? [] : [warehouse],
    find: ['i.code', 'i.description', 'w.code'],
    order: 'i.code, w.id',
    tie: 'i.id, w.id',
  };
}

export function exploreStock(work: Work, query: ListQuery & { warehouse?: number | undefined }): AnswerOf<typeof api.stores.explore> {
  return listPage(work, explorer(query.warehouse), query);
}

/** What is there, what comes, and from when a quantity can be promised without taking what others count on. */
export function availabilityOf(
  work: Work,
  item: number,
  warehouse: number,
  quantityText: string | undefined,
  exceptLine: number | undefined,
): Availability {
  const facts = itemFacts(work, item);
  const stock = stockOf(work, item, warehouse);
  const events = stockEvents(work, item, warehouse).filter(
    (each) => !(exceptLine !== undefined && each.holder?.kind === 'customerOrder' && each.holder.id === exceptLine),
  );
  const supplies = firmOf(events, 'supply');
  const demands = firmOf(events, 'demand');
  const steps = promiseSteps(work, item, warehouse, exceptLine === undefined ? undefined : { kind: 'customerOrder', id: exceptLine });
  const wanted = quantityText === undefined ? null : atField('quantity', () => parsePositiveQuantity(quantityText, facts.decimals));
  const others = work.rows<{ id: number; code: string }>('select id, code from warehouse where id <> ? order by id', warehouse);
  return {
    item: { id: item, code: facts.code, description: facts.description, unit: facts.unit, decimals: facts.decimals },
    warehouse: warehouseOf(work, warehouse).code,
    onHand: writeQuantity(stock.onHand),
    reserved: writeQuantity(stock.reserved),
    free: writeQuantity(stock.free),
    expectedIn: writeQuantity(sum(supplies)),
    expectedOut: writeQuantity(sum(demands)),
    expected: [...supplies]
      .sort((a, b) => a.date.localeCompare(b.date))
      .slice(0, 6)
      .map((each) => ({ date: each.date, quantity: writeQuantity(each.quantity), document: each.document })),
    elsewhere: others.map((each) => ({ warehouseId: each.id, warehouse: each.code, free: writeQuantity(stockOf(work, item, each.id).free) })),
    promise: {
      date: wanted === null ? null : firstPromiseDate(steps, wanted),
      quantityNow: writeQuantity(steps[0]?.quantity ?? 0),
      steps: steps.slice(0, 12).map((each) => ({ date: each.date, quantity: writeQuantity(each.quantity) })),
    },
  };
}

/** The projected balance of the focus item over the next weeks. */
export function balanceStrip(work: Work, item: number, warehouse: number): BalanceStrip {
  const facts = itemFacts(work, item);
  const stock = stockOf(work, item, warehouse);
  const events = eventsWithLosses(work, item, warehouse);
  const projected = projectBalance(stock.available, events, work.today);
  const safety = asQuantity(
    work.row<{ safety: number }>('select safety from planning_rule where item_id = ? and warehouse_id = ?', item, warehouse)?.safety ?? 0,
  );
  const links = new Map(events.map((each) => [each.document, each.link]));
  const through = addDays(work.today, STRIP_WEEKS * 7);
  return {
    item: { id: item, code: facts.code, description: facts.description, unit: facts.unit, decimals: facts.decimals },
    warehouse: warehouseOf(work, warehouse).code,
    today: work.today,
    through,
    onHand: writeQuantity(stock.onHand),
    reserved: writeQuantity(stock.reserved),
    free: writeQuantity(stock.free),
    available: writeQuantity(stock.available),
    expectedIn: writeQuantity(sum(firmOf(events, 'supply'))),
    expectedOut: writeQuantity(sum(firmOf(events, 'demand'))),
    safety: writeQuantity(safety),
    firstShort: firstShort(
      stock.available,
      projected.filter((each) => each.firm),
      safety,
      work.today,
    ),
    events: projected
      .filter((each) => each.countedOn <= through)
      .map((each) => ({
        date: each.countedOn,
        kind: each.kind,
        quantity: writeQuantity(each.quantity),
        document: each.document,
        link: links.get(each.document) ?? null,
        firm: each.firm,
        balance: writeQuantity(each.balance),
        planned: writeQuantity(each.planned),
      })),
  };
}

/** Where an item is: bins, lots, serial numbers and states. */
export function placesOf(work: Work, item: number): AnswerOf<typeof api.stores.places> {
  itemFacts(work, item);
  return work
    .rows<AnswerOf<typeof api.stores.places>[number] & { quantity: number | string }>(
      `select b.warehouse_id as warehouseId, w.code as warehouse, b.bin_id as binId, n.code as bin, b.lot, l.id as lotId, l.expiry, b.serial, s.id as serialId, b.state, b.quantity
       from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id
       left join lot l on b.lot <> '' and l.item_id = b.item_id and l.code = b.lot left join serial_number s on b.serial <> '' and s.item_id = b.item_id and s.code = b.serial
       where b.item_id = ? order by w.id, coalesce(l.expiry, '9999-12-31'), b.lot, n.code, b.serial limit 2000`,
      item,
    )
    .map((each) => ({ ...each, quantity: writeQuantity(Number(each.quantity)) }));
}

/** Who holds reserved stock of an item. */
export function holdersOf(work: Work, item: number): AnswerOf<typeof api.stores.holders> {
  return work
    .rows<{ id: number; warehouse: string; document: string; kind: HolderKind; documentId: number; quantity: number }>(
      'select r.id, w.code as warehouse, r.document_number as document, r.holder_kind as kind, r.document_id as documentId, r.quantity from reservation r join warehouse w on w.id = r.warehouse_id where r.item_id = ? order by r.id',
      item,
    )
    .map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

/** The place on one side of a move, in words; `m` is the move. */
export const placeName = (side: 'from' | 'to'): string => `case m.${side}_kind
  when 'stock' then (select w.code || ' ' || n.code from warehouse w, bin n where w.id = m.${side}_id and n.id = m.${side}_bin_id)
  when 'supplier' then (select name from supplier where id = m.${side}_id)
  when 'customer' then (select name from customer where id = m.${side}_id)
  when 'production' then (select number from production_order where id = m.${side}_id)
  else m.document_number end`;

type MovesQuery = ListQuery & { item?: number | undefined; lot?: string | undefined; serial?: string | undefined };

function moves({ item, lot, serial }: MovesQuery): ListDefinition {
  const wheres = [
    ...(item === undefined ? [] : [{ sql: 'm.item_id = ?', values: [item] }]),
    ...(lot === undefined ? [] : [{ sql: '(m.from_lot = ? or m.to_lot = ?)', values: [lot, lot] }]),
    ...(serial === undefined ? [] : [{ sql: '(m.from_serial = ? or m.to_serial = ?)', values: [serial, serial] }]),
  ];
  return {
    columns: {
      id: asNumber('m.id'),
      date: asText('m.date'),
      at: asText('m.at'),
      code: asText('i.code'),
      quantity: asQuantityText("case when m.from_kind = 'stock' and m.to_kind <> 'stock' then -m.quantity else m.quantity end"),
      unit: asText('i.unit_code'),
      from: asText(placeName('from')),
      to: asText(placeName('to')),
      lot: asText("case when m.to_lot <> '' then m.to_lot else m.from_lot end"),
      serial: asText("case when m.to_serial <> '' then m.to_serial else m.from_serial end"),
      state: asText(
        "case when m.from_state <> '' and m.to_state <> '' and m.from_state <> m.to_state then m.from_state || ' → ' || m.to_state when m.to_state <> '' then m.to_state else m.from_state end",
      ),
      note: asText('m.note'),
      value: asAmountText("case when m.from_kind = 'stock' and m.to_kind <> 'stock' then -m.value else m.value end"),
      document: asText('m.document_number'),
      documentKind: asText('m.document_kind'),
      documentId: asNumber('m.document_id'),
      who: asText('u.name'),
      reversed: { sql: 'm.reversal_of is not null or exists (select 1 from stock_move r where r.reversal_of = m.id)', type: 'flag' },
      after: asQuantityText(
        `(select coalesce(sum(b.quantity), 0) from balance b where b.item_id = m.item_id)
         - (select coalesce(sum(case when x.to_kind = 'stock' then x.quantity else 0 end) - sum(case when x.from_kind = 'stock' then x.quantity else 0 end), 0) from stock_move x where x.item_id = m.item_id and x.id > m.id)`,
      ),
    },
    from: 'stock_move m join item i on i.id = m.item_id join user u on u.id = m.user_id',
    countFrom: 'stock_move m',
    ...(wheres.length === 0
      ? {}
      : { where: wheres.map((each) => each.sql).join(' and '), values: wheres.flatMap((each): (string | number)[] => each.values) }),
    find: ['m.document_number', 'i.code', 'm.note', 'm.to_lot', 'm.from_lot', 'm.to_serial', 'm.from_serial'],
    order: 'm.id desc',
    tie: 'm.id',
  };
}

export function listMoves(work: Work, query: MovesQuery): AnswerOf<typeof api.stores.moves> {
  return listPage(work, moves(query), query);
}
