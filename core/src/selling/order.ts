/** Figures and states of a customer order that follow from its lines. */
import { ZERO, asAmount, asQuantity, extend, shareOf, type Amount, type Quantity, type UnitPrice } from '../base';

export type CustomerOrderState = 'draft' | 'confirmed' | 'partShipped' | 'shipped' | 'invoiced' | 'closed' | 'cancelled';

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

/** Whether what is outstanding could leave now, from what is reserved for each line. */
export function shipReadiness(lines: readonly { readonly outstanding: Quantity; readonly reserved: Quantity }[]): ShipReadiness {
  const open = lines.filter((line) => line.outstanding > 0);
  if (open.length > 0 && open.every((line) => line.reserved >= line.outstanding)) return 'all';
  return open.some((line) => line.reserved > ZERO) ? 'part' : 'nothing';
}

export interface Totals {
  readonly net: Amount;
  readonly tax: Amount;
  readonly total: Amount;
}

/** Sum of lines, each rounded once, and tax on the sum. Discount and tax rate in basis points. */
export function totalOf(
  lines: readonly { readonly quantity: Quantity; readonly price: UnitPrice; readonly discount: number }[],
  taxRate: number,
): Totals {
  const net = asAmount(lines.reduce((sum, line) => sum + extend(line.quantity, line.price, line.discount), 0));
  const tax = shareOf(net, taxRate);
  return { net, tax, total: asAmount(net + tax) };
}
