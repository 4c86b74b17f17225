/** A trace as EPCIS 2.0 events: receipts and shipments as object events, production as transformations. */
import { createHash } from 'node:crypto';
import { and, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import type { DocumentKind, EpcisDocument } from '@terrace/contract';
import { gtinOf } from '@terrace/core';
import { item, plainBarcode, warehouse } from '../catalogue';
import { flag } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { stockMove } from './schema';
import { traced } from './tracing';

type Event = EpcisDocument['epcisBody']['eventList'][number];
type Elements = { epcs: string[]; quantities: { epcClass: string; quantity: number; uom?: string }[] };

/** UNECE Recommendation 20; pieces have no unit in EPCIS. */
const UNITS: Readonly<Record<string, string>> = { kg: 'KGM', g: 'GRM', m: 'MTR', l: 'LTR', hour: 'HUR' };
const SCALE = 100_000;

const insideWarehouse = sql<number>`case ${stockMove.toKind} when 'stock' then ${stockMove.toId} else ${stockMove.fromId} end`;
const movesOfDocument = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select({
        at: stockMove.at,
        quantity: stockMove.quantity,
        code: item.code,
        unit: item.unitCode,
        barcode: plainBarcode,
        lot: sql<string>`${stockMove.fromLot} || ${stockMove.toLot}`,
        serial: sql<string>`${stockMove.fromSerial} || ${stockMove.toSerial}`,
        into: flag(eq(stockMove.toKind, 'stock')),
        party: flag(or(inArray(stockMove.fromKind, ['supplier', 'customer']), inArray(stockMove.toKind, ['supplier', 'customer'])) ?? sql`0`),
        warehouse: warehouse.code,
        other: sql<number>`case ${stockMove.toKind} when 'stock' then ${stockMove.fromId} else ${stockMove.toId} end`,
        key: sql<string>`${stockMove.itemId} || '/' || ${stockMove.fromLot} || ${stockMove.toLot} || ${stockMove.fromSerial} || ${stockMove.toSerial}`,
      })
      .from(stockMove)
      .innerJoin(item, eq(item.id, stockMove.itemId))
      .innerJoin(warehouse, eq(warehouse.id, insideWarehouse))
      .where(and(eq(stockMove.documentKind, $.kind), eq(stockMove.documentId, $.id), isNull(stockMove.reversalOf)))
      .orderBy(stockMove.id),
);
type Row = ReturnType<typeof movesOfDocument.all>[number];
const documentOfMove = query(
  ($: { id: number }) => (db) =>
    db
      .select({ kind: stockMove.documentKind, id: stockMove.documentId, number: stockMove.documentNumber })
      .from(stockMove)
      .where(eq(stockMove.id, $.id)),
);

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
  const documents = new Map<string, { kind: DocumentKind; id: number; number: string }>();
  for (const edge of edges) {
    const document = documentOfMove.one(work, { id: edge.move });
    if (document) documents.set(`${document.kind}:${document.id}`, document);
  }
  const events = [...documents.values()].flatMap((document): Event[] => {
    const rows = movesOfDocument.all(work, { kind: document.kind, id: document.id });
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
      const inside = elementsOf(rows.filter((row) => !row.into));
      const outside = elementsOf(rows.filter((row) => row.into));
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
    if (document.kind !== 'receipt' && document.kind !== 'shipment' && document.kind !== 'customerReturn') return [];
    // Only what the trace is about, as it came over the threshold: the rest of the delivery is nobody's business here.
    const { epcs, quantities } = elementsOf(rows.filter((row) => keys.has(row.key) && row.party));
    if (epcs.length + quantities.length === 0) return [];
    const back = document.kind === 'customerReturn';
    const arriving = document.kind !== 'shipment';
    const party = urn(document.kind === 'receipt' ? 'supplier' : 'customer', String(first.other));
    return [
      {
        type: 'ObjectEvent',
        action: 'OBSERVE',
        ...(epcs.length > 0 ? { epcList: epcs } : {}),
        ...(quantities.length > 0 ? { quantityList: quantities } : {}),
        ...at,
        bizStep: arriving ? 'receiving' : 'shipping',
        disposition: back ? 'returned' : arriving ? 'in_progress' : 'in_transit',
        ...(arriving ? { bizLocation: at.readPoint } : {}),
        bizTransactionList: [{ type: back ? 'rma' : arriving ? 'recadv' : 'desadv', bizTransaction: urn(document.kind, document.number) }],
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
