/** Purchase orders and their receipts. */
import { z } from 'zod';
import { customInput, customView } from '../catalogue/custom';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';
import { pieceInput } from '../stores/pieces';

export const purchaseStates = ['draft', 'approved', 'sent', 'partReceived', 'received', 'cancelled'] as const;

export const purchaseRow = z.looseObject({
  id: z.number(),
  number: z.string(),
  supplier: z.string(),
  state: z.enum(purchaseStates),
  warehouse: z.string(),
  orderDate: z.string(),
  dueDate: z.string().nullable(),
  lines: z.number(),
  progress: z.string(),
  late: z.boolean(),
  total: z.string(),
});

export const purchaseLine = z.object({
  id: z.number(),
  position: z.number(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  supplierItemCode: z.string(),
  unit: z.string(),
  decimals: z.number(),
  tracking: z.enum(['none', 'lot', 'serial']),
  quantity: z.string(),
  price: z.string(),
  dueDate: z.string(),
  received: z.string(),
  cancelled: z.string(),
  outstanding: z.string(),
  most: z.string(),
  amount: z.string(),
});

export const purchaseView = z.object({
  id: z.number(),
  number: z.string(),
  state: z.enum(purchaseStates),
  supplierId: z.number(),
  supplier: z.string(),
  warehouseId: z.number(),
  warehouse: z.string(),
  orderDate: z.string(),
  custom: customView,
  note: z.string(),
  lines: z.array(purchaseLine),
  total: z.string(),
  /** Why a draft needs somebody’s approval, in words; empty where it may be sent as it is. */
  approval: z.string(),
  version,
  receipts: z.array(
    z.object({
      id: z.number(),
      number: z.string(),
      date: z.string(),
      deliveryNote: z.string(),
      reversed: z.boolean(),
      lines: z.array(z.object({ code: z.string(), quantity: z.string(), unit: z.string() })),
    }),
  ),
});
export type PurchaseView = z.output<typeof purchaseView>;

export const purchaseInput = z.object({
  supplierId: z.number().int().positive('Choose a supplier.'),
  warehouseId: z.number().int().positive('Choose a warehouse.'),
  note: z.string().max(2000).default(''),
  custom: customInput,
  lines: z
    .array(
      z.object({
        id: z.number().optional(),
        itemId: z.number().int().positive('Choose an item.'),
        quantity: decimalText,
        price: decimalText.optional(),
        dueDate: dateText,
      }),
    )
    .min(1, 'An order needs a line at least.')
    .max(500),
});

export const receiptInput = z.object({
  version,
  date: dateText.optional(),
  deliveryNote: shortText.default(''),
  binId: z.number().optional(),
  lines: z
    .array(z.object({ lineId: z.number(), quantity: decimalText, pieces: z.array(pieceInput).max(500).optional() }))
    .min(1, 'Say what has arrived.'),
});

export const buyingRoutes = {
  listPurchases: route({
    method: 'get',
    path: '/buying/orders',
    summary: 'Purchase orders',
    right: 'buying.see',
    query: listQuery,
    answer: page(purchaseRow),
  }),
  getPurchase: route({
    method: 'get',
    path: '/buying/orders/:id',
    summary: 'A purchase order',
    right: 'buying.see',
    params: idParams,
    answer: purchaseView,
  }),
  createPurchase: route({
    method: 'post',
    path: '/buying/orders',
    summary: 'Enter a purchase order',
    right: 'buying.edit',
    body: purchaseInput,
    answer: purchaseView,
  }),
  changePurchase: route({
    method: 'put',
    path: '/buying/orders/:id',
    summary: 'Change a purchase order that is not sent',
    right: 'buying.edit',
    params: idParams,
    body: purchaseInput.extend({ version }),
    answer: purchaseView,
  }),
  approvePurchase: route({
    method: 'post',
    path: '/buying/orders/:id/approve',
    summary: 'Approve',
    right: 'buying.approve',
    params: idParams,
    body: versioned,
    answer: purchaseView,
  }),
  sendPurchase: route({
    method: 'post',
    path: '/buying/orders/:id/send',
    summary: 'Send to the supplier by mail, with the order as PDF',
    right: 'buying.edit',
    params: idParams,
    body: versioned,
    answer: purchaseView,
  }),
  cancelPurchase: route({
    method: 'post',
    path: '/buying/orders/:id/cancel',
    summary: 'Cancel what has not been received',
    right: 'buying.edit',
    params: idParams,
    body: versioned.extend({ reason: shortText.min(1, 'Say why.') }),
    answer: purchaseView,
  }),
  receive: route({
    method: 'post',
    path: '/buying/orders/:id/receipts',
    summary: 'Receive goods',
    right: 'buying.receive',
    params: idParams,
    body: receiptInput,
    answer: purchaseView,
  }),
  reverseReceipt: route({
    method: 'post',
    path: '/buying/receipts/:id/reverse',
    summary: 'Take a receipt back',
    right: 'buying.receive',
    params: idParams,
    answer: purchaseView,
  }),
};
