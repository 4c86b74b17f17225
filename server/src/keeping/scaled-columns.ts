/** Which columns hold figures as whole numbers of small parts, so that they can be written as people write them. */
import type { SQLiteTable } from 'drizzle-orm/sqlite-core';
import { AMOUNT_SCALE, PRICE_SCALE, QUANTITY_SCALE, RATE_SCALE, type Amount, type Quantity, type Rate, type UnitPrice } from '@terrace/core';
import type * as schema from '../schema';

/** What is counted, and how many decimals it has. */
export const SCALES = { quantity: QUANTITY_SCALE, amount: AMOUNT_SCALE, price: PRICE_SCALE, rate: RATE_SCALE } as const;
export type ScaleName = keyof typeof SCALES;

type NameOf<V> = [V] extends [Quantity]
  ? 'quantity'
  : [V] extends [Amount]
    ? 'amount'
    : [V] extends [UnitPrice]
      ? 'price'
      : [V] extends [Rate]
        ? 'rate'
        : never;
type ScaledOf<T extends SQLiteTable> = {
  readonly [C in keyof T['$inferSelect'] as [NameOf<NonNullable<T['$inferSelect'][C]>>] extends [never] ? never : C]: NameOf<
    NonNullable<T['$inferSelect'][C]>
  >;
};
type Tables = { [K in keyof typeof schema as (typeof schema)[K] extends SQLiteTable ? K : never]: (typeof schema)[K] };
type Scaled = { readonly [K in keyof Tables as keyof ScaledOf<Tables[K]> extends never ? never : K]: ScaledOf<Tables[K]> };

/** By table and column; the compiler finds one that is missing or of another kind. */
export const SCALED: Scaled = {
  invoice: {
    net: 'amount',
    tax: 'amount',
    total: 'amount',
    paid: 'amount',
    rate: 'rate',
    booksNet: 'amount',
    booksTotal: 'amount',
    booksPaid: 'amount',
  },
  invoiceLine: { quantity: 'quantity', price: 'price', amount: 'amount', booksAmount: 'amount', free: 'quantity' },
  drawerCash: { amount: 'amount' },
  payment: { amount: 'amount', rate: 'rate', booksAmount: 'amount' },
  settlement: { amount: 'amount', letOff: 'amount', books: 'amount', booksTaken: 'amount' },
  journalLine: { debit: 'amount', credit: 'amount' },
  purchaseOrder: { total: 'amount' },
  purchaseOrderLine: { quantity: 'quantity', price: 'price', received: 'quantity', cancelled: 'quantity' },
  receiptLine: { quantity: 'quantity', letGo: 'quantity' },
  exchangeRate: { rate: 'rate' },
  customer: { creditLimit: 'amount' },
  supplierTerm: { price: 'price', minimum: 'quantity', multiple: 'quantity' },
  termBreak: { from: 'quantity', price: 'price' },
  item: { sellPrice: 'price', standardCost: 'price', buyPrice: 'price' },
  itemSubstitute: { ratio: 'quantity' },
  packUnit: { factor: 'quantity' },
  counterSale: { total: 'amount', given: 'amount', change: 'amount' },
  drawer: { float: 'amount', expected: 'amount', counted: 'amount', left: 'amount' },
  customerReturnLine: { quantity: 'quantity', received: 'quantity', decided: 'quantity', credited: 'quantity', value: 'amount' },
  returnDecision: { quantity: 'quantity' },
  shipmentLine: { quantity: 'quantity' },
  shipmentPick: { quantity: 'quantity' },
  planFirm: { quantity: 'quantity' },
  forecastFigure: { computed: 'quantity', low: 'quantity', high: 'quantity', typed: 'quantity' },
  pastDemand: { quantity: 'quantity' },
  planningRule: { safety: 'quantity', minimum: 'quantity', multiple: 'quantity', maximum: 'quantity' },
  productionOrder: { quantity: 'quantity', finished: 'quantity', cancelled: 'quantity' },
  productionComponent: { needed: 'quantity', issued: 'quantity' },
  completion: { quantity: 'quantity', cost: 'amount' },
  completionTake: { quantity: 'quantity' },
  priceBreak: { from: 'quantity' },
  customerOrder: {
    lostNet: 'amount',
    net: 'amount',
    total: 'amount',
    taxCorrection: 'amount',
    rate: 'rate',
    booksNet: 'amount',
    booksTotal: 'amount',
  },
  customerOrderLine: {
    quantity: 'quantity',
    price: 'price',
    shipped: 'quantity',
    invoiced: 'quantity',
    cancelled: 'quantity',
    free: 'quantity',
    freeInvoiced: 'quantity',
    ordered: 'quantity',
    freeOrdered: 'quantity',
    correction: 'amount',
  },
  transferLine: { quantity: 'quantity', shipped: 'quantity', lost: 'quantity', received: 'quantity' },
  transferPiece: { quantity: 'quantity', arrived: 'quantity' },
  lateCost: { amount: 'amount', inStock: 'amount' },
  lateCostShare: { amount: 'amount', value: 'amount' },
  revaluation: { before: 'price', after: 'price', value: 'amount' },
  reclassifiedItem: { value: 'amount' },
  stockMove: { quantity: 'quantity', value: 'amount', variance: 'amount' },
  balance: { quantity: 'quantity' },
  costPool: { quantity: 'quantity', value: 'amount' },
  costLayer: { quantity: 'quantity', value: 'amount' },
  worthChange: { quantity: 'quantity', value: 'amount' },
  reservation: { quantity: 'quantity' },
  reservedStock: { quantity: 'quantity' },
};
