/** What can be done with many orders: what each takes, what is said of it, and what it is. */
import type { OrderAct, OrderView, Right } from '@terrace/contract';
import { Refusal, dayWords, outstanding } from '@terrace/core';
import { warehouseOf } from '../catalogue';
import { createShipment, shipmentsToPrint } from '../dispatch';
import type { Work } from '../platform/work';
import {
  carryOrder,
  confirmOrder,
  holdOrder,
  invoiceOrder,
  letGoOrder,
  linesOf,
  mailConfirmation,
  moveOrder,
  orderOf,
  orderView,
  redateOrder,
  reserveOrder,
} from '../selling';

const RIGHTS: Readonly<Record<OrderAct['act'], Right>> = {
  confirm: 'selling.confirm',
  reserve: 'selling.confirm',
  hold: 'selling.confirm',
  letGo: 'selling.confirm',
  redate: 'selling.edit',
  move: 'selling.edit',
  carry: 'selling.edit',
  mail: 'selling.confirm',
  printConfirmations: 'selling.see',
  printPickLists: 'dispatch.see',
  printSlips: 'dispatch.see',
  ship: 'dispatch.ship',
  invoice: 'accounts.invoice',
};

/** The right that an act takes. */
export const rightOf = ({ act }: OrderAct): Right => RIGHTS[act];

/** An act in words, as it is said of what is or was done. */
export function titleOf(work: Work, act: OrderAct): string {
  switch (act.act) {
    case 'confirm':
      return 'Confirm';
    case 'reserve':
      return 'Reserve what is free';
    case 'hold':
      return `Hold: ${act.reason}`;
    case 'letGo':
      return 'Let go on';
    case 'redate':
      return `Want on ${dayWords(act.date)}`;
    case 'move':
      return `Send from ${warehouseOf(work, act.warehouseId).code}`;
    case 'carry':
      return `Send by ${[act.carrier, act.service].filter(Boolean).join(', ')}`;
    case 'mail':
      return 'Send confirmations by mail';
    case 'printConfirmations':
      return 'Print confirmations';
    case 'printPickLists':
      return 'Print pick lists';
    case 'printSlips':
      return 'Print packing slips';
    case 'ship':
      return 'Make shipments';
    case 'invoice':
      return 'Invoice what has shipped';
  }
}

/** How much of an order is reserved, and when all of it is promised. */
function coverWords({ lines, promiseDate }: OrderView): string {
  const open = lines.filter((line) => line.goods && line.outstanding !== '0');
  if (open.length === 0) return 'nothing to wait for';
  const reserved = open.filter(({ covered }) => covered === 'all reserved' || covered === 'needs no stock').length;
  const promised = promiseDate === null ? 'a part can’t be promised' : `promised ${dayWords(promiseDate)}`;
  return `${reserved} of ${open.length} ${open.length === 1 ? 'line' : 'lines'} reserved, ${promised}`;
}

export const printing = ['printConfirmations', 'printPickLists', 'printSlips'] as const;
export type Printing = (typeof printing)[number];

/** Whether an act is for papers. */
export const isPrinting = (act: OrderAct['act']): act is Printing => printing.some((each) => each === act);

/** A paper by its kind and its document. */
export interface PaperFor {
  readonly kind: 'customerOrder' | 'shipment' | 'packingSlip';
  readonly id: number;
  readonly words: string;
}

/** The papers of an order that are printed. Refuses `wrongState` of a draft, and `nothingToPrint` where no shipment is to be picked or packed. */
export function papersFor(work: Work, what: Printing, orderId: number): PaperFor[] {
  const order = orderOf(work, orderId);
  if (what === 'printConfirmations') {
    if (order.state === 'draft' || order.state === 'cancelled')
      throw new Refusal('wrongState', `${order.number} is ${order.state}: there is nothing to confirm to its customer.`);
    return [{ kind: 'customerOrder', id: orderId, words: 'its confirmation' }];
  }
  const picking = what === 'printPickLists';
  const shipments = shipmentsToPrint(work, orderId, picking);
  if (shipments.length === 0)
    throw new Refusal('nothingToPrint', `${order.number} is on no shipment${picking ? ' that is still to be picked' : ''}: make one first.`);
  return shipments.map(({ id, number }) => ({ kind: picking ? 'shipment' : 'packingSlip', id, words: number }));
}

/**
 * Does an act with an order, as it is now; says what became of it. Refuses whatever the act alone would. What is only tried has no
 * number yet.
 */
export function doWith(work: Work, act: OrderAct, id: number, tried = false): string {
  const { version } = orderOf(work, id);
  switch (act.act) {
    case 'confirm':
      return `confirmed: ${coverWords(confirmOrder(work, id, version, false))}`;
    case 'reserve': {
      const before = coverWords(orderView(work, id));
      const after = coverWords(reserveOrder(work, id));
      return before === after ? `nothing more is free: ${after}` : after;
    }
    case 'hold':
      holdOrder(work, id, version, act.reason);
      return 'held';
    case 'letGo':
      letGoOrder(work, id, version);
      return 'goes on';
    case 'redate': {
      const view = redateOrder(work, id, version, act.date);
      return view.state === 'draft' ? `wanted ${dayWords(act.date)}` : `wanted ${dayWords(act.date)}: ${coverWords(view)}`;
    }
    case 'move': {
      const view = moveOrder(work, id, version, act.warehouseId);
      return view.state === 'draft' ? `from ${view.warehouse}` : `from ${view.warehouse}: ${coverWords(view)}`;
    }
    case 'carry':
      carryOrder(work, id, version, act.carrier, act.service);
      return `by ${[act.carrier, act.service].filter(Boolean).join(', ')}`;
    case 'mail':
      mailConfirmation(work, id, version);
      return 'its confirmation is on its way by mail';
    case 'printConfirmations':
    case 'printPickLists':
    case 'printSlips':
      return papersFor(work, act.act, id)
        .map(({ words }) => words)
        .join(', ');
    case 'ship': {
      const shipment = createShipment(work, id, undefined);
      const left = linesOf(work, id).filter((line) => outstanding(line) > 0).length - shipment.lines.length;
      return `${tried ? 'a shipment' : shipment.number} with ${shipment.lines.length} ${shipment.lines.length === 1 ? 'line' : 'lines'}${left > 0 ? `; ${left} stay` : ''}`;
    }
    case 'invoice': {
      const invoice = invoiceOrder(work, id, undefined);
      return `${tried ? 'an invoice' : invoice.number} over ${invoice.total} ${invoice.currency}`;
    }
  }
}
