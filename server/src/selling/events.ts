/** What customers' orders take from stock, by the date on which it is promised or wanted. */
import { asQuantity } from '@terrace/core';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';

const OPEN_LINES = `select l.id, o.id as orderId, o.number || '/' || l.position as document, max(0, l.quantity - l.shipped - l.cancelled) as quantity, coalesce(l.promise_date, l.required_date) as date
  from customer_order_line l join customer_order o on o.id = l.order_id
  where l.item_id = ? and o.warehouse_id = ? and o.state in ('confirmed', 'partShipped') and l.quantity - l.shipped - l.cancelled > 0`;

export function sellingEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return work.rows<{ id: number; orderId: number; document: string; quantity: number; date: string }>(OPEN_LINES, item, warehouse).map((row) => ({
    date: row.date,
    kind: 'demand',
    quantity: asQuantity(row.quantity),
    document: row.document,
    firm: true,
    link: { kind: 'customerOrder', id: row.orderId },
    holder: { kind: 'customerOrder', id: row.id },
  }));
}
