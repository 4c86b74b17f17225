/** Figures and states of a customer order that follow from its lines. */
import { ZERO, asAmount, asQuantity, extend, shareOf, type Amount, type Quantity, type UnitPrice } from '../base';

export type CustomerOrderState =
  | 'draft'
  | 'confirmed'
  | 'partShipped'
  | 'shipped'
  | 'invoiced'
  | 'closed'
  | 'cancelled'
  // Of what was offered or agreed beforehand.
  | 'offered'
  | 'agreed'
  | 'won'
  | 'lost';
/** A commitment, an offer, or what was agreed to be called off by and by. */
export type CustomerOrderKind = 'order' | 'quote' | 'blanket';

export interface OrderLineProgress {
  readonly quantity: Quantity;
  readonly shipped: Quantity;
  readonly invoiced: Quantity;
  readonly cancelled: Quantity;
}

/** What of a line of an order stands: what was ordered (10⁻⁵ units) less what was cancelled; it is what the line is worth. */
export function standing(line: Pick<OrderLineProgress, 'quantity' | 'cancelled'>): Quantity {
  return asQuantity(line.quantity - line.cancelled);
}

/** What of an order’s line is charged, beside what goes free of charge. */
export interface ChargedLine extends Pick<OrderLineProgress, 'quantity' | 'cancelled' | 'invoiced'> {
  /** How many of its pieces are free of charge (10⁻⁵ units); they stay as long as the line has as many. */
  readonly free: Quantity;
  /** How many of those are on invoices already. */
  readonly freeInvoiced: Quantity;
}

/**
 * What of a line that stands is charged (10⁻⁵ units): all but the pieces that are free of charge. Of 11 with 1 free, 10; after
 * 5 of them were cancelled, 5.
 */
export function charged(line: Pick<ChargedLine, 'quantity' | 'cancelled' | 'free'>): Quantity {
  return asQuantity(Math.max(0, standing(line) - line.free));
}

/**
 * What of the next pieces of a line that are invoiced is free of charge (10⁻⁵ units): what is charged goes first, so that whatever
 * is invoiced when, all invoices together charge what the line does. Of 11 with 1 free, the first 5 have none free, the other 6 one.
 */
export function freeOfNext(line: ChargedLine, quantity: Quantity): Quantity {
  const chargedLeft = charged(line) - (line.invoiced - line.freeInvoiced);
  return asQuantity(Math.max(0, quantity - Math.max(0, chargedLeft)));
}

/** The kinds of items, as far as selling tells them apart. */
export type SoldKind = 'stocked' | 'nonStocked' | 'service' | 'charge' | 'phantom';

/**
 * Whether a line is goods, which are promised, packed and waited for. Services and charges only go along: they are never
 * short or late, and nothing waits for them.
 */
export function isGoods(kind: SoldKind): boolean {
  return kind !== 'service' && kind !== 'charge';
}

/** What of a line is still to be shipped. */
export function outstanding(line: Pick<OrderLineProgress, 'quantity' | 'shipped' | 'cancelled'>): Quantity {
  return asQuantity(Math.max(0, line.quantity - line.shipped - line.cancelled));
}

/** The state of an order that has been confirmed, from its lines and whether all its invoices are paid. */
export function stateOfConfirmed(lines: readonly OrderLineProgress[], paid: boolean): CustomerOrderState {
  const shipped = lines.some((line) => line.shipped > 0);
  if (lines.some((line) => outstanding(line) > 0)) return shipped ? 'partShipped' : 'confirmed';
  if (!shipped) return 'cancelled';
  if (lines.some((line) => line.invoiced < line.shipped)) return 'shipped';
  return paid ? 'closed' : 'invoiced';
}

export type ShipReadiness = 'all' | 'part' | 'nothing';

/** Whether the goods that are outstanding could leave now, from what is reserved for each line: all where none are left. */
export function shipReadiness(goods: readonly { readonly outstanding: Quantity; readonly reserved: Quantity }[]): ShipReadiness {
  const open = goods.filter((line) => line.outstanding > 0);
  if (open.every((line) => line.reserved >= line.outstanding)) return 'all';
  return open.some((line) => line.reserved > ZERO) ? 'part' : 'nothing';
}

export interface Totals {
  readonly net: Amount;
  readonly tax: Amount;
  readonly total: Amount;
}

/** What a line is worth by. */
export interface Worth {
  /** What of it is charged, in 10⁻⁵ units. */
  readonly quantity: Quantity;
  /** Of one unit. */
  readonly price: UnitPrice;
  /** Basis points. */
  readonly discount: number;
  /** What it is worth beyond that, in minor units: a part of a divided line. */
  readonly correction?: Amount;
}

/** What a line is worth, rounded once: 3 at 1.25 less 10 % are 3.38. */
export function amountOfLine({ quantity, price, discount, correction = ZERO_AMOUNT }: Worth): Amount {
  return asAmount(extend(quantity, price, discount) + correction);
}

const ZERO_AMOUNT = asAmount(0);

/** What stands on invoices of a line already, at one price: charged pieces (10⁻⁵ units) and what they came to (minor units). */
export interface InvoicedBefore {
  readonly quantity: Quantity;
  readonly amount: Amount;
}

/**
 * What the next invoice of a line comes to, in minor units: what all of its pieces that are invoiced by then are worth, rounded
 * once, less what the others came to. So all invoices of a line together come to the line, in whatever order they are made,
 * taken back and made again: the last takes what is left.
 *
 * @param next what is charged of the next pieces, at the line's price; `last` with the last of the line, which bring its correction.
 * @example of 3 at 0.335, invoiced one by one: 0.34, 0.33 and 0.34, which are 1.01.
 */
export function amountOfNext({ quantity: next, price, discount, correction = ZERO_AMOUNT }: Worth, before: InvoicedBefore, last: boolean): Amount {
  const worth = extend(asQuantity(before.quantity + next), price, discount) - before.amount;
  return asAmount(last ? worth + correction : Math.max(0, worth));
}

/**
 * What of a line of an order is still to ship is worth, in minor units: what the line is worth less what has left, of which what is
 * charged goes first.
 *
 * @example of 3 at 0.335 (1.01 in all) with 1 shipped: 0.67
 */
export function toShipWorth(
  line: Omit<Worth, 'quantity'> & Pick<OrderLineProgress, 'quantity' | 'cancelled' | 'shipped'> & { readonly free: Quantity },
): Amount {
  if (outstanding(line) === 0) return ZERO_AMOUNT;
  const all = charged(line);
  const gone = asQuantity(Math.min(all, line.shipped));
  return asAmount(amountOfLine({ ...line, quantity: all }) - extend(gone, line.price, line.discount));
}

/**
 * Sum of lines, each rounded once, and tax on the sum. Tax rate in basis points; `taxCorrection` is what the tax is beyond that, in
 * minor units, of a part of a divided order.
 */
export function totalOf(lines: readonly Worth[], taxRate: number, taxCorrection: Amount = ZERO_AMOUNT): Totals {
  const net = asAmount(lines.reduce((sum, line) => sum + amountOfLine(line), 0));
  const tax = asAmount(shareOf(net, taxRate) + taxCorrection);
  return { net, tax, total: asAmount(net + tax) };
}
