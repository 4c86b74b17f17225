/** Reserving stock for the lines of an order, and promising days for what is short. */
import { firstPromiseDate, outstanding, type Quantity } from '@terrace/core';
import { setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { promiseSteps, reserveFree } from '../stores';
import type { LineRow, OrderRecord } from './order-view';
import { customerOrder, customerOrderLine } from './schema';

/** Reserves what is free for each line and works out what can be promised for the rest; answers the lines as they are then. */
export function reserveLines(
  work: Work,
  order: OrderRecord,
  lines: readonly LineRow[],
): { readonly lines: LineRow[]; readonly promiseDate: string | null } {
  const { id } = order;
  let promise: string | null = order.requiredDate;
  const after = lines.map((line): LineRow => {
    const open = outstanding(line);
    let date: string | null = line.requiredDate;
    let { reserved } = line;
    if (line.kind === 'stocked' && open > 0) {
      const holder = { kind: 'customerOrder', id: line.id, documentId: id, documentNumber: order.number } as const;
      reserved = reserveFree(work, line.itemId, order.warehouseId, holder, open, line.reserved);
      if (reserved < open) date = promiseDate(work, line, order.warehouseId, open);
    }
    const kept = open === 0 ? line.promiseDate : promisedOn(date, line.requiredDate, work.today);
    if (kept !== line.promiseDate) setRow(work, customerOrderLine, line.id, { promiseDate: kept });
    promise = promise === null || kept === null ? null : promise > kept ? promise : kept;
    return { ...line, reserved, promiseDate: kept };
  });
  setRow(work, customerOrder, id, { promiseDate: promise });
  return { lines: after, promiseDate: promise };
}

/** When a line is promised: not before it is wanted, and never on a day that has passed. */
function promisedOn(ready: string | null, wanted: string, today: string): string | null {
  if (ready === null) return null;
  return [ready, wanted, today].reduce((latest, day) => (day > latest ? day : latest));
}

function promiseDate(work: Work, line: LineRow, warehouse: number, wanted: Quantity): string | null {
  const steps = promiseSteps(work, line.itemId, warehouse, { kind: 'customerOrder', id: line.id });
  return firstPromiseDate(steps, wanted);
}
