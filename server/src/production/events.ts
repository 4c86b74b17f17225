/** What production brings in, and the components that it takes. */
import { asQuantity } from '@terrace/core';
import { workingDayAfter } from '../catalogue';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';

const OPEN = "('draft', 'released', 'running')";
const MADE = `select id, number as document, quantity - finished as quantity, due_date as date from production_order where item_id = ? and warehouse_id = ? and state in ${OPEN} and quantity > finished`;
const TAKEN = `select c.id, o.id as orderId, o.number || '/' || c.position as document, c.needed - c.issued as quantity, o.start_date as date, c.offset_days as offsetDays
  from production_component c join production_order o on o.id = c.order_id where c.item_id = ? and o.warehouse_id = ? and o.state in ${OPEN} and c.needed > c.issued`;

export function productionEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  const made = work.rows<{ id: number; document: string; quantity: number; date: string }>(MADE, item, warehouse);
  const taken = work.rows<{ id: number; orderId: number; document: string; quantity: number; date: string; offsetDays: number }>(
    TAKEN,
    item,
    warehouse,
  );
  return [
    ...made.map((row): StockEvent => ({
      date: row.date,
      kind: 'supply',
      quantity: asQuantity(row.quantity),
      document: row.document,
      firm: true,
      link: { kind: 'productionOrder', id: row.id },
      holder: null,
    })),
    ...taken.map((row): StockEvent => ({
      date: workingDayAfter(work, warehouse, row.date, row.offsetDays),
      kind: 'demand',
      quantity: asQuantity(row.quantity),
      document: row.document,
      firm: true,
      link: { kind: 'productionOrder', id: row.orderId },
      holder: { kind: 'productionOrder', id: row.id },
    })),
  ];
}
