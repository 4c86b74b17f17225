/** A trace as EPCIS 2.0 events: receipts and shipments as object events, production as transformations. */
import { createHash } from 'node:crypto';
import type { EpcisDocument } from '@terrace/contract';
import { gtinOf } from '@terrace/core';
import type { Work } from '../platform/work';
import { traced } from './tracing';

type Event = EpcisDocument['epcisBody']['eventList'][number];
type Elements = { epcs: string[]; quantities: { epcClass: string; quantity: number; uom?: string }[] };

/** UNECE Recommendation 20; pieces have no unit in EPCIS. */
const UNITS: Readonly<Record<string, string>> = { kg: 'KGM', g: 'GRM', m: 'MTR', l: 'LTR', hour: 'HUR' };
const SCALE = 100_000;

interface Row {
  readonly at: string;
  readonly quantity: number;
  readonly code: string;
  readonly unit: string;
  readonly tracking: 'none' | 'lot' | 'serial';
  readonly barcode: string | null;
  readonly lot: string;
  readonly serial: string;
  readonly into: number;
  readonly warehouse: string;
  readonly other: number;
  readonly key: string;
}

const ROWS = `select m.at, m.quantity, i.code, i.unit_code as unit, i.tracking,
    (select b.barcode from item_barcode b where b.item_id = i.id and b.unit_code is null order by b.barcode limit 1) as barcode,
    m.from_lot || m.to_lot as lot, m.from_serial || m.to_serial as serial, m.to_kind = 'stock' as "into",
    (select w.code from warehouse w where w.id = case m.to_kind when 'stock' then m.to_id else m.from_id end) as warehouse,
    case m.to_kind when 'stock' then m.from_id else m.to_id end as other, m.item_id || '/' || m.from_lot || m.to_lot || m.from_serial || m.to_serial as key
  from stock_move m join item i on i.id = m.item_id where m.document_kind = ? and m.document_id = ? and m.reversal_of is null order by m.id`;

const urn = (...parts: readonly string[]): string => `urn:x-terrace:${parts.map((part) => encodeURIComponent(part)).join(':')}`;

/** GS1 Digital Link where the item has a GTIN, else a name of ours. */
function identify(row: Row): string {
  const gtin = row.barcode === null ? null : gtinOf(row.barcode);
  const base = gtin === null ? urn('item', row.code) : `https://id.gs1.org/01/${gtin}`;
  const part = (identifier: string, name: string, value: string): string =>
    gtin === null ? `:${name}:${encodeURIComponent(value)}` : `/${identifier}/${encodeURIComponent(value)}`;
  if (row.serial !== '') return `${base}${part('21', 'serial', row.serial)}`;
  if (row.lot !== '') return `${base}${part('10', 'lot', row.lot)}`;
  return base;
}

function elementsOf(rows: readonly Row[]): Elements {
  const epcs = rows.filter((row) => row.serial !== '').map(identify);
  const sums = new Map<string, { epcClass: string; quantity: number; uom?: string }>();
  for (const row of rows) {
    if (row.serial !== '') continue;
    const epcClass = identify(row);
    const uom = UNITS[row.unit];
    sums.set(epcClass, { epcClass, quantity: (sums.get(epcClass)?.quantity ?? 0) + row.quantity, ...(uom === undefined ? {} : { uom }) });
  }
  return { epcs, quantities: [...sums.values()].map((each) => ({ ...each, quantity: each.quantity / SCALE })) };
}

/** The events of all documents that the trace passes through, in the order in which they happened. */
export function epcisOf(work: Work, kind: 'lot' | 'serial', id: number): EpcisDocument {
  const { nodes, edges } = traced(work, kind, id);
  const keys = new Set(nodes.filter((node) => node.piece !== '').map((node) => node.key));
  const documents = new Map<string, { kind: string; id: number; number: string }>();
  for (const edge of edges) {
    const document = work.row<{ kind: string; id: number; number: string }>(
      'select document_kind as kind, document_id as id, document_number as number from stock_move where id = ?',
      edge.move,
    );
    if (document) documents.set(`${document.kind}:${document.id}`, document);
  }
  const events = [...documents.values()].flatMap((document): Event[] => {
    const rows = work.rows<Row>(ROWS, document.kind, document.id);
    const [first] = rows;
    if (!first) return [];
    const digest = createHash('sha256').update(`${document.number} ${first.at}`).digest('hex');
    const at = {
      eventID: `ni:///sha-256;${digest}?ver=CBV2.0`,
      eventTime: first.at,
      eventTimeZoneOffset: '+00:00',
      readPoint: { id: urn('warehouse', first.warehouse) },
    };
    if (document.kind === 'completion') {
      const inside = elementsOf(rows.filter((row) => row.into === 0));
      const outside = elementsOf(rows.filter((row) => row.into === 1));
      if (inside.epcs.length + inside.quantities.length === 0 || outside.epcs.length + outside.quantities.length === 0) return [];
      return [
        {
          type: 'TransformationEvent',
          transformationID: urn('production', document.number),
          ...(inside.epcs.length > 0 ? { inputEPCList: inside.epcs } : {}),
          ...(inside.quantities.length > 0 ? { inputQuantityList: inside.quantities } : {}),
          ...(outside.epcs.length > 0 ? { outputEPCList: outside.epcs } : {}),
          ...(outside.quantities.length > 0 ? { outputQuantityList: outside.quantities } : {}),
          ...at,
          bizStep: 'transforming',
          disposition: 'active',
          bizLocation: at.readPoint,
          bizTransactionList: [{ type: 'prodorder', bizTransaction: urn('production', document.number) }],
        },
      ];
    }
    if (document.kind !== 'receipt' && document.kind !== 'shipment') return [];
    // Only what the trace is about: the rest of the delivery is nobody's business here.
    const { epcs, quantities } = elementsOf(rows.filter((row) => keys.has(row.key)));
    if (epcs.length + quantities.length === 0) return [];
    const arriving = document.kind === 'receipt';
    const party = urn(arriving ? 'supplier' : 'customer', String(first.other));
    return [
      {
        type: 'ObjectEvent',
        action: 'OBSERVE',
        ...(epcs.length > 0 ? { epcList: epcs } : {}),
        ...(quantities.length > 0 ? { quantityList: quantities } : {}),
        ...at,
        bizStep: arriving ? 'receiving' : 'shipping',
        disposition: arriving ? 'in_progress' : 'in_transit',
        ...(arriving ? { bizLocation: at.readPoint } : {}),
        bizTransactionList: [{ type: arriving ? 'recadv' : 'desadv', bizTransaction: urn(document.kind, document.number) }],
        ...(arriving
          ? { sourceList: [{ type: 'owning_party' as const, source: party }] }
          : { destinationList: [{ type: 'owning_party' as const, destination: party }] }),
      },
    ];
  });
  events.sort((a, b) => (a.eventTime < b.eventTime ? -1 : a.eventTime > b.eventTime ? 1 : 0));
  return {
    '@context': ['https://ref.gs1.org/standards/epcis/2.0.0/epcis-context.jsonld'],
    type: 'EPCISDocument',
    schemaVersion: '2.0',
    creationDate: work.now,
    epcisBody: { eventList: events },
  };
}
