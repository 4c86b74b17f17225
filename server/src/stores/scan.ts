/** What a scanned code means: a bin's label, a plain barcode, or a GS1 element string. */
import type { ScanView } from '@terrace/contract';
import { Refusal, barcodesOf, readElementString, writeQuantity } from '@terrace/core';
import type { Work } from '../platform/work';

interface ItemRow {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly tracking: 'none' | 'lot' | 'serial';
  readonly packCode: string | null;
  readonly factor: number | null;
}

const ITEM = `select i.id, i.code, i.description, i.unit_code as unit, i.tracking, b.unit_code as packCode, p.factor
  from item_barcode b join item i on i.id = b.item_id left join pack_unit p on p.item_id = i.id and p.code = b.unit_code where b.barcode = ?`;

const NOTHING: ScanView = {
  item: null,
  lot: null,
  lotId: null,
  serial: null,
  serialId: null,
  expiry: null,
  madeOn: null,
  sscc: null,
  binId: null,
  bin: null,
  quantity: null,
};

/** A bin's label says where it is: `BIN:WORKS:A-01`. */
const BIN = /^BIN:([^:]+):(.+)$/;

/** Reads a scan. Refuses `badScan` for a broken element string and `unknownCode` for one that nothing here carries. */
export function readScan(work: Work, text: string): ScanView {
  const [, warehouse, bin] = BIN.exec(text.trim()) ?? [];
  if (warehouse !== undefined && bin !== undefined) {
    const row = work.row<{ id: number; code: string }>(
      "select n.id, w.code || ' ' || n.code as code from bin n join warehouse w on w.id = n.warehouse_id where w.code = ? and n.code = ?",
      warehouse,
      bin,
    );
    if (!row) throw new Refusal('unknownCode', `There is no bin ${bin} in ${warehouse} any more: print the label anew.`, { text });
    return { ...NOTHING, binId: row.id, bin: row.code };
  }
  const scanned = readElementString(text);
  if (!scanned) {
    const item = work.row<ItemRow>(ITEM, text.trim()) ?? byCode(work, text.trim());
    if (item) return { ...NOTHING, item: itemView(item), quantity: item.factor === null ? null : writeQuantity(item.factor) };
    const serial = work.row<{ id: number; itemId: number; code: string }>(
      'select id, item_id as itemId, code from serial_number where code = ?',
      text.trim(),
    );
    if (serial) return { ...NOTHING, item: itemById(work, serial.itemId), serial: serial.code, serialId: serial.id };
    throw new Refusal('unknownCode', `Nothing here carries "${text.trim()}": scan it again, or enter the barcode on the item’s page.`, { text });
  }
  const { gtin, lot, serial, expiry, madeOn, sscc, quantity } = scanned;
  const item =
    gtin === undefined
      ? undefined
      : barcodesOf(gtin)
          .map((barcode) => work.row<ItemRow>(ITEM, barcode))
          .find((row) => row !== undefined);
  if (gtin !== undefined && !item)
    throw new Refusal('unknownCode', `No item carries the number ${gtin}: enter it as a barcode on the item’s page.`, { text });
  const known = (table: 'lot' | 'serial_number', code: string | undefined): number | null =>
    item && code !== undefined
      ? (work.row<{ id: number }>(`select id from ${table} where item_id = ? and code = ?`, item.id, code)?.id ?? null)
      : null;
  return {
    ...NOTHING,
    item: item ? itemView(item) : null,
    lot: lot ?? null,
    lotId: known('lot', lot),
    serial: serial ?? null,
    serialId: known('serial_number', serial),
    expiry: expiry ?? null,
    madeOn: madeOn ?? null,
    sscc: sscc ?? null,
    quantity: quantity ?? (item?.factor ? writeQuantity(item.factor) : null),
  };
}

function itemView({ id, code, description, unit, tracking }: ItemRow): NonNullable<ScanView['item']> {
  return { id, code, description, unit, tracking };
}

function byCode(work: Work, code: string): ItemRow | undefined {
  return work.row(
    'select id, code, description, unit_code as unit, tracking, null as packCode, null as factor from item where code = ? collate nocase or second_code = ? collate nocase',
    code,
    code,
  );
}

function itemById(work: Work, id: number): ScanView['item'] {
  return work.row<NonNullable<ScanView['item']>>('select id, code, description, unit_code as unit, tracking from item where id = ?', id) ?? null;
}
