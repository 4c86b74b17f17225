/** Suggestions of the last plan that are not released, as events that are not firm. */
import { asQuantity, parseQuantity } from '@terrace/core';
import type { Work } from '../platform/work';
import type { StockEvent } from '../stores';

const OPEN = 'select name, due, quantity from plan_suggestion where item_id = ? and warehouse_id = ? and released_number is null';
const CALLED = `select demand, day, quantity from plan_peg where item = (select code from item where id = ?) and warehouse = (select code from warehouse where id = ?)
  and demand in (select name from plan_suggestion where released_number is null)`;

export function planningEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  const event = (kind: StockEvent['kind'], date: string, quantity: string, document: string): StockEvent => ({
    kind,
    date,
    quantity: asQuantity(parseQuantity(quantity, 5)),
    document,
    firm: false,
    link: null,
    holder: null,
  });
  return [
    ...work
      .rows<{ name: string; due: string; quantity: string }>(OPEN, item, warehouse)
      .map((row) => event('supply', row.due, row.quantity, row.name)),
    ...work
      .rows<{ demand: string; day: string; quantity: string }>(CALLED, item, warehouse)
      .map((row) => event('demand', row.day, row.quantity, row.demand)),
  ];
}
