/** How each kind of document is named, dated and described: for the trail, for finding and for links. */
import type { DocumentKind } from '@terrace/contract';
import type { Work } from '../platform/work';

export interface DocumentFacts {
  readonly id: number;
  readonly number: string;
  readonly state: string | null;
  readonly date: string | null;
  readonly detail: string;
}

const FACTS: Readonly<Record<DocumentKind, string>> = {
  customerOrder:
    'select o.id, o.number, o.state, o.order_date as date, c.name as detail from customer_order o join customer c on c.id = o.customer_id',
  purchaseOrder:
    'select o.id, o.number, o.state, o.order_date as date, s.name as detail from purchase_order o join supplier s on s.id = o.supplier_id',
  productionOrder:
    "select o.id, o.number, o.state, o.due_date as date, i.code || ' ' || i.description as detail from production_order o join item i on i.id = o.item_id",
  receipt:
    "select o.id, o.number, case o.reversed when 1 then 'reversed' end as state, o.date, p.number as detail from receipt o join purchase_order p on p.id = o.purchase_order_id",
  shipment:
    'select o.id, o.number, o.state, o.date, c.name as detail from shipment o join customer_order k on k.id = o.order_id join customer c on c.id = k.customer_id',
  invoice: 'select o.id, o.number, o.state, o.date, c.name as detail from invoice o join customer c on c.id = o.customer_id',
  payment:
    "select o.id, o.number, case o.reversed when 1 then 'reversed' end as state, o.date, v.number as detail from payment o join invoice v on v.id = o.invoice_id",
  completion:
    "select o.id, o.number, case o.reversed when 1 then 'reversed' end as state, o.date, p.number as detail from completion o join production_order p on p.id = o.order_id",
  adjustment: 'select o.id, o.number, null as state, o.date, r.name as detail from adjustment o join reason r on r.code = o.reason',
  transfer:
    "select o.id, o.number, o.state, o.date, f.code || ' to ' || w.code as detail from transfer o join warehouse f on f.id = o.from_id join warehouse w on w.id = o.to_id",
  relocation: "select o.id, o.number, case o.reversed when 1 then 'reversed' end as state, o.date, o.reason as detail from relocation o",
  lateCost: 'select o.id, o.number, null as state, o.date, r.number as detail from late_cost o join receipt r on r.id = o.receipt_id',
  revaluation: 'select o.id, o.number, null as state, o.date, i.code as detail from revaluation o join item i on i.id = o.item_id',
  lot: "select o.id, o.code as number, case o.blocked when 1 then 'blocked' end as state, o.expiry as date, i.code || ' ' || i.description as detail from lot o join item i on i.id = o.item_id",
  serialNumber:
    "select o.id, o.code as number, null as state, o.made_on as date, i.code || ' ' || i.description as detail from serial_number o join item i on i.id = o.item_id",
  item: "select o.id, o.code as number, case o.active when 0 then 'inactive' end as state, null as date, o.description as detail from item o",
  customer: 'select o.id, o.code as number, null as state, null as date, o.name as detail from customer o',
  supplier: 'select o.id, o.code as number, null as state, null as date, o.name as detail from supplier o',
};

/** A document's facts, or `undefined` where there is none. */
export function documentFacts(work: Work, kind: DocumentKind, id: number): DocumentFacts | undefined {
  return work.row<DocumentFacts>(`${FACTS[kind]} where o.id = ?`, id);
}

/** Documents whose number or description has all the words; the newest first. */
export function findDocuments(work: Work, kind: DocumentKind, words: readonly string[], most: number): DocumentFacts[] {
  const patterns = words.map((word) => `%${word.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`);
  const where = patterns.map(() => "(number like ? escape '\\' or detail like ? escape '\\')").join(' and ');
  return work.rows<DocumentFacts>(
    `select * from (${FACTS[kind]}) where ${where} order by id desc limit ?`,
    ...patterns.flatMap((each) => [each, each]),
    most,
  );
}
