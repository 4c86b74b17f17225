/** Suggestions of the plan, and what they call for, as events that are not firm. */
import { asQuantity, parseQuantity } from '@terrace/core';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';

const OPEN = 'select name, due as date, quantity from suggestion where item_id = ? and warehouse_id = ?';
const CALLED = 'select name, day as date, quantity from called where item_id = ? and warehouse_id = ?';

interface Row {
  readonly name: string;
  readonly date: string;
  readonly quantity: string;
}

export function planningEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  const plan = work.inPlan();
  if (!plan) return [];
  const events = (kind: StockEvent['kind'], sql: string): StockEvent[] =>
    plan.rows<Row>(sql, item, warehouse).map(({ name, date, quantity }) => ({
      kind,
      date,
      quantity: asQuantity(parseQuantity(quantity, 5)),
      document: name,
      firm: false,
      link: null,
      holder: null,
    }));
  return [...events('supply', OPEN), ...events('demand', CALLED)];
}
