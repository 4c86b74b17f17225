/** Looking at stock: explorer, availability, balance strip, moves. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type Availability, type BalanceStrip, type ListQuery } from '@terrace/contract';
import {
  addDays,
  asQuantity,
  availableToPromise,
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
import { stockOf } from './reserve';

const STRIP_WEEKS = 10;

const sum = (events: readonly { quantity: Quantity }[]): Quantity => asQuantity(events.reduce((all, each) => all + each.quantity, 0));
const firmOf = (events: readonly StockEvent[], kind: StockEvent['kind']): StockEvent[] => events.filter((each) => each.firm && each.kind === kind);

const RESERVED = 'coalesce((select r.quantity from reserved_stock r where r.item_id = i.id and r.warehouse_id = w.id), 0)';
const inStates = (states: string): string =>
  `coalesce((select sum(b.quantity) from balance b where b.item_id = i.id and b.warehouse_id = w.id and ${states}), 0)`;
const IN = `coalesce((select sum(max(0, l.quantity - l.received - l.cancelled)) from purchase_order_line l join purchase_order o on o.id = l.order_id where l.item_id = i.id and o.warehouse_id = w.id and o.state in ('draft', 'approved', 'sent', 'partReceived')), 0)
  + coalesce((select sum(max(0, p.quantity - p.finished)) from production_order p where p.item_id = i.id and p.warehouse_id = w.id and p.state in ('draft', 'released', 'running')), 0)`;
const OUT = `coalesce((select sum(max(0, l.quantity - l.shipped - l.cancelled)) from customer_order_line l join customer_order o on o.id = l.order_id where l.item_id = i.id and o.warehouse_id = w.id and o.state in ('confirmed', 'partShipped')), 0)
  + coalesce((select sum(max(0, c.needed - c.issued)) from production_component c join production_order p on p.id = c.order_id where c.item_id = i.id and p.warehouse_id = w.id and p.state in ('draft', 'released', 'running')), 0)`;

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
  const steps = availableToPromise(stock.available, supplies, demands, work.today);
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
  const events = stockEvents(work, item, warehouse);
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

/** Where an item is: bins and states. */
export function placesOf(work: Work, item: number): AnswerOf<typeof api.stores.places> {
  return work
    .rows<{ warehouse: string; bin: string; lot: string; state: string; quantity: number }>(
      'select w.code as warehouse, n.code as bin, b.lot, b.state, b.quantity from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = ? order by w.id, n.code',
      item,
    )
    .map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

/** Who holds reserved stock of an item. */
export function holdersOf(work: Work, item: number): AnswerOf<typeof api.stores.holders> {
  return work
    .rows<{ id: number; warehouse: string; document: string; kind: 'customerOrder' | 'productionOrder'; documentId: number; quantity: number }>(
      'select r.id, w.code as warehouse, r.document_number as document, r.holder_kind as kind, r.document_id as documentId, r.quantity from reservation r join warehouse w on w.id = r.warehouse_id where r.item_id = ? order by r.id',
      item,
    )
    .map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

const placeName = (side: 'from' | 'to'): string => `case m.${side}_kind
  when 'stock' then (select w.code || ' ' || n.code from warehouse w, bin n where w.id = m.${side}_id and n.id = m.${side}_bin_id)
  when 'supplier' then (select name from supplier where id = m.${side}_id)
  when 'customer' then (select name from customer where id = m.${side}_id)
  when 'production' then (select number from production_order where id = m.${side}_id)
  else 'adjustment' end`;

function moves(item: number | undefined): ListDefinition {
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
      value: asAmountText("case when m.from_kind = 'stock' and m.to_kind <> 'stock' then -m.value else m.value end"),
      document: asText('m.document_number'),
      documentKind: asText('m.document_kind'),
      documentId: asNumber('m.document_id'),
      who: asText('u.name'),
      reversed: { sql: 'm.reversal_of is not null or exists (select 1 from stock_move r where r.reversal_of = m.id)', type: 'flag' },
      after: asQuantityText(
        `(select sum(case when x.from_kind = 'stock' then 0 else x.quantity end) - sum(case when x.to_kind = 'stock' then 0 else x.quantity end) from stock_move x where x.item_id = m.item_id and x.id <= m.id)`,
      ),
    },
    from: 'stock_move m join item i on i.id = m.item_id join user u on u.id = m.user_id',
    countFrom: 'stock_move m',
    ...(item === undefined ? {} : { where: 'm.item_id = ?', values: [item] }),
    find: ['m.document_number', 'i.code', 'm.note'],
    order: 'm.id desc',
    tie: 'm.id',
  };
}

export function listMoves(work: Work, query: ListQuery & { item?: number | undefined }): AnswerOf<typeof api.stores.moves> {
  return listPage(work, moves(query.item), query);
}
