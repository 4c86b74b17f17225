/** Tracing a lot or serial number through the moves, as picture, list and events. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type ListQuery, type TraceRow, type TraceView } from '@terrace/contract';
import { batchKey, flowOf, traceBatch, writeQuantity, type Batch, type Flow, type Trace, type TraceMove, type TraceSource } from '@terrace/core';
import { and, eq, ne, or, sql, type SQL } from 'drizzle-orm';
import { bin, customerOf, firstContactOf, item as items, reason, supplierOf, warehouse } from '../catalogue';
import { total } from '../platform/expressions';
import { asNumber, asQuantityText, asText, listPage, workedOut, type Column } from '../platform/list';
import { query } from '../platform/query';
import { fetching } from '../platform/rows';
import type { Work } from '../platform/work';
import { isStanding } from './moves';
import { adjustment, balance, stockMove } from './schema';
import { lot, serialNumber } from './tracking-schema';

const pieceMoved = sql<string>`case
  when ${stockMove.fromLot} <> '' then ${stockMove.fromLot}
  when ${stockMove.toLot} <> '' then ${stockMove.toLot}
  when ${stockMove.fromSerial} <> '' then ${stockMove.fromSerial}
  else ${stockMove.toSerial} end`;
const arrives = sql`${stockMove.toKind} = 'stock'`;
/** Moves over the threshold or through production, taken-back ones left out, in the order in which they were posted. */
const movesOf = query(
  ($: { item: number }) => (db) =>
    db
      .select({
        id: stockMove.id,
        item: stockMove.itemId,
        piece: pieceMoved,
        quantity: stockMove.quantity,
        direction: sql<'in' | 'out'>`case when ${arrives} then 'in' else 'out' end`,
        kind: sql<
          'supplier' | 'customer' | 'production' | 'adjustment'
        >`case when ${arrives} then ${stockMove.fromKind} else ${stockMove.toKind} end`,
        otherId: sql<number>`case when ${arrives} then ${stockMove.fromId} else ${stockMove.toId} end`,
        documentId: stockMove.documentId,
      })
      .from(stockMove)
      .where(and(eq(stockMove.itemId, $.item), or(ne(stockMove.fromKind, 'stock'), ne(stockMove.toKind, 'stock')), isStanding))
      .orderBy(stockMove.id),
);
/** Items that went into a report of production, or came out of it. */
const itemsOnSide = (side: typeof stockMove.toKind | typeof stockMove.fromKind) =>
  query(
    ($: { completion: number }) => (db) =>
      db
        .selectDistinct({ item: stockMove.itemId })
        .from(stockMove)
        .where(and(eq(stockMove.documentKind, 'completion'), eq(stockMove.documentId, $.completion), eq(side, 'production'))),
  );
const itemsOf = { in: itemsOnSide(stockMove.toKind), out: itemsOnSide(stockMove.fromKind) };
const fetchPiece = { lot: fetching(lot, 'lot'), serial: fetching(serialNumber, 'serial number') };
const called = (table: typeof lot | typeof serialNumber) =>
  query(
    ($: { item: number; code: string }) => (db) =>
      db
        .select({ id: table.id })
        .from(table)
        .where(and(eq(table.itemId, $.item), eq(table.code, $.code))),
  );
const pieceCalled = { lot: called(lot), serial: called(serialNumber) };
const names = query(
  ($: { item: number }) => (db) =>
    db
      .select({ code: items.code, description: items.description, unit: items.unitCode, tracking: items.tracking })
      .from(items)
      .where(eq(items.id, $.item)),
);
type PieceOfItem = { item: number; piece: string };
const isPiece = ($: PieceOfItem): SQL | undefined => and(eq(balance.itemId, $.item), or(eq(balance.lot, $.piece), eq(balance.serial, $.piece)));
const quantityOfPiece = query(
  ($: PieceOfItem) => (db) =>
    db
      .select({ quantity: total(balance.quantity) })
      .from(balance)
      .where(isPiece($)),
);
const placesOfPiece = query(
  ($: PieceOfItem) => (db) =>
    db
      .select({ place: sql<string>`${warehouse.code} || ' ' || ${bin.code}`, state: balance.state, quantity: balance.quantity })
      .from(balance)
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .where(isPiece($)),
);
const documentOf = query(
  ($: { move: number }) => (db) =>
    db.select({ document: stockMove.documentNumber, date: stockMove.date }).from(stockMove).where(eq(stockMove.id, $.move)),
);
const adjustmentNamed = query(
  ($: { id: number }) => (db) =>
    db
      .select({ name: reason.name, number: adjustment.number })
      .from(adjustment)
      .innerJoin(reason, eq(reason.code, adjustment.reason))
      .where(eq(adjustment.id, $.id)),
);

