/** What we have, where, and what is promised of it. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, documentKind, idParams, listQuery, longText, page } from '../base/schemas';
import { explorerRoutes } from './explorer';
import { lotRoutes } from './lots';
import { pieceInput, stockStates } from './pieces';
import { serialRoutes } from './serials';
import { traceRoutes } from './tracing';
import { transferRoutes } from './transfers';
import { valueRoutes } from './value';

export * from './cost';
export * from './epcis';
export * from './explorer';
export * from './lots';
export * from './pieces';
export * from './serials';
export * from './tracing';
export * from './transfers';
export * from './value';

export const stockRow = z.object({
  id: z.string(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  warehouseId: z.number(),
  warehouse: z.string(),
  onHand: z.string(),
  reserved: z.string(),
  free: z.string(),
  expectedIn: z.string(),
  expectedOut: z.string(),
  value: z.string(),
});

export const availability = z.object({
  item: z.object({ id: z.number(), code: z.string(), description: z.string(), unit: z.string(), decimals: z.number() }),
  warehouse: z.string(),
  onHand: z.string(),
  reserved: z.string(),
  free: z.string(),
  expectedIn: z.string(),
  expectedOut: z.string(),
  expected: z.array(z.object({ date: z.string(), quantity: z.string(), document: z.string() })),
  elsewhere: z.array(z.object({ warehouseId: z.number(), warehouse: z.string(), free: z.string() })),
  promise: z.object({ date: z.string().nullable(), quantityNow: z.string(), steps: z.array(z.object({ date: z.string(), quantity: z.string() })) }),
});
export type Availability = z.output<typeof availability>;

export const balanceStrip = availability.omit({ promise: true, elsewhere: true, expected: true }).extend({
  today: z.string(),
  safety: z.string(),
  available: z.string(),
  firstShort: z.string().nullable(),
  /** What of lots will be too old before anybody takes it; no part of what is expected out. */
  expiring: z.string(),
  through: z.string(),
  events: z.array(
    z.object({
      date: z.string(),
      kind: z.enum(['supply', 'demand']),
      quantity: z.string(),
      document: z.string(),
      link: z.object({ kind: documentKind, id: z.number() }).nullable(),
      firm: z.boolean(),
      balance: z.string(),
      planned: z.string(),
    }),
  ),
});
export type BalanceStrip = z.output<typeof balanceStrip>;

export const moveRow = z.object({
  id: z.number(),
  date: z.string(),
  at: z.string(),
  code: z.string(),
  quantity: z.string(),
  unit: z.string(),
  from: z.string(),
  to: z.string(),
  value: z.string(),
  document: z.string(),
  documentKind,
  documentId: z.number(),
  who: z.string(),
  lot: z.string(),
  serial: z.string(),
  state: z.string(),
  note: z.string(),
  reversed: z.boolean(),
  after: z.string(),
});

export const adjustmentInput = z.object({
  warehouseId: z.number(),
  date: dateText.optional(),
  reason: z.string().min(1, 'Choose a reason.'),
  note: longText.default(''),
  lines: z
    .array(
      z.object({
        itemId: z.number(),
        binId: z.number().optional(),
        change: decimalText.optional(),
        newQuantity: decimalText.optional(),
        unitCost: decimalText.optional(),
        state: z.enum(stockStates).optional(),
        pieces: z.array(pieceInput).max(500).optional(),
      }),
    )
    .min(1, 'Add a line.')
    .max(500),
});

export const adjustmentRow = z.object({
  id: z.number(),
  number: z.string(),
  date: z.string(),
  warehouse: z.string(),
  reason: z.string(),
  note: z.string(),
  items: z.string(),
  value: z.string(),
  who: z.string(),
  reversed: z.boolean(),
});

export const adjustmentView = adjustmentRow.omit({ items: true }).extend({
  account: z.string(),
  lines: z.array(
    z.object({
      itemId: z.number(),
      code: z.string(),
      description: z.string(),
      unit: z.string(),
      bin: z.string(),
      lot: z.string(),
      serial: z.string(),
      state: z.string(),
      change: z.string(),
      value: z.string(),
    }),
  ),
});
export type AdjustmentView = z.output<typeof adjustmentView>;

export const relocationInput = z.object({
  date: dateText.optional(),
  /** Why a state changes; bins need no reason. */
  reason: z.string().trim().max(200).default(''),
  note: longText.default(''),
  lines: z
    .array(
      z.object({
        itemId: z.number(),
        binId: z.number(),
        toBinId: z.number().optional(),
        state: z.enum(stockStates).default('available'),
        toState: z.enum(stockStates).optional(),
        quantity: decimalText,
        pieces: z.array(pieceInput).max(500).optional(),
      }),
    )
    .min(1, 'Add a line.')
    .max(500),
});

