/** Serial numbers: where each is and everything that happened to it. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type DocumentKind, type QueryOf, type SerialView } from '@terrace/contract';
import { writeAmount, writeQuantity } from '@terrace/core';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, changesBetween, orNotFound, type Work } from '../platform/work';
import { placeName } from './look';

const PLACE = `(select w.code || ' ' || n.code from balance b join warehouse w on w.id = b.warehouse_id join bin n on n.id = b.bin_id where b.item_id = s.item_id and b.serial = s.code limit 1)`;
const STATE = '(select b.state from balance b where b.item_id = s.item_id and b.serial = s.code limit 1)';
const LAST_OUT = `(select m.id from stock_move m where m.item_id = s.item_id and m.from_serial = s.code and m.to_kind = 'customer' and not exists (select 1 from stock_move r where r.reversal_of = m.id) order by m.id desc limit 1)`;

const LAST = `(select m.id from stock_move m where m.item_id = s.item_id and m.from_serial = s.code and m.reversal_of is null and not exists (select 1 from stock_move r where r.reversal_of = m.id) order by m.id desc limit 1)`;
const GONE = `case (select m.to_kind from stock_move m where m.id = ${LAST}) when 'customer' then 'shipped' when 'production' then 'used' else 'gone' end`;
/** The customer, or the piece that it was built into, or the production order where that is not known. */
const WENT_TO = `coalesce((select case m.to_kind when 'customer' then (select c.name from customer c where c.id = m.to_id) when 'production' then
  coalesce((select 'in ' || x.to_serial from stock_move x where x.document_kind = 'completion' and x.document_id = m.document_id and x.from_kind = 'production' and x.to_serial <> '' limit 1), m.document_number) else '' end
  from stock_move m where m.id = ${LAST}), '')`;

function serials(query: QueryOf<typeof api.stores.listSerials>): ListDefinition {
  const { item, warehouse } = query;
  const wheres = [
    ...(item === undefined ? [] : [`s.item_id = ${item}`]),
    ...(warehouse === undefined
      ? []
      : [`exists (select 1 from balance b where b.item_id = s.item_id and b.serial = s.code and b.warehouse_id = ${warehouse})`]),
  ];
  return {
    columns: {
      id: asNumber('s.id'),
      itemId: asNumber('s.item_id'),
      item: asText('i.code'),
      description: asText('i.description'),
      serial: asText('s.code'),
      place: asText(`coalesce(${PLACE}, '')`),
      state: asText(`coalesce(${STATE}, ${GONE})`),
      customer: asText(`case when ${PLACE} is null then ${WENT_TO} else '' end`),
      shippedOn: asText(`case when ${PLACE} is null then (select m.date from stock_move m where m.id = ${LAST_OUT}) end`),
      warrantyUntil: asText('s.warranty_until'),
      contractUntil: asText('s.contract_until'),
    },
    from: 'serial_number s join item i on i.id = s.item_id',
    ...(wheres.length === 0 ? {} : { where: wheres.join(' and ') }),
    find: ['s.code', 'i.code', 'i.description', 's.note'],
    order: 's.id desc',
    tie: 's.id',
  };
}

export function listSerials(work: Work, query: QueryOf<typeof api.stores.listSerials>): AnswerOf<typeof api.stores.listSerials> {
  return listPage(work, serials(query), query);
}

interface SerialRecord {
  readonly id: number;
  readonly itemId: number;
  readonly item: string;
  readonly description: string;
  readonly serial: string;
  readonly madeOn: string | null;
  readonly supplier: string;
  readonly warrantyUntil: string | null;
  readonly contractUntil: string | null;
  readonly contract: string;
  readonly note: string;
  readonly version: number;
  readonly place: string | null;
  readonly state: string | null;
}

const SERIAL = `select s.id, s.item_id as itemId, i.code as item, i.description, s.code as serial, s.made_on as madeOn, coalesce(p.name, '') as supplier,
    s.warranty_until as warrantyUntil, s.contract_until as contractUntil, s.contract, s.note, s.version, ${PLACE} as place, ${STATE} as state
  from serial_number s join item i on i.id = s.item_id left join supplier p on p.id = s.supplier_id where s.id = ?`;

