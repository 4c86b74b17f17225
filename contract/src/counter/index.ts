/** The trade counter: sales that are finished at once, baskets put aside, returns against a receipt, the cash drawer. */
import { z } from 'zod';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, longText, page, shortText, version } from '../base/schemas';

export const counterMethods = ['card', 'transfer'] as const;

const basketLine = z.object({
  itemId: z.number().int().positive('Choose an item.'),
  quantity: decimalText,
  /** Left out, as the lists say. */
  price: decimalText.optional(),
  /** Percent. */
  discount: decimalText.default('0'),
  discountReason: shortText.default(''),
  /** How many of its pieces are free of charge. */
  free: decimalText.default('0'),
  /** Serial numbers that leave, by spaces; a lot, where it is not the one that ends first. */
  serials: z.string().trim().max(2000).default(''),
  lot: shortText.default(''),
});
const basket = z.object({
  warehouseId: z.number().int().positive('Choose a warehouse.'),
  /** `null` for somebody who has no account with us. */
  customerId: z.number().int().nullable().default(null),
  lines: z.array(basketLine).min(1, 'Scan something first.').max(200),
});

/** A basket worked out: as it would be sold now. */
const priced = z.object({
  lines: z.array(
    z.object({
      itemId: z.number().int(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      tracking: z.enum(['none', 'lot', 'serial']),
      quantity: z.string(),
      free: z.string(),
      price: z.string(),
      /** Percent. */
      discount: z.string(),
      amount: z.string(),
      /** What is free here; `null` of what is not kept in stock. */
      there: z.string().nullable(),
    }),
  ),
  net: z.string(),
  tax: z.string(),
  total: z.string(),
});
export type PricedBasket = z.output<typeof priced>;

const saleRow = z.object({
  id: z.number().int(),
  number: z.string(),
  at: z.string(),
  customer: z.string(),
  warehouse: z.string(),
  who: z.string(),
  /** Below 0 for a return. */
  total: z.string(),
  /** What went into the drawer, or came out of it where it is below 0. */
  cash: z.string(),
});
export const saleView = saleRow.extend({
  warehouseId: z.number().int(),
  customerId: z.number().int(),
  orderId: z.number().int(),
  order: z.string(),
  invoiceId: z.number().int(),
  invoice: z.string(),
  /** Of a return: the sale that it takes back. */
  returnOfId: z.number().int().nullable(),
  returnOf: z.string(),
  given: z.string(),
  change: z.string(),
  /** What is left open, on account. */
  open: z.string(),
  payments: z.array(z.object({ id: z.number().int(), number: z.string(), method: z.string(), amount: z.string() })),
  /** The receipt, line by line, as it is printed. */
  receipt: z.array(z.string()),
});
export type SaleView = z.output<typeof saleView>;

const drawerView = z.object({
  id: z.number().int(),
  number: z.string(),
  warehouseId: z.number().int(),
  warehouse: z.string(),
  openedAt: z.string(),
  openedBy: z.string(),
  /** What it began with. */
  float: z.string(),
  /** What should be in it: of an open one now, of a closed one when it was counted. */
  expected: z.string(),
  sales: z.number().int(),
  closedAt: z.string().nullable(),
  closedBy: z.string(),
  counted: z.string().nullable(),
  difference: z.string().nullable(),
  /** What stayed in it for the next. */
  left: z.string().nullable(),
  version,
});
export type DrawerView = z.output<typeof drawerView>;

const parkedView = z.object({
  id: z.number().int(),
  at: z.string(),
  who: z.string(),
  /** What it is known by. */
  words: z.string(),
  lines: z.number().int(),
  basket,
});

export const counterRoutes = {
  previewSale: route({
    method: 'post',
    path: '/counter/preview',
    summary: 'What a basket comes to, and whether it is there; nothing of it is kept',
    right: 'selling.counter',
    body: basket,
    answer: priced,
  }),
  sell: route({
    method: 'post',
    path: '/counter/sales',
    summary: 'Sell a basket: stock leaves, it is invoiced and paid, all at once or not at all',
    right: 'selling.counter',
    body: basket.extend({
      /** Without cash. */
      payments: z
        .array(z.object({ method: z.enum(counterMethods), amount: decimalText }))
        .max(20)
        .default([]),
      /** Cash that was handed over; change is given of it. */
      cash: decimalText.default('0'),
      /** Whether what is not paid stays open on the customer's account. */
      onAccount: z.boolean().default(false),
    }),
    answer: saleView,
  }),
  listSales: route({
    method: 'get',
    path: '/counter/sales',
    summary: 'Sales over the counter, the newest first',
    right: 'selling.counter',
    query: listQuery,
    answer: page(saleRow),
  }),
  getSale: route({
    method: 'get',
    path: '/counter/sales/:id',
    summary: 'A sale over the counter, with its receipt',
    right: 'selling.counter',
    params: idParams,
    answer: saleView,
  }),
  findReceipt: route({
    method: 'get',
    path: '/counter/receipts',
    summary: 'The sale of a receipt, and what of it may come back',
    right: 'selling.counter',
    query: z.object({ number: z.string().trim().min(1).max(40) }),
    answer: z.object({
      sale: saleView,
      pieces: z.array(
        z.object({
          shipmentLineId: z.number().int(),
          code: z.string(),
          description: z.string(),
          unit: z.string(),
          lot: z.string(),
          serial: z.string(),
          /** What of it is still with the customer. */
          left: z.string(),
        }),
      ),
    }),
  }),
  returnSale: route({
    method: 'post',
    path: '/counter/sales/:id/return',
    summary: 'Take something back against its receipt: stock, credit note and money at once',
    right: 'selling.counter',
    params: idParams,
    body: z.object({
      reason: z.string().trim().min(1, 'Say why.').max(200),
      /** Whether it is good to be sold again; else it is held until somebody decides. */
      good: z.boolean(),
      method: z.enum(['cash', ...counterMethods, 'credit']),
      lines: z
        .array(z.object({ shipmentLineId: z.number().int(), lot: shortText.default(''), serial: shortText.default(''), quantity: decimalText }))
        .min(1, 'Say what comes back.')
        .max(200),
    }),
    answer: saleView,
  }),
  listParked: route({
    method: 'get',
    path: '/counter/parked',
    summary: 'Baskets that were put aside',
    right: 'selling.counter',
    query: z.object({ warehouse: z.coerce.number().int() }),
    answer: z.array(parkedView),
  }),
  park: route({
    method: 'post',
    path: '/counter/parked',
    summary: 'Put a basket aside',
    right: 'selling.counter',
    body: basket.extend({ words: shortText.default('') }),
    answer: z.object({ id: z.number().int() }),
  }),
  takeUp: route({
    method: 'post',
    path: '/counter/parked/:id/take',
    summary: 'Take up a basket that was put aside; it is nobody else’s then',
    right: 'selling.counter',
    params: idParams,
    answer: parkedView,
  }),
  drawer: route({
    method: 'get',
    path: '/counter/drawer',
    summary: 'The open drawer of a warehouse, if there is one, and what the last one was left with',
    right: 'selling.counter',
    query: z.object({ warehouse: z.coerce.number().int() }),
    answer: z.object({ drawer: drawerView.nullable(), left: z.string() }),
  }),
  listDrawers: route({
    method: 'get',
    path: '/counter/drawers',
    summary: 'Drawers, the newest first',
    right: 'selling.counter',
    query: listQuery,
    answer: page(drawerView),
  }),
  openDrawer: route({
    method: 'post',
    path: '/counter/drawers',
    summary: 'Open the drawer with what is in it; what it has more than it was left with came from the bank',
    right: 'selling.counter',
    body: z.object({ warehouseId: z.number().int().positive('Choose a warehouse.'), float: decimalText }),
    answer: drawerView,
  }),
  closeDrawer: route({
    method: 'post',
    path: '/counter/drawers/:id/close',
    summary: 'Close the drawer: what was counted against what should be there; what does not stay goes to the bank',
    right: 'selling.counter',
    params: idParams,
    body: z.object({ version, counted: decimalText, left: decimalText, note: longText.default('') }),
    answer: drawerView,
  }),
};