export const storesRoutes = {
  ...explorerRoutes,
  ...lotRoutes,
  ...serialRoutes,
  ...traceRoutes,
  ...transferRoutes,
  ...valueRoutes,
  explore: route({
    method: 'get',
    path: '/stores/stock',
    summary: 'Stock by item and warehouse',
    right: 'stores.see',
    query: listQuery.extend({ warehouse: z.coerce.number().optional() }),
    answer: page(stockRow),
  }),
  availability: route({
    method: 'get',
    path: '/stores/availability',
    summary: 'What is there of an item, what comes, and from when a quantity can be promised',
    right: 'stores.see',
    query: z.object({
      item: z.coerce.number(),
      warehouse: z.coerce.number(),
      quantity: z.string().optional(),
      exceptLine: z.coerce.number().optional(),
    }),
    answer: availability,
  }),
  strip: route({
    method: 'get',
    path: '/stores/strip',
    summary: 'Projected balance of an item in a warehouse',
    right: 'stores.see',
    query: z.object({ item: z.coerce.number(), warehouse: z.coerce.number() }),
    answer: balanceStrip,
  }),
  places: route({
    method: 'get',
    path: '/stores/items/:id/places',
    summary: 'Bins and states in which an item is',
    right: 'stores.see',
    params: idParams,
    answer: z.array(
      z.object({
        warehouseId: z.number(),
        warehouse: z.string(),
        binId: z.number(),
        bin: z.string(),
        lot: z.string(),
        lotId: z.number().nullable(),
        expiry: z.string().nullable(),
        serial: z.string(),
        serialId: z.number().nullable(),
        state: z.string(),
        quantity: z.string(),
      }),
    ),
  }),
  accountChange: route({
    method: 'get',
    path: '/stores/account-change',
    summary: 'What stock would go to another inventory account, if an item went to a group or a group to an account',
    right: 'stores.see',
    query: z.object({
      /** The item that would go to the group; without it, the items that the group has. */
      item: z.coerce.number().int().positive().optional(),
      group: z.string(),
      /** The account that the group would have; the one that it has unless this is given. */
      account: z.string().optional(),
    }),
    answer: z.object({
      from: z.string(),
      to: z.string(),
      /** How many items have stock that is worth something. */
      items: z.number(),
      /** In the company's currency. */
      value: z.string(),
    }),
  }),
  holders: route({
    method: 'get',
    path: '/stores/items/:id/holders',
    summary: 'Who holds reserved stock of an item',
    right: 'stores.see',
    params: idParams,
    answer: z.array(
      z.object({ id: z.number(), warehouse: z.string(), document: z.string(), kind: documentKind, documentId: z.number(), quantity: z.string() }),
    ),
  }),
  moves: route({
    method: 'get',
    path: '/stores/moves',
    summary: 'Stock moves, newest first',
    right: 'stores.see',
    query: listQuery.extend({ item: z.coerce.number().optional(), lot: z.string().optional(), serial: z.string().optional() }),
    answer: page(moveRow),
  }),
  adjust: route({
    method: 'post',
    path: '/stores/adjustments',
    summary: 'Adjust stock by a change or to a new quantity',
    right: 'stores.adjust',
    body: adjustmentInput,
    answer: z.object({ id: z.number(), number: z.string() }),
  }),
  listAdjustments: route({
    method: 'get',
    path: '/stores/adjustments',
    summary: 'Adjustments, newest first',
    right: 'stores.see',
    query: listQuery,
    answer: page(adjustmentRow),
  }),
  getAdjustment: route({
    method: 'get',
    path: '/stores/adjustments/:id',
    summary: 'An adjustment',
    right: 'stores.see',
    params: idParams,
    answer: adjustmentView,
  }),
  reverseAdjustment: route({
    method: 'post',
    path: '/stores/adjustments/:id/reverse',
    summary: 'Take an adjustment back',
    right: 'stores.adjust',
    params: idParams,
    answer: adjustmentView,
  }),
  relocate: route({
    method: 'post',
    path: '/stores/relocations',
    summary: 'Move stock between bins of a warehouse, or from one state to another',
    right: 'stores.adjust',
    body: relocationInput,
    answer: z.object({ id: z.number(), number: z.string() }),
  }),
  reverseRelocation: route({
    method: 'post',
    path: '/stores/relocations/:id/reverse',
    summary: 'Take a move between places back',
    right: 'stores.adjust',
    params: idParams,
    answer: z.object({ id: z.number(), number: z.string() }),
  }),
  release: route({
    method: 'post',
    path: '/stores/reservations/:id/release',
    summary: 'Release a reservation',
    right: 'stores.release',
    params: idParams,
    answer: z.object({ released: z.string() }),
  }),
};
