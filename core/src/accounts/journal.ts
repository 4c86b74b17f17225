/**
 * Journal entries from events. Each event of the operation posts one balanced entry; which accounts it takes comes
 * from the item's group, the warehouse, the reason or the party, and is told with the event.
 */
import { asAmount, type Amount } from '../base';

/** Accounts of the company that don't depend on item or reason. */
export const CONTROL_ACCOUNTS = {
  receivables: '1200',
  bank: '1000',
  wip: '1500',
  grni: '2100',
  salesTax: '2300',
  opening: '3000',
  costDifference: '5100',
  revaluation: '5200',
  productionVariance: '5300',
  lateCosts: '2110',
  advances: '2200',
  earlyDiscount: '4040',
  cash: '1010',
  cashDifference: '5420',
  exchangeGains: '4050',
  exchangeLosses: '5430',
} as const;
export type ControlUse = keyof typeof CONTROL_ACCOUNTS;
export type ControlAccounts = Readonly<Record<ControlUse, string>>;

export interface StockValue {
  readonly inventoryAccount: string;
  readonly value: Amount;
}

/** What is let off for paying early, without tax, and the tax of it. */
export interface LetOff {
  readonly net: Amount;
  readonly tax: Amount;
}

export type BusinessEvent =
  | { readonly kind: 'receipt'; readonly stock: readonly StockValue[] }
  | { readonly kind: 'issueToProduction'; readonly stock: readonly StockValue[] }
  | { readonly kind: 'completion'; readonly stock: readonly StockValue[] }
  | { readonly kind: 'settlement'; readonly variance: Amount }
  | { readonly kind: 'shipment'; readonly stock: readonly (StockValue & { readonly costOfSalesAccount: string })[] }
  | { readonly kind: 'adjustment'; readonly stock: readonly StockValue[]; readonly account: string }
  | { readonly kind: 'customerInvoice'; readonly revenue: readonly { readonly account: string; readonly value: Amount }[]; readonly tax: Amount }
  /** What was invoiced is given back. */
  | { readonly kind: 'customerCredit'; readonly revenue: readonly { readonly account: string; readonly value: Amount }[]; readonly tax: Amount }
  /**
   * Money came in, or goes back where it is below 0: what stays ahead of it, what it closes at the worth at which that is in the
   * books, and what of that was let off. What it is worth beyond that is a gain or a loss by the rate.
   */
  | {
      readonly kind: 'customerPayment';
      readonly value: Amount;
      readonly into: 'bank' | 'cash';
      readonly ahead: Amount;
      readonly closed: Amount;
      readonly letOff: LetOff;
    }
  /** What was paid ahead closes an invoice, each at the worth at which it is in the books. */
  | { readonly kind: 'advanceTaken'; readonly value: Amount; readonly closed: Amount; readonly letOff: LetOff }
  /** A credit note closes an invoice, each at the worth at which it is in the books. */
  | { readonly kind: 'creditTaken'; readonly value: Amount; readonly closed: Amount }
  /** A customer brought goods back: stock at the cost that it left with. */
  | { readonly kind: 'customerReturn'; readonly stock: readonly (StockValue & { readonly costOfSalesAccount: string })[] }
  /** Cash as it was counted, against what should have been there; below 0 where some was missing. */
  | { readonly kind: 'cashCount'; readonly difference: Amount }
  /** Cash brought from the bank, or taken there where it is below 0. */
  | { readonly kind: 'cashMoved'; readonly value: Amount }
  /** Stock of ours goes to another place of ours. */
  | { readonly kind: 'transfer' }
  /** A cost of goods received before, and what of it the stock takes. */
  | { readonly kind: 'lateCost'; readonly stock: readonly StockValue[]; readonly amount: Amount }
  | { readonly kind: 'revaluation'; readonly stock: readonly StockValue[] }
  /** What stock is worth moves from one inventory account to another. */
  | { readonly kind: 'reclassification'; readonly stock: readonly { readonly from: string; readonly to: string; readonly value: Amount }[] };

export interface JournalLine {
  readonly account: string;
  readonly debit: Amount;
  readonly credit: Amount;
}

/**
 * The entry of an event: lines joined per account and side, zero lines left out. Amounts in minor units; a negative
 * value swaps the sides. An event worth nothing gives no lines.
 */
