/** The counter at the works: yesterday's drawer, a few sales of today, one brought back, a basket put aside. */
import { addDays } from '@terrace/core';
import { api } from '@terrace/contract';
import { accounts, counter, type Work } from '@terrace/server';
import { idOf, type Perform } from './known';

type Line = readonly [item: string, quantity: string, more?: { readonly discount?: string; readonly free?: string }];
interface Sold {
  readonly customer?: string;
  readonly lines: readonly Line[];
  /** By card, in cash that was handed over, or on account. */
  readonly card?: string;
  readonly cash?: string;
  readonly onAccount?: boolean;
}

const YESTERDAY: readonly Sold[] = [
  { lines: [['PAINTSET', '1']], cash: '50' },
  {
    lines: [
      ['BRUSH', '2'],
      ['JAR-500', '6'],
    ],
    cash: '100',
  },
];
const TODAY: readonly Sold[] = [
  {
    lines: [
      ['JAR-500', '24'],
      ['PAINTSET', '1'],
    ],
    cash: '100',
  },
  { lines: [['BRUSH', '1', { discount: '5' }]], cash: '20' },
  { customer: 'HOLLIN', lines: [['JAR-500', '48', { free: '4' }]], onAccount: true },
];

export function tellCounter(perform: Perform, today: string): void {
  const before = addDays(today, -1);
  const drawer = perform('tobin', before, (work) => counter.openDrawer(work, { warehouseId: works(work), float: '150' }));
  for (const each of YESTERDAY) perform('tobin', before, (work) => sell(work, each));
  perform('tobin', before, (work) => {
    const { drawer: now } = counter.drawerNow(work, drawer.warehouseId);
    if (!now) throw new RangeError('the drawer is not open');
    const counted = (Number(now.expected) - 0.5).toFixed(2);
    counter.closeDrawer(work, now.id, { version: now.version, counted, left: '150', note: 'fifty cents are missing' });
  });
  perform('tobin', today, (work) => counter.openDrawer(work, { warehouseId: works(work), float: '150' }));
  // Somebody who is in the shop anyway brings what is open in cash.
  perform('wilder', today, (work) => {
    const { rows } = accounts.listInvoices(work, {
      offset: 0,
      limit: 1,
      filter: JSON.stringify({ state: is('open'), currency: is('EUR'), kind: is('invoice') }),
    });
    const { drawer: now } = counter.drawerNow(work, works(work));
    const [open] = rows;
    if (open && now)
      accounts.payInvoice(work, open.id, { amount: String(Math.min(25, Number(open.open))), method: 'cash', drawerId: now.id, early: false });
  });
  const [first] = TODAY.map((each) => perform('tobin', today, (work) => sell(work, each)));
  if (first)
    perform('tobin', today, (work) => {
      const { pieces } = counter.findReceipt(work, first.number);
      const piece = pieces.find(({ code }) => code === 'PAINTSET');
      if (!piece) throw new RangeError('nothing of it can come back');
      const { shipmentLineId, lot, serial } = piece;
      counter.returnSale(work, first.id, {
        reason: 'has one already',
        good: true,
        method: 'cash',
        lines: [{ shipmentLineId, lot, serial, quantity: '1' }],
      });
    });
  perform('tobin', today, (work) => {
    const { warehouseId, lines } = basketOf(work, {
      lines: [
        ['SMOKER', '1'],
        ['GLOVES', '1'],
      ],
    });
    counter.park(work, api.counter.park.body.parse({ warehouseId, lines, words: 'fetches the trailer' }));
  });
}

const is = (value: string) => ({ op: 'equals', value });
const works = (work: Work): number => idOf(work, 'warehouse', 'WORKS');

function basketOf(work: Work, { customer, lines }: Sold) {
  return {
    warehouseId: works(work),
    customerId: customer === undefined ? null : idOf(work, 'customer', customer),
    lines: lines.map(([item, quantity, more = {}]) => ({ itemId: idOf(work, 'item', item), quantity, ...more })),
  };
}

function sell(work: Work, sold: Sold): ReturnType<typeof counter.sell> {
  const payments = sold.card === undefined ? [] : [{ method: 'card' as const, amount: sold.card }];
  return counter.sell(
    work,
    api.counter.sell.body.parse({ ...basketOf(work, sold), payments, cash: sold.cash ?? '0', onAccount: sold.onAccount ?? false }),
  );
}
