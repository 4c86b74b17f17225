/** What goes into the parcel: what is in it, and of the whole that was ordered, divided or not, what came before and what follows. */
import { asQuantity, isGoods, outstanding, writeQuantity, type Quantity } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { addressOf, type DocumentPaper } from '../platform/paper';
import type { Work } from '../platform/work';
import { familyOf, linesOf, orderOf } from '../selling';
import { shipmentLines, shipmentOf, shipmentView } from './shipments';

interface SlipLine {
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  /** In the parcel, sent before it, and still to come; in 10⁻⁵ units. */
  readonly here: Quantity;
  readonly before: Quantity;
  readonly follows: Quantity;
  /** When what follows is promised, the last of it; `null` where a part has no day yet. */
  readonly when: string | null;
}

/** All goods that were ordered together, line by line, as it is with one shipment. */
export function slipLines(work: Work, shipmentId: number): SlipLine[] {
  const { orderId, state } = shipmentOf(work, shipmentId);
  const own = new Map(shipmentLines(work, shipmentId).map((line) => [line.orderLineId, line.quantity]));
  const order = orderOf(work, orderId);
  const family = order.familyId === null ? [orderId] : familyOf(work, order.familyId).map(({ id }) => id);
  const all = new Map<number, SlipLine>();
  for (const line of family.flatMap((id) => linesOf(work, id))) {
    const key = line.originId ?? line.id;
    const { code, description, unit, kind } = itemFacts(work, line.itemId);
    if (!isGoods(kind)) continue;
    const was = all.get(key) ?? { code, description, unit, here: asQuantity(0), before: asQuantity(0), follows: asQuantity(0), when: '' };
    const here = own.get(line.id) ?? asQuantity(0);
    const gone = state === 'shipped' ? asQuantity(line.shipped - here) : line.shipped;
    const follows = asQuantity(Math.max(0, outstanding(line) - (state === 'shipped' ? 0 : here)));
    all.set(key, {
      ...was,
      here: asQuantity(was.here + here),
      before: asQuantity(was.before + gone),
      follows: asQuantity(was.follows + follows),
      when: follows === 0 ? was.when : later(was.when, line.promiseDate),
    });
  }
  return [...all.values()].filter(({ here, before, follows }) => here + before + follows > 0);
}

const later = (a: string | null, b: string | null): string | null => (a === null || b === null ? null : a > b ? a : b);
const figure = (quantity: Quantity): string => (quantity === 0 ? '' : writeQuantity(quantity));

export const packingSlip: DocumentPaper = {
  right: 'dispatch.see',
  make: (work, id) => {
    const shipment = shipmentView(work, id);
    const { reference } = orderOf(work, shipment.orderId);
    const lines = slipLines(work, id);
    const follows = lines.some((line) => line.follows > 0);
    return {
      title: 'Packing slip',
      number: shipment.number,
      to: addressOf({ name: shipment.customer, address: shipment.address }),
      scannable: true,
      note: follows ? 'What is to follow comes without your asking for it.' : 'With this, all that you ordered has been sent.',
      facts: [
        ['Order', shipment.order],
        ['Your reference', reference],
        ['Date', shipment.date],
        ['Carrier', shipment.carrier],
      ],
      table: {
        widths: ['*', 36, 64, 64, 56, 76],
        right: [2, 3, 4],
        head: ['Item', 'Unit', 'In this parcel', 'Sent before', 'To follow', 'On'],
        rows: lines.map(({ code, description, unit, here, before, follows: left, when }) => [
          `${code}  ${description}`,
          unit,
          figure(here),
          figure(before),
          figure(left),
          left === 0 ? '' : (when ?? 'to be told'),
        ]),
      },
      totals: [],
    };
  },
};
