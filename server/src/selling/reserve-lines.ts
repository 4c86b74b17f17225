/** Reserving stock for the lines of an order, and promising days for what is short. */
import { addDays, firstPromiseFrom, isGoods, outstanding, type SoldKind } from '@terrace/core';
import { firstSupplierOf } from '../catalogue';
import { houseRules } from '../platform/house-rules';
import { setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { giveUpWhatEnds, notePromised, promiseSteps, reserveFree, reservedFor } from '../stores';
import type { LineRow, OrderRecord } from './order-view';
import { customerOrder, customerOrderLine } from './schema';

/**
 * Reserves what is free for each line, where the rules of the house want that or somebody asked for it, and works out what can be
 * promised for the rest; answers the lines as they are then.
 */
export function reserveLines(
  work: Work,
  order: OrderRecord,
  lines: readonly LineRow[],
  asked = false,
): { readonly lines: LineRow[]; readonly promiseDate: string | null } {
  const { id } = order;
  const after = lines.map((line): LineRow => {
    const open = outstanding(line);
    if (open === 0) return line;
    const wanted = later(line.requiredDate, work.today);
    let date: string | null = isGoods(line.kind) ? wanted : null;
    let { reserved } = line;
    if (line.direct) date = later(wanted, addDays(work.today, firstSupplierOf(work, line.itemId)?.leadDays ?? 0));
    else if (line.kind === 'stocked') {
      const holder = { kind: 'customerOrder', id: line.id, documentId: id, documentNumber: order.number } as const;
      if (asked || reservesFor(work, wanted))
        reserved = reserveFree(work, line.itemId, order.warehouseId, { ...holder, date: wanted }, open, line.reserved);
      if (reserved < open) {
        date = firstPromiseFrom(promiseSteps(work, line.itemId, order.warehouseId, holder), open, wanted);
        if (date !== null) notePromised(work, line.itemId, order.warehouseId, true);
      }
    }
    if (date !== line.promiseDate) setRow(work, customerOrderLine, line.id, { promiseDate: date });
    // What goes later than it was reserved for may not last so long.
    if (line.kind === 'stocked' && !line.direct && date !== wanted && giveUpWhatEnds(work, line.itemId, order.warehouseId).length > 0)
      reserved = reservedFor(work, 'customerOrder', line.id);
    return { ...line, reserved, promiseDate: date };
  });
  const promiseDate = promiseOfOrder(order, after);
  setRow(work, customerOrder, id, { promiseDate });
  return { lines: after, promiseDate };
}

/** Whether stock is reserved by itself for what is wanted on a day, by the rules of the house. */
export function reservesFor(work: Work, wanted: string): boolean {
  const { reserve, reserveDays } = houseRules(work.store);
  return reserve === 'all' || (reserve === 'soon' && wanted <= addDays(work.today, reserveDays));
}

const later = (a: string, b: string): string => (a > b ? a : b);

/** When all goods of an order are promised: the last of its lines, and not before it is wanted; `null` where one of them is not. */
export function promiseOfOrder(
  { requiredDate }: Pick<OrderRecord, 'requiredDate'>,
  lines: readonly { readonly kind: SoldKind; readonly promiseDate: string | null }[],
): string | null {
  const goods = lines.filter(({ kind }) => isGoods(kind));
  return goods.reduce<string | null>((all, { promiseDate }) => (all === null || promiseDate === null ? null : later(all, promiseDate)), requiredDate);
}
