/** Lots: as of any day, with any minimum life; blocked and freed everywhere at once; warned of in time. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type LotView, type QueryOf } from '@terrace/contract';
import { Refusal, asQuantity, datesOfLot, remainingLife, usableUntil, writeQuantity, type StockState } from '@terrace/core';
import { asFlag, asNumber, asOptionalNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, changesBetween, orNotFound, type Work } from '../platform/work';
import { postMoves } from './post-moves';
import { trackingOf } from './tracked';

const inStates = (states: string): string =>
  `coalesce((select sum(b.quantity) from balance b where b.item_id = l.item_id and b.lot = l.code and ${states}), 0)`;

function lots(query: QueryOf<typeof api.stores.listLots>, today: string): ListDefinition {
  const { asOf = today, life, item, warehouse, gone } = query;
  const minimum = life === undefined ? 'coalesce(i.rest_life_days, 0)' : String(life);
  const place = warehouse === undefined ? '' : ` and b.warehouse_id = ${warehouse}`;
  const remaining = `cast(julianday(l.expiry) - julianday('${asOf}') as integer)`;
  const wheres = [
    ...(gone === 'true' ? [] : [`exists (select 1 from balance b where b.item_id = l.item_id and b.lot = l.code${place})`]),
    ...(item === undefined ? [] : [`l.item_id = ${item}`]),
  ];
  return {
    columns: {
      id: asNumber('l.id'),
      itemId: asNumber('l.item_id'),
      item: asText('i.code'),
      description: asText('i.description'),
      unit: asText('i.unit_code'),
      lot: asText('l.code'),
      supplierLot: asText('l.supplier_lot'),
      supplier: asText("coalesce(s.name, '')"),
      madeOn: asText('l.made_on'),
      expiry: asText('l.expiry'),
      onHand: asQuantityText(inStates(`b.state <> 'inTransit'${place}`)),
      available: asQuantityText(inStates(`b.state = 'available'${place}`)),
      places: asText(
        `coalesce((select group_concat(distinct w.code || ' ' || n.code) from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = l.item_id and b.lot = l.code${place}), '')`,
      ),
      remaining: asOptionalNumber(remaining),
      minimum: asNumber(minimum),
      shortFrom: asText(`date(l.expiry, '-' || (${minimum} - 1) || ' days')`),
      shortDated: asFlag(`l.expiry is not null and ${remaining} < ${minimum}`),
      blocked: asFlag('l.blocked'),
    },
    from: 'lot l join item i on i.id = l.item_id left join supplier s on s.id = l.supplier_id',
    ...(wheres.length === 0 ? {} : { where: wheres.join(' and ') }),
    find: ['l.code', 'i.code', 'i.description', 'l.supplier_lot'],
    order: "coalesce(l.expiry, '9999-12-31'), i.code, l.code",
    tie: 'l.id',
  };
}

/** Lots as they would be on a day: what remains of their lives, and which would be short-dated. */
export function listLots(work: Work, query: QueryOf<typeof api.stores.listLots>): AnswerOf<typeof api.stores.listLots> {
  return listPage(work, lots(query, work.today), query);
}

interface LotRecord {
  readonly id: number;
  readonly itemId: number;
  readonly item: string;
  readonly description: string;
  readonly unit: string;
  readonly lot: string;
  readonly supplierLot: string;
  readonly supplierId: number | null;
  readonly supplier: string;
  readonly madeOn: string | null;
  readonly expiry: string | null;
  readonly note: string;
  readonly blocked: number;
  readonly blockReason: string;
  readonly version: number;
}

function lotOf(work: Work, id: number): LotRecord {
  return orNotFound(
    work.row<LotRecord>(
      `select l.id, l.item_id as itemId, i.code as item, i.description, i.unit_code as unit, l.code as lot, l.supplier_lot as supplierLot, l.supplier_id as supplierId,
         coalesce(s.name, '') as supplier, l.made_on as madeOn, l.expiry, l.note, l.blocked, l.block_reason as blockReason, l.version
       from lot l join item i on i.id = l.item_id left join supplier s on s.id = l.supplier_id where l.id = ?`,
      id,
    ),
    'lot',
  );
}

