/** What suppliers are to deliver. */
import { asQuantity } from '@terrace/core';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';
import { EXPECTED_STATES } from './orders';

const TO_COME = `select o.id as orderId, o.number || '/' || l.position as document, l.quantity - l.received - l.cancelled as quantity, l.due_date as date
  from purchase_order_line l join purchase_order o on o.id = l.order_id
  where l.item_id = ? and o.warehouse_id = ? and o.state in ${EXPECTED_STATES} and l.quantity - l.received - l.cancelled > 0`;

export function buyingEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return work.rows<{ orderId: number; document: string; quantity: number; date: string }>(TO_COME, item, warehouse).map((row) => ({
    date: row.date,
    kind: 'supply',
    quantity: asQuantity(row.quantity),
    document: row.document,
    firm: true,
    link: { kind: 'purchaseOrder', id: row.orderId },
    holder: null,
  }));
}
