/** What a scanned code means: a bin's label, a plain barcode, or a GS1 element string. */
import type { ScanView } from '@terrace/contract';
import { Refusal, barcodesOf, gtinOf, readElementString, writeElementString, writeQuantity } from '@terrace/core';
import { and, desc, eq, exists, isNull, ne, or, sql } from 'drizzle-orm';
import { bin, binByLabel, item as items, itemBarcode, packUnit, warehouse as warehouses } from '../catalogue';
import { inner, sameText } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { lotOfBalance } from './first-expiring';
import { balance } from './schema';
import { lotNamed } from './tracking';
import { lot as lots, serialNumber } from './tracking-schema';

const FACTS = { id: items.id, code: items.code, description: items.description, unit: items.unitCode, tracking: items.tracking };
const byBarcode = query(
  ($: { barcode: string }) => (db) =>
    db
      .select({ ...FACTS, factor: packUnit.factor })
      .from(itemBarcode)
      .innerJoin(items, eq(items.id, itemBarcode.itemId))
      .leftJoin(packUnit, and(eq(packUnit.itemId, items.id), eq(packUnit.code, itemBarcode.unitCode)))
      .where(eq(itemBarcode.barcode, $.barcode)),
);
type ItemRow = ReturnType<typeof byBarcode.all>[number];
const called = query(
  ($: { code: string }) => (db) =>
    db
      .select({ ...FACTS, factor: sql<ItemRow['factor']>`null` })
      .from(items)
      .where(or(sameText(items.code, $.code), sameText(items.secondCode, $.code))),
);
const byId = query(($: { id: number }) => (db) => db.select(FACTS).from(items).where(eq(items.id, $.id)));
const serialCalled = query(
  ($: { code: string }) => (db) =>
    db.select({ id: serialNumber.id, itemId: serialNumber.itemId, code: serialNumber.code }).from(serialNumber).where(eq(serialNumber.code, $.code)),
);
const serialOfItem = query(
  ($: { itemId: number; code: string }) => (db) =>
    db
      .select({ id: serialNumber.id })
      .from(serialNumber)
      .where(and(eq(serialNumber.itemId, $.itemId), eq(serialNumber.code, $.code))),
);

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
    const row = binByLabel(work, warehouse, bin);
    if (!row) throw new Refusal('unknownCode', `There is no bin ${bin} in ${warehouse} any more: print the label anew.`, { text });
    return { ...NOTHING, binId: row.id, bin: `${warehouse} ${row.code}` };
  }
  const scanned = readElementString(text);
  if (!scanned) {
    const item = byBarcode.one(work, { barcode: text.trim() }) ?? byCode(work, text.trim());
    if (item) return { ...NOTHING, item: itemView(item), quantity: item.factor === null ? null : writeQuantity(item.factor) };
    const serial = serialCalled.one(work, { code: text.trim() });
    if (serial) return { ...NOTHING, item: itemById(work, serial.itemId), serial: serial.code, serialId: serial.id };
    throw new Refusal('unknownCode', `Nothing here carries "${text.trim()}": scan it again, or enter the barcode on the item’s page.`, { text });
  }
  const { gtin, lot, serial, expiry, madeOn, sscc, quantity } = scanned;
  const item =
    gtin === undefined
      ? undefined
      : barcodesOf(gtin)
          .map((barcode) => byBarcode.one(work, { barcode }))
          .find((row) => row !== undefined);
  if (gtin !== undefined && !item)
    throw new Refusal('unknownCode', `No item carries the number ${gtin}: enter it as a barcode on the item’s page.`, { text });
  return {
    ...NOTHING,
    item: item ? itemView(item) : null,
    lot: lot ?? null,
    lotId: item && lot !== undefined ? (lotNamed(work, item.id, lot)?.id ?? null) : null,
    serial: serial ?? null,
    serialId: item && serial !== undefined ? (serialOfItem.one(work, { itemId: item.id, code: serial })?.id ?? null) : null,
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
  return called.one(work, { code });
}

function itemById(work: Work, id: number): ScanView['item'] {
  return byId.one(work, { id }) ?? null;
}

const inStock = exists(
  inner
    .select({ one: sql`1` })
    .from(balance)
    .where(eq(balance.itemId, items.id)),
);
const MOST_PLAIN = 3;
const plainSamples = query(
  () => (db) =>
    db
      .select({ code: items.code, barcode: itemBarcode.barcode, pack: itemBarcode.unitCode })
      .from(itemBarcode)
      .innerJoin(items, eq(items.id, itemBarcode.itemId))
      .where(and(eq(items.active, true), eq(items.tracking, 'none')))
      .orderBy(isNull(itemBarcode.unitCode), desc(inStock), items.code)
      .limit(MOST_PLAIN),
);
const MOST_TRACKED = 4;
const trackedSamples = query(
  () => (db) =>
    db
      .select({ code: items.code, barcode: itemBarcode.barcode, lot: balance.lot, serial: balance.serial, expiry: lots.expiry })
      .from(balance)
      .innerJoin(items, eq(items.id, balance.itemId))
      .innerJoin(itemBarcode, and(eq(itemBarcode.itemId, items.id), isNull(itemBarcode.unitCode)))
      .leftJoin(lots, lotOfBalance)
      .where(and(or(ne(balance.lot, sql`''`), ne(balance.serial, sql`''`)), eq(balance.state, 'available')))
      .groupBy(items.id)
      .orderBy(items.code)
      .limit(MOST_TRACKED),
);
const binSample = query(
  () => (db) =>
    db
      .select({ warehouse: warehouses.code, code: bin.code })
      .from(bin)
      .innerJoin(warehouses, eq(warehouses.id, bin.warehouseId))
      .orderBy(warehouses.id, bin.code)
      .limit(1),
);

/** A few codes that can be scanned: an item, a pack, lots, a serial number, a bin. */
export function scanSamples(work: Work): { words: string; code: string }[] {
  const [plain, pieces, someBin] = [plainSamples.all(work), trackedSamples.all(work), binSample.all(work)];
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
    ...someBin.map((row) => ({ words: `bin ${row.code}`, code: `BIN:${row.warehouse}:${row.code}` })),
  ];
}