export function lotView(work: Work, id: number): LotView {
  const lot = lotOf(work, id);
  const rule = trackingOf(work, lot.itemId);
  return {
    ...lot,
    blocked: lot.blocked === 1,
    remaining: lot.expiry === null ? null : remainingLife(lot.expiry, work.today),
    sellUntil: usableUntil(lot.expiry, rule.sellLife),
    useUntil: usableUntil(lot.expiry, rule.useLife),
    places: work
      .rows<{ warehouse: string; bin: string; state: string; quantity: number }>(
        'select w.code as warehouse, n.code as bin, b.state, b.quantity from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = ? and b.lot = ? order by w.id, n.code, b.state',
        lot.itemId,
        lot.lot,
      )
      .map((place) => ({ ...place, quantity: writeQuantity(place.quantity) })),
  };
}

/** Corrects dates and notes of a lot. */
export function changeLot(work: Work, id: number, input: BodyOf<typeof api.stores.changeLot>): LotView {
  const lot = lotOf(work, id);
  assertVersion(work, 'lot', lot, input.version, `Lot ${lot.lot}`);
  const { madeOn, expiry } = datesOfLot(lot.lot, input, trackingOf(work, lot.itemId));
  work.run(
    'update lot set made_on = ?, expiry = ?, supplier_lot = ?, note = ?, warned = null, version = version + 1 where id = ?',
    madeOn,
    expiry,
    input.supplierLot,
    input.note,
    id,
  );
  const short = (each: LotRecord): Record<string, string | null> => ({
    madeOn: each.madeOn,
    expiry: each.expiry,
    supplierLot: each.supplierLot,
    note: each.note,
  });
  work.record('lot', id, `corrected lot ${lot.lot}`, changesBetween(short(lot), short(lotOf(work, id))));
  work.touch('stock', lot.itemId, lot.lot);
  return lotView(work, id);
}

type Released = readonly { readonly document: string; readonly quantity: string }[];

/**
 * Blocks a lot: all that is available of it, in every warehouse, is held, and whatever of it comes in later. What was
 * reserved and is no longer covered is released, the latest first; sales hears of it.
 */
export function blockLot(work: Work, id: number, input: BodyOf<typeof api.stores.blockLot>): LotView & { released: Released[number][] } {
  const lot = lotOf(work, id);
  assertVersion(work, 'lot', lot, input.version, `Lot ${lot.lot}`);
  if (lot.blocked === 1) throw new Refusal('wrongState', `Lot ${lot.lot} is blocked already: ${lot.blockReason}.`);
  work.run('update lot set blocked = 1, block_reason = ?, version = version + 1 where id = ?', input.reason, id);
  const released = work
    .rows<{ warehouse: number }>(
      "select distinct warehouse_id as warehouse from balance where item_id = ? and lot = ? and state = 'available'",
      lot.itemId,
      lot.lot,
    )
    .flatMap(({ warehouse }) => releaseUncovered(work, lot, warehouse));
  moveBetweenStates(work, lot, 'available', 'held', input.reason);
  work.record('lot', id, `blocked lot ${lot.lot}: ${input.reason}`);
  const lost = released.length === 0 ? '' : `; released: ${released.map((each) => each.document).join(', ')}`;
  work.notify(['manager', 'sales', 'storekeeper'], `Lot ${lot.lot} of ${lot.item} is blocked: ${input.reason}${lost}`, { kind: 'lot', id });
  return { ...lotView(work, id), released: [...released] };
}

