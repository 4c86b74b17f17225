/** Orders, quotes and blanket orders as they are shown and entered. */
import { z } from 'zod';
import { dateText, decimalText, longText, shortText, version } from '../base/schemas';
import { customInput, customView } from '../catalogue/custom';

export const orderStates = [
  'draft',
  'confirmed',
  'partShipped',
  'shipped',
  'invoiced',
  'closed',
  'cancelled',
  'offered',
  'agreed',
  'won',
  'lost',
] as const;
export const orderKinds = ['order', 'quote', 'blanket'] as const;

export const orderRow = z.looseObject({
  id: z.number(),
  number: z.string(),
  customer: z.string(),
  reference: z.string(),
  state: z.enum(orderStates),
  orderDate: z.string(),
  requiredDate: z.string(),
  promiseDate: z.string().nullable(),
  warehouse: z.string(),
  carrier: z.string(),
  /** Why nothing goes on with it; empty where it does. */
  held: z.string(),
  lines: z.number(),
  ready: z.enum(['all', 'part', 'nothing', 'done']),
  late: z.boolean(),
  /** Whether the plan has some of it later than wanted, or not at all. */
  endangered: z.boolean(),
  /** In the books' currency, with tax. */
  total: z.string(),
  /** As the customer is asked for it, and in which currency. */
  theirTotal: z.string(),
  currency: z.string(),
  /** Without tax; and what is left of it at what its goods cost us now; in the books' currency. */
  net: z.string(),
  margin: z.string(),
  /** What of it is confirmed and still to ship, without tax; in the books' currency. */
  toShip: z.string(),
  /** Whether what is invoiced of it is paid. */
  paid: z.enum(['nothing', 'open', 'paid']),
  /** Who sells it; empty for nobody. */
  salesPerson: z.string(),
});
export type OrderRow = z.output<typeof orderRow>;

