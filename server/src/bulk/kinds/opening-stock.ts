import { Refusal, asAmount, asQuantity, parsePositiveQuantity, subtractQuantity, unitCostOf, writePrice, writeQuantity } from '@terrace/core';
import type { PieceInput } from '@terrace/contract';
import { and, eq, gt, ne, sql } from 'drizzle-orm';
import { bin, binByLabel, item, itemFacts, warehouse, warehouseIdOf } from '../../catalogue';
import { orEmpty, total } from '../../platform/expressions';
import { query } from '../../platform/query';
import type { Work } from '../../platform/work';
import { adjustStock, balance, costPool, lot, lotOfBalance } from '../../stores';
import { idByCode, type FileKind, type Row } from '../kind';

const REASON = 'OPENING';

const lying = query(
  ($: { itemId: number; warehouseId: number; binId: number; lot: string }) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(and(eq(balance.itemId, $.itemId), eq(balance.warehouseId, $.warehouseId), eq(balance.binId, $.binId), eq(balance.lot, $.lot))),
);
const everyPlace = query(
  () => (db) =>
    db
      .select({
        item: item.code,
        warehouse: warehouse.code,
        bin: bin.code,
        lot: balance.lot,
        madeOn: orEmpty(lot.madeOn),
        expiry: orEmpty(lot.expiry),
        serials: sql<string>`coalesce(group_concat(nullif(${balance.serial}, ''), ' '), '')`,
        quantity: total(balance.quantity),
        poolQuantity: costPool.quantity,
        poolValue: costPool.value,
      })
      .from(balance)
      .innerJoin(item, eq(item.id, balance.itemId))
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .leftJoin(costPool, and(eq(costPool.itemId, balance.itemId), eq(costPool.warehouseId, balance.warehouseId)))
      .leftJoin(lot, lotOfBalance)
      .where(and(gt(balance.quantity, sql`0`), ne(balance.state, 'inTransit')))
      .groupBy(balance.itemId, balance.warehouseId, balance.binId, balance.lot)
      .orderBy(item.code, warehouse.code, bin.code, balance.lot),
);

function placeOf(work: Work, row: Row): { warehouseId: number; binId: number } {
  const code = row.need('warehouse');
  const warehouseId = warehouseIdOf(work, code);
  if (warehouseId === undefined) throw new Refusal('unknownCode', `There is no warehouse "${code}".`, { field: 'warehouse' });
  const binCode = row.need('bin');
  const place = binByLabel(work, code, binCode);
  if (!place) throw new Refusal('unknownCode', `There is no bin "${binCode}" in ${code}.`, { field: 'bin' });
  return { warehouseId, binId: place.id };
}

/** What the row says of lot or serial numbers, for the items that have them. */
function piecesOf(row: Row): PieceInput[] | undefined {
  if (row.has('serials')) return [{ serials: row.get('serials') }];
  if (!row.has('lot')) return undefined;
  const date = (key: 'madeOn' | 'expiry'): Partial<PieceInput> => (row.has(key) ? { [key]: row.get(key) } : {});
  return [{ lot: row.get('lot'), ...date('madeOn'), ...date('expiry') }];
}

export const openingStock: FileKind = {
  kind: 'openingStock',
  title: 'Opening stock',
  sample: [
    { item: 'OAK-BOARD', warehouse: 'MAIN', bin: 'A-01-01', quantity: '140', unitCost: '8.40' },
    { item: 'WAX', warehouse: 'MAIN', bin: 'DOCK', quantity: '12.5', unitCost: '11.20', lot: 'W-2611', expiry: '2028-05-31' },
  ],
  columns: () => [
    { key: 'item', title: 'Item', type: 'text', needed: true, known: ['code', 'item code'] },
    { key: 'warehouse', title: 'Warehouse', type: 'text', needed: true },
    { key: 'bin', title: 'Bin', type: 'text', needed: true },
    { key: 'quantity', title: 'Quantity', type: 'number', needed: true, hint: 'what lies there in all, in the base unit', known: ['on hand'] },
    { key: 'unitCost', title: 'Unit cost', type: 'number', needed: true, known: ['cost'] },
    { key: 'lot', title: 'Lot', type: 'text', hint: 'for items kept by lot', known: ['batch', 'lot number'] },
    { key: 'madeOn', title: 'Made on', type: 'date' },
    { key: 'expiry', title: 'Expiry', type: 'date', known: ['best before', 'use by'] },
    { key: 'serials', title: 'Serial numbers', type: 'text', hint: 'as a list, or from..to', known: ['serial number', 'serials'] },
  ],
  take: (work, [row], source) => {
    if (!row) throw new RangeError('no row');
    const itemId = idByCode(work, 'item', row, 'item');
    const { warehouseId, binId } = placeOf(work, row);
    const { code, decimals } = itemFacts(work, itemId);
    const wanted = parsePositiveQuantity(row.need('quantity'), decimals, 'the quantity');
    const there = lying.one(work, { itemId, warehouseId, binId, lot: row.get('lot') })?.quantity ?? asQuantity(0);
    const name = `${code} in ${row.get('bin')}${row.has('lot') ? `, lot ${row.get('lot')}` : ''}`;
    if (there === wanted) return { outcome: 'same', name, changes: [] };
    if (there > 0)
      throw new Refusal('notOpening', `${writeQuantity(there)} lie there already, so this is no opening stock: count the bin instead.`, {
        field: 'quantity',
      });
    adjustStock(work, {
      warehouseId,
      reason: REASON,
      note: source,
      lines: [{ itemId, binId, change: writeQuantity(subtractQuantity(wanted, there)), unitCost: row.need('unitCost'), pieces: piecesOf(row) }],
    });
    return { outcome: 'added', name, changes: [{ field: 'quantity', from: '0', to: writeQuantity(wanted) }] };
  },
  rows: (work) =>
    everyPlace.all(work).map(({ quantity, poolQuantity, poolValue, ...row }) => ({
      ...row,
      quantity: writeQuantity(quantity),
      unitCost: writePrice(unitCostOf(poolValue ?? asAmount(0), poolQuantity ?? asQuantity(0))),
    })),
};
