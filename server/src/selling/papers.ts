/** The papers of selling's documents, and the mail that brings one. */
import type { OrderLine, OrderView } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { customerOf } from '../catalogue';
import { queueMail } from '../platform/outbox';
import { addressOf, type DocumentPaper } from '../platform/paper';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { orderOf, orderView } from './order-view';

/** What an order is to its customer: nothing is promised of a draft. */
function titleOf({ kind, state }: Pick<OrderView, 'kind' | 'state'>): string {
  if (kind !== 'order') return kind === 'quote' ? 'Quote' : 'Blanket order';
  return state === 'draft' ? 'Draft of an order' : 'Order confirmation';
}

/** Facts of which something is said. */
const said = (facts: readonly (readonly [string, string])[]): (readonly [string, string])[] => facts.filter(([, value]) => value !== '');

/** What a line is, by our code and theirs, and what was said of it. */
function itemWords(line: OrderLine): string {
  const more = [
    line.theirCode === '' ? '' : `your number ${line.theirCode}`,
    line.free === '0' ? '' : `${line.free} of them free of charge`,
    line.shipTo === '' ? '' : `to ${line.shipTo}`,
    line.direct ? 'comes from our supplier' : '',
    line.note,
  ].filter(Boolean);
  return [`${line.code}  ${line.description}`, ...more].join('\n');
}

function noteOf(order: OrderView): string {
  if (order.kind !== 'order') return [order.note, `It holds until ${order.validUntil ?? ''}. To be paid ${order.terms}.`].filter(Boolean).join('\n');
  const terms = `To be paid ${order.terms}.${order.complete ? ' It comes as a whole.' : ''}`;
  const later = order.lines.some((line) => line.goods && line.outstanding !== '0' && line.promiseDate === null)
    ? ' We will tell you the day of what has none yet.'
    : '';
  return [order.note, `${terms}${later}`].filter(Boolean).join('\n');
}

/** The day of a line: as wished until it is agreed, then as promised; services and charges have none of their own. */
function dayOf(order: OrderView, line: OrderView['lines'][number]): string {
  if (!line.goods) return '';
  return order.state === 'draft' || order.kind !== 'order' ? line.requiredDate : (line.promiseDate ?? 'to be told');
}

export const orderPaper: DocumentPaper = {
  right: 'selling.see',
  make: (work, id) => {
    const order = orderView(work, id);
    const customer = customerOf(work, order.customerId);
    return {
      title: titleOf(order),
      number: order.number,
      to: addressOf(customer),
      scannable: false,
      note: noteOf(order),
      facts: said([
        ['Date', order.orderDate],
        ['Your reference', order.reference],
        ['Holds until', order.validUntil ?? ''],
        ['Goes by', [order.carrier, order.service].filter(Boolean).join(', ')],
        ['Goes to', order.shipTo],
        ['Your contact', order.salesPerson],
        ['Divided', order.family.map(({ number }) => number).join(', ')],
      ]),
      table: {
        widths: [18, '*', 52, 36, 56, 40, 58, 62],
        right: [2, 4, 5, 7],
        head: ['', 'Item', 'Quantity', 'Unit', 'Price', 'Disc. %', 'Day', 'Amount'],
        rows: order.lines.map((line) => [
          String(line.position),
          itemWords(line),
          line.quantity,
          line.unit,
          line.price,
          line.discount,
          dayOf(order, line),
          line.amount,
        ]),
      },
      totals: [
        ['Net', order.net],
        ['Tax', order.tax],
        [`Total ${order.currency}`, order.total],
      ],
    };
  },
};

/** Sends the customer the confirmation of an order by mail. Refuses `wrongState` of a draft, `noAddress`, `staleVersion`. */
export function mailConfirmation(work: Work, id: number, version: number): OrderView {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (order.kind !== 'order' && !order.open) throw new Refusal('wrongState', `${order.number} is ${order.state}: it is offered no more.`);
  if (order.state === 'draft' || order.state === 'cancelled')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: there is nothing to confirm to its customer.`);
  const customer = customerOf(work, order.customerId);
  if (customer.email === '')
    throw new Refusal('noAddress', `${customer.name} has no mail address: add one, or print the confirmation.`, { customer: customer.code });
  const title = titleOf(order);
  const about =
    order.kind === 'order'
      ? `thank you for your order${order.reference === '' ? '' : ` ${order.reference}`}. Please find its confirmation ${order.number} attached.`
      : `please find our ${title.toLowerCase()} ${order.number} attached. It holds until ${order.validUntil ?? ''}.`;
  queueMail(work, {
    to: customer.email,
    subject: `${title} ${order.number}`,
    body: `Dear ${customer.name},\n\n${about}\n\n${work.actor.name}`,
    document: { kind: 'customerOrder', id, number: order.number },
  });
  work.record('customerOrder', id, `sent ${order.kind === 'order' ? 'the confirmation of ' : ''}${order.number} to ${customer.email}`);
  return orderView(work, id);
}