export const orderLine = z.object({
  id: z.number(),
  position: z.number(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  quantity: z.string(),
  price: z.string(),
  discount: z.string(),
  requiredDate: z.string(),
  /** Whether it is goods: services and charges go along, and are neither promised nor short nor late. */
  goods: z.boolean(),
  /** The day for which it is promised; `null` where it has none yet, and for services and charges. */
  promiseDate: z.string().nullable(),
  /** Whether something of it is still to ship and its day has passed, or it is promised later than wanted, or not at all. */
  late: z.boolean(),
  reserved: z.string(),
  shipped: z.string(),
  invoiced: z.string(),
  cancelled: z.string(),
  outstanding: z.string(),
  /** Whether it is a charge that a rule added. */
  byRule: z.boolean(),
  /** How many of its pieces are free of charge. */
  free: z.string(),
  note: z.string(),
  /** Where it goes and by whom, if not as the order; else empty. */
  shipTo: z.string(),
  carrier: z.string(),
  /** Whether the supplier ships it. */
  direct: z.boolean(),
  /** Of a quote or a blanket order: what has become orders. */
  ordered: z.string(),
  /** What the customer calls the item; empty where they call it nothing of their own. */
  theirCode: z.string(),
  amount: z.string(),
  covered: z.string(),
  /** How its price came about. */
  priceSteps: z.array(z.string()),
  discountReason: z.string(),
  /** Items that could stand in where it is short, each with what is free. */
  substitutes: z.array(z.object({ id: z.number(), code: z.string(), description: z.string(), free: z.string(), ratio: z.string() })),
});
export type OrderLine = z.output<typeof orderLine>;

export const orderView = z.object({
  id: z.number(),
  number: z.string(),
  kind: z.enum(orderKinds),
  /** Of a quote or a blanket order: the last day on which it holds, and whether that has passed. */
  validUntil: z.string().nullable(),
  lapsed: z.boolean(),
  /** How likely a quote becomes an order, in percent. */
  probability: z.number().int(),
  /** Why a quote was lost; empty where it was not. */
  lostReason: z.string(),
  state: z.enum(orderStates),
  customerId: z.number(),
  customer: z.string(),
  reference: z.string(),
  orderDate: z.string(),
  requiredDate: z.string(),
  /** What the plan says of it; `null` where it says nothing. */
  planned: z.object({ ready: z.string().nullable(), endangered: z.boolean() }).nullable(),
  /** Whether one of its lines is late. */
  late: z.boolean(),
  promiseDate: z.string().nullable(),
  warehouseId: z.number(),
  warehouse: z.string(),
  /** By whom it goes, and how. */
  carrier: z.string(),
  service: z.string(),
  /** Why nothing goes on with it; empty where it does. */
  held: z.string(),
  /** Where it goes, as entered; empty for the customer's own address. */
  shipTo: z.string(),
  /** How it was agreed to be paid: a code of payment terms, or none where by days; and in words. */
  paymentTerm: z.string().nullable(),
  terms: z.string(),
  /** Who sells it. */
  salesPersonId: z.number().nullable(),
  salesPerson: z.string(),
  /** Whether it goes as a whole or not at all. */
  complete: z.boolean(),
  /** The orders that it was divided into, or that were divided with it, itself included; none where it never was. */
  family: z.array(
    z.object({ id: z.number(), number: z.string(), state: z.enum(orderStates), promiseDate: z.string().nullable(), total: z.string(), version }),
  ),
  /** Whether freight and the like is charged by rule, as long as it is a draft or an offer. */
  charges: z.boolean(),
  /** Whether they are worked out anew as it is saved: as long as nothing is agreed, and it is no part of another order. */
  ruled: z.boolean(),
  note: z.string(),
  lines: z.array(orderLine),
  /** What its prices and sums are in, what one of it was worth in the books' currency on its day, and the total there. */
  currency: z.string(),
  rate: z.string(),
  booksTotal: z.string(),
  net: z.string(),
  tax: z.string(),
  total: z.string(),
  /** What was paid ahead for it, and for what it was divided with, and closes no invoice yet. */
  paidAhead: z.string(),
  ready: z.enum(['all', 'part', 'nothing', 'done']),
  custom: customView,
  version,
});
export type OrderView = z.output<typeof orderView>;

export const orderInput = z.object({
  customerId: z.number('Choose a customer.').int().positive('Choose a customer.'),
  reference: shortText.default(''),
  requiredDate: dateText,
  warehouseId: z.number().int().positive('Choose a warehouse.'),
  note: z.string().max(2000).default(''),
  /** By whom it goes, and how; left out, as the customer has it, or as it was. */
  carrier: shortText.optional(),
  service: shortText.optional(),
  /** Where it goes; empty for the customer's own address. */
  shipTo: longText.default(''),
  /** How it is to be paid; left out, as the customer does, or as it was. */
  paymentTerm: shortText.nullable().optional(),
  /** Who sells it; left out, whoever enters it, or as it was. */
  salesPersonId: z.number().int().nullable().optional(),
  /** Whether it goes as a whole or not at all. */
  complete: z.boolean().default(false),
  /** Whether freight and the like is charged by rule; left out, it is, or as it was. */
  charges: z.boolean().optional(),
  custom: customInput,
  lines: z
    .array(
      z.object({
        id: z.number().optional(),
        itemId: z.number().int().positive('Choose an item.'),
        quantity: decimalText,
        price: decimalText.optional(),
        discount: decimalText.default('0'),
        /** Why more than the ceiling is given away. */
        discountReason: shortText.default(''),
        requiredDate: dateText.optional(),
        /** How many of its pieces are free of charge. */
        free: decimalText.default('0'),
        note: longText.default(''),
        /** Where it goes and by whom, if not as the order. */
        shipTo: longText.default(''),
        carrier: shortText.default(''),
        /** Whether the supplier ships it. */
        direct: z.boolean().default(false),
      }),
    )
    .min(1, 'An order needs a line at least.')
    .max(500),
});
export type OrderInput = z.input<typeof orderInput>;
