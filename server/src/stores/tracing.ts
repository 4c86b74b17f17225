/** Tracing a lot or serial number through the moves, as picture, list and events. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type ListQuery, type TraceRow, type TraceView } from '@terrace/contract';
import {
  asQuantity,
  batchKey,
  flowOf,
  traceBatch,
  writeQuantity,
  type Batch,
  type Flow,
  type Trace,
  type TraceMove,
  type TraceSource,
} from '@terrace/core';
import { asNumber, asQuantityText, asText, listPage, workedOut, type Column } from '../platform/list';
import { orNotFound, type Work } from '../platform/work';

/** Moves over the threshold or through production, taken-back ones left out, in the order in which they were posted. */
const MOVES = `select m.id, m.item_id as item, case when m.from_lot <> '' then m.from_lot when m.to_lot <> '' then m.to_lot when m.from_serial <> '' then m.from_serial else m.to_serial end as piece,
    m.quantity, case when m.to_kind = 'stock' then 'in' else 'out' end as direction,
    case when m.to_kind = 'stock' then m.from_kind else m.to_kind end as kind, case when m.to_kind = 'stock' then m.from_id else m.to_id end as otherId, m.document_id as documentId
  from stock_move m where m.item_id = ? and (m.from_kind <> 'stock' or m.to_kind <> 'stock')
    and m.reversal_of is null and not exists (select 1 from stock_move r where r.reversal_of = m.id) order by m.id`;

interface MoveRow {
  readonly id: number;
  readonly item: number;
  readonly piece: string;
  readonly quantity: number;
  readonly direction: 'in' | 'out';
  readonly kind: 'supplier' | 'customer' | 'production' | 'adjustment';
  readonly otherId: number;
  readonly documentId: number;
}

/** Reads the moves of each item once, as far as the tracing comes upon it. */
function sourceOf(work: Work): TraceSource {
  const flows = new Map<number, Flow>();
  const flow = (item: number): Flow => {
    let known = flows.get(item);
    if (!known) {
      known = flowOf(
        work.rows<MoveRow>(MOVES, item).map((row): TraceMove => ({
          id: row.id,
          item: row.item,
          piece: row.piece,
          quantity: asQuantity(row.quantity),
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
      work
        .rows<{ item: number }>(
          `select distinct item_id as item from stock_move where document_kind = 'completion' and document_id = ? and ${direction === 'in' ? "to_kind = 'production'" : "from_kind = 'production'"}`,
          completion,
        )
        .flatMap(({ item }) => {
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
  const row = orNotFound(
    work.row<{ item: number; code: string }>(`select item_id as item, code from ${kind === 'lot' ? 'lot' : 'serial_number'} where id = ?`, id),
    kind === 'lot' ? 'lot' : 'serial number',
  );
  const start = { key: batchKey(row.item, row.code), item: row.item, piece: row.code };
  return { ...traceBatch(start, sourceOf(work)), start };
}

interface ItemNames {
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly tracking: 'none' | 'lot' | 'serial';
}

function namesOf(work: Work, item: number): ItemNames {
  return (
    work.row<ItemNames>('select code, description, unit_code as unit, tracking from item where id = ?', item) ?? {
      code: '',
      description: '',
      unit: '',
      tracking: 'none',
    }
  );
}

function onHandOf(work: Work, item: number, piece: string): string {
  const row = work.row<{ n: number | null }>(
    'select sum(quantity) as n from balance where item_id = ? and (lot = ? or serial = ?)',
    item,
    piece,
    piece,
  );
  return row?.n ? writeQuantity(row.n) : '';
}

const moveFacts = (work: Work, move: number): { document: string; date: string } =>
  work.row('select document_number as document, date from stock_move where id = ?', move) ?? { document: '', date: '' };

function partyOf(work: Work, kind: 'supplier' | 'customer' | 'adjustment', id: number): { name: string; address: string; contact: string } {
  if (kind === 'adjustment') {
    const row = work.row<{ name: string; number: string }>(
      'select r.name, a.number from adjustment a join reason r on r.code = a.reason where a.id = ?',
      id,
    );
    return { name: row?.name ?? 'adjustment', address: row?.number ?? '', contact: '' };
  }
  const party = work.row<{ name: string; address: string; email: string }>(`select name, address, email from ${kind} where id = ?`, id);
  const contact = work.row<{ name: string; email: string; phone: string }>(
    `select name, email, phone from party_contact where party = ? and party_id = ? order by id limit 1`,
    kind,
    id,
  );
  return {
    name: party?.name ?? '',
    address: (party?.address ?? '').replaceAll('\n', ', '),
    contact: [contact?.name, contact?.phone, contact?.email ?? party?.email].filter((text) => text !== undefined && text !== '').join(', '),
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
      const table = item.tracking === 'lot' ? 'lot' : 'serial_number';
      const piece =
        node.piece === '' ? undefined : work.row<{ id: number }>(`select id from ${table} where item_id = ? and code = ?`, node.item, node.piece);
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

const TRACE_COLUMNS: Record<keyof TraceRow, (sql: string) => Column> = {
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
};

/** The trace as a list for a recall: who gave what of it, where some still is, who has got some. */
export function traceList(work: Work, kind: 'lot' | 'serial', id: number, query: ListQuery): AnswerOf<typeof api.stores.traceList> {
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
    return [
      {
        direction: outside === from ? 'from' : 'to',
        party: party.name,
        address: party.address,
        contact: party.contact,
        item: item.code,
        piece: batch.piece,
        quantity: edge.quantity,
        unit: item.unit,
        ...moveFacts(work, edge.move),
        certainty: edge.likely ? 'likely' : 'certain',
      },
    ];
  });
  const here = nodes.flatMap((node): Row[] => {
    if (node.kind !== 'batch' || node.item === null || node.level < 0 || node.piece === '') return [];
    const item = namesOf(work, node.item);
    return work
      .rows<{ place: string; state: string; quantity: number }>(
        "select w.code || ' ' || n.code as place, b.state, b.quantity from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = ? and (b.lot = ? or b.serial = ?)",
        node.item,
        node.piece,
        node.piece,
      )
      .map((place) => ({
        direction: 'here',
        party: place.place,
        address: place.state,
        contact: '',
        item: item.code,
        piece: node.piece,
        quantity: place.quantity,
        unit: item.unit,
        document: '',
        date: work.today,
        certainty: 'certain',
      }));
  });
  const order = { to: 0, here: 1, from: 2 };
  const all = [...rows, ...here].sort(
    (a, b) => order[a.direction] - order[b.direction] || a.party.localeCompare(b.party) || a.item.localeCompare(b.item),
  );
  const numbered = all.map((row, index) => ({ id: index + 1, ...row }));
  return listPage(work, workedOut(numbered, TRACE_COLUMNS), query);
}