interface MoveRow {
  readonly id: number;
  readonly date: string;
  readonly from: string;
  readonly to: string;
  readonly document: string;
  readonly documentKind: DocumentKind;
  readonly documentId: number;
  readonly who: string;
  readonly value: number;
  readonly fromKind: string;
  readonly toKind: string;
  readonly toId: number;
  readonly takenBack: number;
}

export function serialView(work: Work, id: number): SerialView {
  const { ...serial } = orNotFound(work.row<SerialRecord>(SERIAL, id), 'serial number');
  const moves = work.rows<MoveRow>(
    `select m.id, m.date, ${placeName('from')} as "from", ${placeName('to')} as "to", m.document_number as document, m.document_kind as documentKind, m.document_id as documentId,
       u.name as who, m.value, m.from_kind as fromKind, m.to_kind as toKind, m.to_id as toId,
       m.reversal_of is not null or exists (select 1 from stock_move r where r.reversal_of = m.id) as takenBack
     from stock_move m join user u on u.id = m.user_id where m.item_id = ? and (m.from_serial = ? or m.to_serial = ?) order by m.id`,
    serial.itemId,
    serial.serial,
    serial.serial,
  );
  const standing = moves.filter((move) => move.takenBack === 0);
  const came = standing.find((move) => move.fromKind !== 'stock');
  const left = standing.at(-1)?.toKind === 'customer' ? standing.at(-1) : undefined;
  const made = standing.find((move) => move.documentKind === 'completion' && move.fromKind === 'production');
  const used = standing.find((move) => move.documentKind === 'completion' && move.toKind === 'production');
  return {
    ...serial,
    state: serial.state ?? (left ? 'shipped' : used ? 'used' : 'gone'),
    cost: came ? writeAmount(came.value) : null,
    customer: left?.to ?? '',
    customerId: left?.toId ?? null,
    shippedOn: left?.date ?? null,
    moves: moves.map(({ id: _id, fromKind: _from, toKind: _to, toId: _toId, takenBack: _back, ...move }) => ({
      ...move,
      value: writeAmount(move.value),
    })),
    components: made ? componentsIn(work, made.documentId) : [],
    insideOf: used ? madeIn(work, used.documentId) : [],
  };
}

/** What one report of production took: all of it, since it is known per report. */
function componentsIn(work: Work, completion: number): SerialView['components'] {
  return work
    .rows<{ itemId: number; item: string; description: string; quantity: number; unit: string; lot: string; serial: string; pieceId: number | null }>(
      `select m.item_id as itemId, i.code as item, i.description, sum(m.quantity) as quantity, i.unit_code as unit, m.from_lot as lot, m.from_serial as serial,
         coalesce((select l.id from lot l where l.item_id = m.item_id and l.code = m.from_lot), (select s.id from serial_number s where s.item_id = m.item_id and s.code = m.from_serial)) as pieceId
       from stock_move m join item i on i.id = m.item_id where m.document_kind = 'completion' and m.document_id = ? and m.to_kind = 'production' and m.reversal_of is null
       group by m.item_id, m.from_lot, m.from_serial order by i.code`,
      completion,
    )
    .map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

function madeIn(work: Work, completion: number): SerialView['insideOf'] {
  return work.rows(
    `select s.id, i.code as item, s.code as serial from stock_move m join item i on i.id = m.item_id join serial_number s on s.item_id = m.item_id and s.code = m.to_serial
     where m.document_kind = 'completion' and m.document_id = ? and m.from_kind = 'production' and m.reversal_of is null`,
    completion,
  );
}

/** Keeps warranty, service contract and notes. */
export function changeSerial(work: Work, id: number, input: BodyOf<typeof api.stores.changeSerial>): SerialView {
  const before = serialView(work, id);
  assertVersion(work, 'serialNumber', before, input.version, before.serial);
  work.run(
    'update serial_number set warranty_until = ?, contract_until = ?, contract = ?, note = ?, version = version + 1 where id = ?',
    input.warrantyUntil,
    input.contractUntil,
    input.contract,
    input.note,
    id,
  );
  const after = serialView(work, id);
  const short = (view: SerialView): Record<string, string | null> => ({
    warrantyUntil: view.warrantyUntil,
    contractUntil: view.contractUntil,
    contract: view.contract,
    note: view.note,
  });
  work.record('serialNumber', id, `changed ${before.serial}`, changesBetween(short(before), short(after)));
  return after;
}