/** Reads the moves of each item once, as far as the tracing comes upon it. */
function sourceOf(work: Work): TraceSource {
  const flows = new Map<number, Flow>();
  const flow = (item: number): Flow => {
    let known = flows.get(item);
    if (!known) {
      known = flowOf(
        movesOf.all(work, { item }).map((row): TraceMove => ({
          id: row.id,
          item: row.item,
          piece: row.piece,
          quantity: row.quantity,
          direction: row.direction,
          other: row.kind === 'production' ? { kind: 'completion', id: row.documentId } : { kind: row.kind, id: row.otherId },
        })),
      );
      flows.set(item, known);
    }
    return known;
  };
  return {
    passagesOf: (batch) => flow(batch.item).passages.filter((passage) => passage.batch === batch.key),
    sideOf: (completion, direction) =>
      itemsOf[direction].all(work, { completion }).flatMap(({ item }) => {
        const { batches, passages } = flow(item);
        const wanted = passages.filter(
          (passage) =>
            passage.other.kind === 'completion' && passage.other.id === completion && passage.direction === (direction === 'in' ? 'out' : 'in'),
        );
        return wanted.flatMap((passage) => {
          const batch = batches.find((each) => each.key === passage.batch);
          return batch ? [{ batch, passage }] : [];
        });
      }),
  };
}

export interface Traced extends Trace {
  readonly complete: boolean;
  readonly start: Batch;
}

/** Follows a lot or a serial number both ways. */
export function traced(work: Work, kind: 'lot' | 'serial', id: number): Traced {
  const { itemId: item, code } = fetchPiece[kind](work, id);
  const start = { key: batchKey(item, code), item, piece: code };
  return { ...traceBatch(start, sourceOf(work)), start };
}

type ItemNames = NonNullable<ReturnType<typeof names.one>>;

function namesOf(work: Work, item: number): ItemNames {
  return names.one(work, { item }) ?? { code: '', description: '', unit: '', tracking: 'none' };
}

function onHandOf(work: Work, item: number, piece: string): string {
  const there = quantityOfPiece.one(work, { item, piece })?.quantity ?? 0;
  return there === 0 ? '' : writeQuantity(there);
}

const moveFacts = (work: Work, move: number): { document: string; date: string } => documentOf.one(work, { move }) ?? { document: '', date: '' };

function partyOf(work: Work, kind: 'supplier' | 'customer' | 'adjustment', id: number): { name: string; address: string; contact: string } {
  if (kind === 'adjustment') {
    const row = adjustmentNamed.one(work, { id });
    return { name: row?.name ?? 'adjustment', address: row?.number ?? '', contact: '' };
  }
  const { name, address, email } = kind === 'supplier' ? supplierOf(work, id) : customerOf(work, id);
  const contact = firstContactOf(work, kind, id);
  return {
    name,
    address: address.replaceAll('\n', ', '),
    contact: [contact?.name, contact?.phone, contact?.email ?? email].filter((text) => text !== undefined && text !== '').join(', '),
  };
}

/** The trace as a picture: batches and parties, and what passed between them. */
export function traceView(work: Work, kind: 'lot' | 'serial', id: number): TraceView {
  const { start, nodes, edges, complete } = traced(work, kind, id);
  const names = namesOf(work, start.item);
  const firstMove = new Map<string, number>();
  for (const edge of edges) if (!firstMove.has(edge.to)) firstMove.set(edge.to, edge.move);
  const units = new Map(nodes.map((node) => [node.key, node.item === null ? '' : namesOf(work, node.item).unit]));
  return {
    title: start.piece,
    item: names.code,
    complete,
    nodes: nodes.map((node) => {
      if (node.item === null || node.kind !== 'batch') {
        const party = node.kind === 'batch' ? { name: '', address: '', contact: '' } : partyOf(work, node.kind, node.party ?? 0);
        return {
          key: node.key,
          kind: node.kind,
          level: node.level,
          title: party.name,
          detail: party.address,
          itemId: null,
          link: node.kind === 'batch' ? null : { kind: node.kind, id: node.party ?? 0 },
          onHand: '',
        };
      }
      const item = namesOf(work, node.item);
      const piece =
        node.piece === '' ? undefined : pieceCalled[item.tracking === 'lot' ? 'lot' : 'serial'].one(work, { item: node.item, code: node.piece });
      const came = firstMove.get(node.key);
      const title = node.piece === '' ? item.code : `${item.code} ${node.piece}`;
      const documentText = node.piece === '' && came !== undefined ? `, by ${moveFacts(work, came).document}` : '';
      return {
        key: node.key,
        kind: node.kind,
        level: node.level,
        title,
        detail: `${item.description}${documentText}`,
        itemId: node.item,
        link: piece ? { kind: item.tracking === 'lot' ? 'lot' : 'serialNumber', id: piece.id } : { kind: 'item', id: node.item },
        onHand: node.piece === '' ? '' : onHandOf(work, node.item, node.piece),
      };
    }),
    edges: edges.map((edge) => ({
      from: edge.from,
      to: edge.to,
      quantity: writeQuantity(edge.quantity),
      unit: units.get(edge.from) ?? units.get(edge.to) ?? '',
      likely: edge.likely,
      ...moveFacts(work, edge.move),
    })),
  };
}

