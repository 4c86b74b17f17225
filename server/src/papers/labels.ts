/** What is on the labels of items, lots, serial numbers and bins. */
import { Refusal, gtinOf, writeElementString } from '@terrace/core';
import { orNotFound, type Work } from '../platform/work';
import type { Label } from './paper';

const MOST = 500;

interface ItemRow {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly barcode: string | null;
}

const ITEM = `select i.id, i.code, i.description, (select b.barcode from item_barcode b where b.item_id = i.id and b.unit_code is null order by b.barcode limit 1) as barcode
  from item i where i.id = ?`;

/** With a GTIN the code is a GS1 element string; without one it is the item's own code, which is found as well. */
function coded(item: ItemRow, more: { readonly lot?: string; readonly expiry?: string; readonly serial?: string }): Pick<Label, 'code' | 'symbol'> {
  const gtin = item.barcode === null ? null : gtinOf(item.barcode);
  if (gtin === null) return { code: more.serial ?? item.barcode ?? item.code, symbol: 'code128' };
  const code = writeElementString({ gtin, ...more });
  return { code, symbol: more.serial === undefined ? 'gs1-128' : 'gs1datamatrix' };
}

function itemOf(work: Work, id: number): ItemRow {
  return orNotFound(work.row<ItemRow>(ITEM, id), 'item');
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

/** The labels of a kind. Refuses `notFound`, `tooMany`, and `nothingToPrint` where there is none. */
export function labelsOf(work: Work, kind: string, id: number, copies: number): Label[] {
  if (!Number.isInteger(copies) || copies < 1 || copies > MOST) throw new Refusal('tooMany', `From 1 to ${MOST} labels can be printed at once.`);
  const labels = made(work, kind, id, copies);
  if (labels.length === 0) throw new Refusal('nothingToPrint', 'Nothing of this is in stock, so there is no label to print.');
  return labels.slice(0, MOST);
}

function made(work: Work, kind: string, id: number, copies: number): Label[] {
  switch (kind) {
    case 'item': {
      const item = itemOf(work, id);
      return Array.from({ length: copies }, () => ({ title: item.code, lines: [item.description], ...coded(item, {}) }));
    }
    case 'lot': {
      const lot = orNotFound(work.row<LotRow>('select item_id as itemId, code, expiry from lot where id = ?', id), 'lot');
      return Array.from({ length: copies }, () => lotLabel(work, lot));
    }
    case 'serial': {
      const serial = orNotFound(
        work.row<{ itemId: number; code: string }>('select item_id as itemId, code from serial_number where id = ?', id),
        'serial number',
      );
      return [serialLabel(work, serial)];
    }
    case 'lotsOf':
      return work
        .rows<LotRow>(
          "select l.item_id as itemId, l.code, l.expiry from lot l where l.item_id = ? and exists (select 1 from balance b where b.item_id = l.item_id and b.lot = l.code) order by coalesce(l.expiry, '9999'), l.code",
          id,
        )
        .map((lot) => lotLabel(work, lot));
    case 'serialsOf':
      return work
        .rows<{ itemId: number; code: string }>(
          "select item_id as itemId, serial as code from balance where item_id = ? and serial <> '' order by serial",
          id,
        )
        .map((serial) => serialLabel(work, serial));
    case 'bins':
      return work
        .rows<{ code: string; warehouse: string; name: string }>(
          'select n.code, w.code as warehouse, w.name from bin n join warehouse w on w.id = n.warehouse_id where w.id = ? order by n.code',
          id,
        )
        .map((bin) => ({ title: bin.code, lines: [bin.name], code: `BIN:${bin.warehouse}:${bin.code}`, symbol: 'code128' as const }));
    default:
      throw new Refusal('notFound', `There are no labels of a ${kind}.`);
  }
}