export function entryFor(event: BusinessEvent, accounts: ControlAccounts = CONTROL_ACCOUNTS): JournalLine[] {
  const sheet = new Map<string, number>();
  const post = (account: string, debit: number): void => {
    sheet.set(account, (sheet.get(account) ?? 0) + debit);
  };
  const pair = (debit: string, credit: string, value: number): void => {
    post(debit, value);
    post(credit, -value);
  };
  const letOff = ({ net, tax }: LetOff): void => {
    pair(accounts.earlyDiscount, accounts.receivables, net);
    pair(accounts.salesTax, accounts.receivables, tax);
  };
  /** By what more, or less, it was paid than it is in the books at, since the rate changed. */
  const exchange = (account: string, gain: number): void => {
    pair(account, gain > 0 ? accounts.exchangeGains : accounts.exchangeLosses, gain);
  };
  switch (event.kind) {
    case 'receipt':
      for (const each of event.stock) pair(each.inventoryAccount, accounts.grni, each.value);
      break;
    case 'issueToProduction':
      for (const each of event.stock) pair(accounts.wip, each.inventoryAccount, each.value);
      break;
    case 'completion':
      for (const each of event.stock) pair(each.inventoryAccount, accounts.wip, each.value);
      break;
    case 'settlement':
      pair(accounts.productionVariance, accounts.wip, event.variance);
      break;
    case 'shipment':
      for (const each of event.stock) pair(each.costOfSalesAccount, each.inventoryAccount, each.value);
      break;
    case 'adjustment':
      for (const each of event.stock) pair(each.inventoryAccount, event.account, each.value);
      break;
    case 'customerInvoice':
      for (const each of event.revenue) pair(accounts.receivables, each.account, each.value);
      pair(accounts.receivables, accounts.salesTax, event.tax);
      break;
    case 'customerCredit':
      for (const each of event.revenue) pair(each.account, accounts.receivables, each.value);
      pair(accounts.salesTax, accounts.receivables, event.tax);
      break;
    case 'customerPayment':
      pair(accounts[event.into], accounts.advances, event.ahead);
      pair(accounts[event.into], accounts.receivables, paidOf(event));
      exchange(accounts[event.into], event.value - event.ahead - paidOf(event));
      letOff(event.letOff);
      break;
    case 'advanceTaken':
      pair(accounts.advances, accounts.receivables, paidOf(event));
      exchange(accounts.advances, event.value - paidOf(event));
      letOff(event.letOff);
      break;
    case 'creditTaken':
      exchange(accounts.receivables, event.value - event.closed);
      break;
    case 'customerReturn':
      for (const each of event.stock) pair(each.inventoryAccount, each.costOfSalesAccount, each.value);
      break;
    case 'cashCount':
      pair(accounts.cash, accounts.cashDifference, event.difference);
      break;
    case 'cashMoved':
      pair(accounts.cash, accounts.bank, event.value);
      break;
    case 'transfer':
      break;
    case 'lateCost': {
      pair(accounts.costDifference, accounts.lateCosts, event.amount);
      for (const each of event.stock) pair(each.inventoryAccount, accounts.costDifference, each.value);
      break;
    }
    case 'reclassification':
      for (const each of event.stock) pair(each.to, each.from, each.value);
      break;
    case 'revaluation':
      for (const each of event.stock) pair(each.inventoryAccount, accounts.revaluation, each.value);
      break;
  }
  return [...sheet]
    .filter(([, net]) => net !== 0)
    .map(([account, net]) => ({ account, debit: asAmount(Math.max(0, net)), credit: asAmount(Math.max(0, -net)) }));
}

/** What of what is closed was paid and not let off. */
function paidOf({ closed, letOff }: { readonly closed: Amount; readonly letOff: LetOff }): number {
  return closed - letOff.net - letOff.tax;
}

/** The entry that takes another one back: sides swapped. */
export function contraryEntry(lines: readonly JournalLine[]): JournalLine[] {
  return lines.map(({ account, debit, credit }) => ({ account, debit: credit, credit: debit }));
}

/** Debit less credit; 0 for an entry that balances. */
export function imbalance(lines: readonly JournalLine[]): number {
  return lines.reduce((sum, line) => sum + line.debit - line.credit, 0);
}