const traceRows = workedOut({
  id: asNumber,
  direction: asText,
  party: asText,
  address: asText,
  contact: asText,
  item: asText,
  piece: asText,
  quantity: asQuantityText,
  unit: asText,
  document: asText,
  date: asText,
  certainty: asText,
} satisfies Record<keyof TraceRow, (of: SQL) => Column>);

/** What of a batch that came in has not gone out again, the first in first out. */
function leftOfBatch(source: TraceSource, batch: Batch): number {
  return source.passagesOf(batch).reduce((left, { direction, quantity }) => left + (direction === 'in' ? quantity : -quantity), 0);
}

/** The trace as a list for a recall: who gave what of it, where some still is, who has got some. */
export function traceList(work: Work, kind: 'lot' | 'serial', id: number, asked: ListQuery): AnswerOf<typeof api.stores.traceList> {
  const { nodes, edges } = traced(work, kind, id);
  const byKey = new Map(nodes.map((node) => [node.key, node]));
  type Row = Omit<TraceRow, 'id' | 'quantity'> & { quantity: number };
  const rows: Row[] = edges.flatMap((edge): Row[] => {
    const [from, to] = [byKey.get(edge.from), byKey.get(edge.to)];
    const outside = [from, to].find((node) => node && node.kind !== 'batch');
    const batch = [from, to].find((node) => node?.kind === 'batch');
    if (!outside || outside.kind === 'batch' || !batch || batch.item === null) return [];
    const item = namesOf(work, batch.item);
    const party = partyOf(work, outside.kind, outside.party ?? 0);
    // Each document says by itself what went with it.
    const documents = new Map<string, { date: string; quantity: number }>();
    for (const { move, quantity } of edge.parts) {
      const { document, date } = moveFacts(work, move);
      documents.set(document, { date, quantity: (documents.get(document)?.quantity ?? 0) + quantity });
    }
    return [...documents].map(([document, { date, quantity }]) => ({
      direction: outside === from ? 'from' : 'to',
      party: party.name,
      address: party.address,
      contact: party.contact,
      item: item.code,
      piece: batch.piece,
      quantity,
      unit: item.unit,
      document,
      date,
      certainty: edge.likely ? 'likely' : 'certain',
    }));
  });
  const source = sourceOf(work);
  const here = nodes.flatMap((node): Row[] => {
    if (node.kind !== 'batch' || node.item === null || node.level < 0) return [];
    const item = namesOf(work, node.item);
    // What is told apart by nothing may be what is left of it, in whichever place some of the item is.
    const most = node.piece === '' ? leftOfBatch(source, { key: node.key, item: node.item, piece: '' }) : Infinity;
    if (most <= 0) return [];
    const places = placesOfPiece.all(work, { item: node.item, piece: node.piece });
    const all = places.reduce((sum, { quantity }) => sum + quantity, 0);
    return places.map((place) => ({
      direction: 'here',
      party: place.place,
      address: place.state,
      contact: '',
      item: item.code,
      piece: node.piece,
      quantity: Math.min(most, place.quantity),
      unit: item.unit,
      document: '',
      date: work.today,
      certainty: all <= most ? 'certain' : 'likely',
    }));
  });
  const order = { to: 0, here: 1, from: 2 };
  const all = [...rows, ...here].sort(
    (a, b) => order[a.direction] - order[b.direction] || a.party.localeCompare(b.party) || a.item.localeCompare(b.item),
  );
  const numbered = all.map((row, index) => ({ id: index + 1, ...row }));
  return listPage(work, traceRows, asked, { rows: numbered });
}
