/** What a scanned code means: a bin's label, a plain barcode, or a GS1 element string. */
import type { ScanView } from '@terrace/contract';
import { Refusal, barcodesOf, gtinOf, readElementString, writeElementString, writeQuantity } from '@terrace/core';
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

/** A few codes that can be scanned: an item, a pack, lots, a serial number, a bin. */
export function scanSamples(work: Work): { words: string; code: string }[] {
  const plain = work.rows<{ code: string; barcode: string; pack: string | null }>(
    `select i.code, b.barcode, b.unit_code as pack from item_barcode b join item i on i.id = b.item_id where i.active = 1 and i.tracking = 'none'
     order by b.unit_code is null, exists (select 1 from balance x where x.item_id = i.id) desc, i.code limit 3`,
  );
  const pieces = work.rows<{ code: string; barcode: string; lot: string; serial: string; expiry: string | null }>(
    `select i.code, b.barcode, s.lot, s.serial, l.expiry from balance s join item i on i.id = s.item_id join item_barcode b on b.item_id = i.id and b.unit_code is null
       left join lot l on s.lot <> '' and l.item_id = s.item_id and l.code = s.lot
     where (s.lot <> '' or s.serial <> '') and s.state = 'available' group by i.id order by i.code limit 4`,
  );
  const bin = work.rows<{ warehouse: string; code: string }>(
    'select w.code as warehouse, n.code from bin n join warehouse w on w.id = n.warehouse_id order by w.id, n.code limit 1',
  );
  return [
    ...plain.map((row) => ({ words: row.pack === null ? row.code : `${row.code}, a ${row.pack}`, code: row.barcode })),
    ...pieces.flatMap((row) => {
      const gtin = gtinOf(row.barcode);
      if (gtin === null) return [];
      const more = row.serial === '' ? { lot: row.lot, ...(row.expiry === null ? {} : { expiry: row.expiry }) } : { serial: row.serial };
      return [
        { words: `${row.code}, ${row.serial === '' ? `lot ${row.lot}` : `number ${row.serial}`}`, code: writeElementString({ gtin, ...more }) },
      ];
    }),
    ...bin.map((row) => ({ words: `bin ${row.code}`, code: `BIN:${row.warehouse}:${row.code}` })),
  ];
}
