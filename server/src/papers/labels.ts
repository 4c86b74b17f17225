/** What is on the labels of items, lots, serial numbers and bins. */
import { Refusal, gtinOf, writeElementString } from '@terrace/core';
import { and, eq, exists, ne, or, sql } from 'drizzle-orm';
import { bin, item, plainBarcode, warehouse } from '../catalogue';
import { among } from '../platform/expressions';
import { query } from '../platform/query';
import { fetching, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { balance, lot, serialNumber } from '../stores';
import type { Label } from './label-sheet';

const MOST = 500;

const labelled = query(
  ($: { id: number }) => (db) =>
    db.select({ id: item.id, code: item.code, description: item.description, barcode: plainBarcode }).from(item).where(eq(item.id, $.id)),
);
type ItemRow = ReturnType<typeof labelled.all>[number];
const lotOf = fetching(lot, 'lot');
const serialOf = fetching(serialNumber, 'serial number');
const lotsInStock = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ itemId: lot.itemId, code: lot.code, expiry: lot.expiry })
      .from(lot)
      .where(
        and(
          eq(lot.itemId, $.itemId),
          exists(
            db
              .select({ one: sql`1` })
              .from(balance)
              .where(and(eq(balance.itemId, lot.itemId), eq(balance.lot, lot.code))),
          ),
        ),
      )
      .orderBy(sql`coalesce(${lot.expiry}, '9999')`, lot.code),
);
const serialsInStock = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ itemId: balance.itemId, code: balance.serial })
      .from(balance)
      .where(and(eq(balance.itemId, $.itemId), ne(balance.serial, sql`''`)))
      .orderBy(balance.serial),
);
const binsOf = query(
  ($: { warehouseId: number; only: readonly number[] }) => (db) =>
    db
      .select({ code: bin.code, warehouse: warehouse.code, name: warehouse.name })
      .from(bin)
      .innerJoin(warehouse, eq(warehouse.id, bin.warehouseId))
      .where(and(eq(warehouse.id, $.warehouseId), eq(bin.active, true), or(eq(sql`json_array_length(${$.only})`, 0), among(bin.id, $.only))))
      .orderBy(bin.walk, bin.code),
);

/** With a GTIN the code is a GS1 element string; without one it is the item's own code, which is found as well. */
function coded(item: ItemRow, more: { readonly lot?: string; readonly expiry?: string; readonly serial?: string }): Pick<Label, 'code' | 'symbol'> {
  const gtin = item.barcode === null ? null : gtinOf(item.barcode);
  if (gtin === null) return { code: more.serial ?? item.barcode ?? item.code, symbol: 'code128' };
  const code = writeElementString({ gtin, ...more });
  return { code, symbol: more.serial === undefined ? 'gs1-128' : 'gs1datamatrix' };
}

function itemOf(work: Work, id: number): ItemRow {
  return orNotFound(labelled.one(work, { id }), 'item');
}

interface LotRow {
  readonly itemId: number;
  readonly code: string;
  readonly expiry: string | null;
}

function lotLabel(work: Work, lot: LotRow): Label {
  const item = itemOf(work, lot.itemId);
  return {
    title: item.code,
    lines: [item.description, `Lot ${lot.code}${lot.expiry === null ? '' : `, use by ${lot.expiry}`}`],
    ...coded(item, { lot: lot.code, ...(lot.expiry === null ? {} : { expiry: lot.expiry }) }),
  };
}

function serialLabel(work: Work, serial: { readonly itemId: number; readonly code: string }): Label {
  const item = itemOf(work, serial.itemId);
  return { title: item.code, lines: [item.description, `No. ${serial.code}`], ...coded(item, { serial: serial.code }) };
}

/** The labels of a kind; of bins, of those that are named, or of all. Refuses `notFound`, `tooMany`, and `nothingToPrint` where there is none. */
export function labelsOf(work: Work, kind: string, id: number, copies: number, only: readonly number[] = []): Label[] {
  if (!Number.isInteger(copies) || copies < 1 || copies > MOST) throw new Refusal('tooMany', `From 1 to ${MOST} labels can be printed at once.`);
  const labels = made(work, kind, id, copies, only);
  if (labels.length === 0) throw new Refusal('nothingToPrint', 'Nothing of this is in stock, so there is no label to print.');
  return labels.slice(0, MOST);
}

function made(work: Work, kind: string, id: number, copies: number, only: readonly number[]): Label[] {
  switch (kind) {
    case 'item': {
      const item = itemOf(work, id);
      return Array.from({ length: copies }, () => ({ title: item.code, lines: [item.description], ...coded(item, {}) }));
    }
    case 'lot': {
      const one = lotOf(work, id);
      return Array.from({ length: copies }, () => lotLabel(work, one));
    }
    case 'serial': {
      const serial = serialOf(work, id);
      return [serialLabel(work, serial)];
    }
    case 'lotsOf':
      return lotsInStock.all(work, { itemId: id }).map((each) => lotLabel(work, each));
    case 'serialsOf':
      return serialsInStock.all(work, { itemId: id }).map((each) => serialLabel(work, each));
    case 'bins':
      return binsOf
        .all(work, { warehouseId: id, only })
        .map((each) => ({ title: each.code, lines: [each.name], code: `BIN:${each.warehouse}:${each.code}`, symbol: 'code128' as const }));
    default:
      throw new Refusal('notFound', `There are no labels of a ${kind}.`);
  }
}
