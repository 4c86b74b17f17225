import { Refusal, asAmount, asQuantity, parsePositiveQuantity, subtractQuantity, unitCostOf, writePrice, writeQuantity } from '@terrace/core';
import type { PieceInput } from '@terrace/contract';
import { itemFacts, warehouseOf } from '../../catalogue';
import type { Work } from '../../platform/work';
import { adjustStock } from '../../stores';
import { idByCode, type FileKind, type Row } from '../kind';

const REASON = 'OPENING';

function placeOf(work: Work, row: Row): { warehouseId: number; binId: number } {
  const code = row.need('warehouse');
  const warehouse = work.row<{ id: number }>('select id from warehouse where code = ?', code);
  if (!warehouse) throw new Refusal('unknownCode', `There is no warehouse "${code}".`, { field: 'warehouse' });
  const binCode = row.need('bin');
  const bin = work.row<{ id: number }>('select id from bin where warehouse_id = ? and code = ?', warehouse.id, binCode);
  if (!bin) throw new Refusal('unknownCode', `There is no bin "${binCode}" in ${warehouseOf(work, warehouse.id).code}.`, { field: 'bin' });
  return { warehouseId: warehouse.id, binId: bin.id };
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
    const there = asQuantity(
      work.row<{ n: number | null }>(
        'select sum(quantity) as n from balance where item_id = ? and warehouse_id = ? and bin_id = ? and lot = ?',
        itemId,
        warehouseId,
        binId,
        row.get('lot'),
      )?.n ?? 0,
    );
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
    work
      .rows<{
        item: string;
        warehouse: string;
        bin: string;
        lot: string;
        madeOn: string;
        expiry: string;
        serials: string;
        quantity: number;
        poolQuantity: number | null;
        poolValue: number | null;
      }>(
        `select i.code as item, w.code as warehouse, b.code as bin, s.lot, coalesce(l.made_on, '') as madeOn, coalesce(l.expiry, '') as expiry, coalesce(group_concat(nullif(s.serial, ''), ' '), '') as serials, sum(s.quantity) as quantity, p.quantity as poolQuantity, p.value as poolValue
         from balance s join item i on i.id = s.item_id join warehouse w on w.id = s.warehouse_id join bin b on b.id = s.bin_id
         left join cost_pool p on p.item_id = s.item_id and p.warehouse_id = s.warehouse_id
         left join lot l on s.lot <> '' and l.item_id = s.item_id and l.code = s.lot
         where s.quantity > 0 and s.state <> 'inTransit' group by s.item_id, s.warehouse_id, s.bin_id, s.lot order by 1, 2, 3, 4`,
      )
      .map(({ quantity, poolQuantity, poolValue, ...row }) => ({
        ...row,
        quantity: writeQuantity(quantity),
        unitCost: writePrice(unitCostOf(asAmount(poolValue ?? 0), asQuantity(poolQuantity ?? 0))),
      })),
};
