/** What of a sum goes to which invoice, as it is typed. */
import { asAmount, parseAmount, spreadPayment, writeAmount, type OpenInvoice } from '@terrace/core';
import type { CustomerAccount } from '@terrace/contract';
import { typedAmount } from '../ui/typed-amount';

export type OpenItem = CustomerAccount['open'][number];
/** By the invoice's id: how much of it is closed, and whether with what is let off for paying early. */
export type Settles = Readonly<Record<string, { readonly amount: string; readonly early: boolean }>>;

const minorOf = (text: string): number => parseAmount(text);

/** The invoices among what is open. */
export function invoicesIn(open: readonly OpenItem[]): OpenItem[] {
  return open.filter(({ kind }) => kind === 'invoice');
}

/** Spreads a sum over open invoices, what is due first before the rest; `early` where discounts for early payment are taken. */
export function spreadOver(open: readonly OpenItem[], available: string, early: boolean): Settles {
  const amount = typedAmount(available);
  if (amount <= 0) return {};
  const asOpen = ({ id, open: left, letOff, dueDate }: OpenItem): OpenInvoice & { readonly off: number } => ({
    id,
    total: asAmount(minorOf(left)),
    paid: asAmount(0),
    dueDate,
    // The server has said what is let off today: no basis points of it.
    discountUntil: null,
    discount: 0,
    off: early ? minorOf(letOff) : 0,
  });
  const settles: Record<string, { amount: string; early: boolean }> = {};
  let rest = amount;
  for (const each of invoicesIn(open).map(asOpen)) {
    if (rest <= 0) break;
    if (each.off > 0 && rest >= each.total - each.off) {
      settles[each.id] = { amount: writeAmount(each.total), early: true };
      rest -= each.total - each.off;
    } else {
      const [taken] = spreadPayment(asAmount(rest), [each], '').settled;
      if (!taken) continue;
      settles[each.id] = { amount: writeAmount(taken.amount), early: false };
      rest -= taken.amount;
    }
  }
  return settles;
}

/** What is let off an invoice as it is typed. */
export function letOffOf(item: OpenItem, settles: Settles): string {
  return settles[item.id]?.early === true ? item.letOff : '0.00';
}

/** What all of it takes of the sum, in minor units. */
export function takenOf(open: readonly OpenItem[], settles: Settles): number {
  return invoicesIn(open).reduce((sum, each) => {
    const amount = typedAmount(settles[each.id]?.amount ?? '');
    return amount === 0 ? sum : sum + amount - minorOf(letOffOf(each, settles));
  }, 0);
}

/** What is sent of it: only what closes something. */
export function settleOf(open: readonly OpenItem[], settles: Settles): { invoiceId: number; amount: string; letOff: string }[] {
  return invoicesIn(open).flatMap((each) => {
    const amount = (settles[each.id]?.amount ?? '').trim();
    return amount === '' || typedAmount(amount) === 0 ? [] : [{ invoiceId: each.id, amount, letOff: letOffOf(each, settles) }];
  });
}