function releaseUncovered(work: Work, lot: LotRecord, warehouse: number): Released {
  const left =
    work.row<{ n: number | null }>(
      "select sum(quantity) as n from balance where item_id = ? and warehouse_id = ? and state = 'available' and lot <> ?",
      lot.itemId,
      warehouse,
      lot.lot,
    )?.n ?? 0;
  const held = work.rows<{ id: number; document: string; quantity: number }>(
    'select id, document_number as document, quantity from reservation where item_id = ? and warehouse_id = ? order by id desc',
    lot.itemId,
    warehouse,
  );
  let over = held.reduce((sum, each) => sum + each.quantity, 0) - left;
  return held.flatMap((each) => {
    if (over <= 0) return [];
    const quantity = Math.min(over, each.quantity);
    over -= quantity;
    if (quantity === each.quantity) work.run('delete from reservation where id = ?', each.id);
    else work.run('update reservation set quantity = quantity - ? where id = ?', quantity, each.id);
    return [{ document: each.document, quantity: writeQuantity(quantity) }];
  });
}

/** Frees a lot: what is held of it, in every warehouse, is available again. */
export function freeLot(work: Work, id: number, input: BodyOf<typeof api.stores.freeLot>): LotView {
  const lot = lotOf(work, id);
  assertVersion(work, 'lot', lot, input.version, `Lot ${lot.lot}`);
  if (lot.blocked === 0) throw new Refusal('wrongState', `Lot ${lot.lot} is not blocked.`);
  work.run("update lot set blocked = 0, block_reason = '', version = version + 1 where id = ?", id);
  moveBetweenStates(work, lot, 'held', 'available', input.reason);
  work.record('lot', id, `freed lot ${lot.lot}: ${input.reason}`);
  return lotView(work, id);
}

function moveBetweenStates(work: Work, lot: LotRecord, from: StockState, to: StockState, reason: string): void {
  const held = work.rows<{ warehouse: number; bin: number; quantity: number }>(
    'select warehouse_id as warehouse, bin_id as bin, quantity from balance where item_id = ? and lot = ? and state = ?',
    lot.itemId,
    lot.lot,
    from,
  );
  if (held.length === 0) return;
  const number = work.nextNumber('MV');
  const { id } = work.run('insert into relocation (number, date, reason, note) values (?, ?, ?, ?)', number, work.today, reason, `lot ${lot.lot}`);
  postMoves(work, {
    document: { kind: 'relocation', id, number },
    date: work.today,
    note: reason,
    moves: held.map(({ warehouse, bin, quantity }) => {
      const key = { item: lot.itemId, warehouse, bin, lot: lot.lot, serial: '' };
      return {
        item: lot.itemId,
        quantity: asQuantity(quantity),
        from: { kind: 'stock', key: { ...key, state: from } },
        to: { kind: 'stock', key: { ...key, state: to } },
      };
    }),
    entry: { event: () => ({ kind: 'transfer' }) },
  });
}

/** Tells people once of each lot in stock that has come within its item's days of warning. Returns how many. */
export function warnOfExpiry(work: Work): number {
  const near = work.rows<{ id: number; lot: string; item: string; expiry: string; quantity: number; unit: string }>(
    `select l.id, l.code as lot, i.code as item, l.expiry, i.unit_code as unit,
       (select sum(b.quantity) from balance b where b.item_id = l.item_id and b.lot = l.code) as quantity
     from lot l join item i on i.id = l.item_id join tracking_rule t on t.item_id = l.item_id
     where l.warned is null and t.warn_days > 0 and l.expiry is not null and l.expiry <= date(?, '+' || t.warn_days || ' days')
       and exists (select 1 from balance b where b.item_id = l.item_id and b.lot = l.code)`,
    work.today,
  );
  for (const lot of near) {
    work.run('update lot set warned = ? where id = ?', work.today, lot.id);
    const when = lot.expiry < work.today ? `expired on ${lot.expiry}` : `expires on ${lot.expiry}`;
    work.notify(['manager', 'storekeeper', 'sales'], `${writeQuantity(lot.quantity)} ${lot.unit} of ${lot.item}, lot ${lot.lot}: ${when}`, {
      kind: 'lot',
      id: lot.id,
    });
  }
  return near.length;
}
