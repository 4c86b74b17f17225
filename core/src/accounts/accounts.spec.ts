import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount } from '../base';
import { CONTROL_ACCOUNTS, contraryEntry, entryFor, imbalance, type BusinessEvent } from './index';

const amounts = fc.integer({ min: -100_000, max: 100_000 }).map(asAmount);
const accounts = fc.constantFrom('1410', '1420', '1430');
const stock = fc.array(fc.record({ inventoryAccount: accounts, value: amounts, costOfSalesAccount: fc.constant('5010') }), { maxLength: 5 });
const events: fc.Arbitrary<BusinessEvent> = fc.oneof(
  stock.map((rows): BusinessEvent => ({ kind: 'receipt', stock: rows })),
  stock.map((rows): BusinessEvent => ({ kind: 'issueToProduction', stock: rows })),
  stock.map((rows): BusinessEvent => ({ kind: 'completion', stock: rows })),
  stock.map((rows): BusinessEvent => ({ kind: 'shipment', stock: rows })),
  stock.map((rows): BusinessEvent => ({ kind: 'adjustment', stock: rows, account: '5400' })),
  amounts.map((variance): BusinessEvent => ({ kind: 'settlement', variance })),
  fc
    .tuple(amounts, amounts, amounts, amounts, fc.constantFrom('bank' as const, 'cash' as const))
    .map(([value, closed, net, tax, into]): BusinessEvent => ({ kind: 'customerPayment', value, into, ahead: net, closed, letOff: { net, tax } })),
  fc
    .tuple(amounts, amounts, amounts, amounts)
    .map(([value, closed, net, tax]): BusinessEvent => ({ kind: 'advanceTaken', value, closed, letOff: { net, tax } })),
  fc.tuple(amounts, amounts).map(([value, closed]): BusinessEvent => ({ kind: 'creditTaken', value, closed })),
  fc.tuple(amounts, amounts).map(([value, tax]): BusinessEvent => ({ kind: 'customerCredit', revenue: [{ account: '4010', value }], tax })),
  stock.map((rows): BusinessEvent => ({ kind: 'customerReturn', stock: rows })),
  amounts.map((difference): BusinessEvent => ({ kind: 'cashCount', difference })),
  amounts.map((value): BusinessEvent => ({ kind: 'cashMoved', value })),
  fc.tuple(amounts, amounts).map(([value, tax]): BusinessEvent => ({ kind: 'customerInvoice', revenue: [{ account: '4010', value }], tax })),
);

const account = (lines: ReturnType<typeof entryFor>, code: string) => lines.find((line) => line.account === code);

describe('journal entries', () => {
  it('balance for every event, with one positive side a line and an account once', () => {
    fc.assert(
      fc.property(events, (event) => {
        const lines = entryFor(event);
        expect(imbalance(lines)).toBe(0);
        for (const line of lines) expect((line.debit === 0) !== (line.credit === 0) && line.debit >= 0 && line.credit >= 0).toBe(true);
        expect(new Set(lines.map((line) => line.account)).size).toBe(lines.length);
        expect(imbalance([...lines, ...contraryEntry(lines)])).toBe(0);
      }),
    );
  });

  it('take the sides that the event asks for', () => {
    expect(entryFor({ kind: 'receipt', stock: [{ inventoryAccount: '1410', value: asAmount(500) }] })).toEqual([
      { account: '1410', debit: 500, credit: 0 },
      { account: CONTROL_ACCOUNTS.grni, debit: 0, credit: 500 },
    ]);
    expect(entryFor({ kind: 'customerInvoice', revenue: [{ account: '4010', value: asAmount(1000) }], tax: asAmount(200) })).toEqual([
      { account: CONTROL_ACCOUNTS.receivables, debit: 1200, credit: 0 },
      { account: '4010', debit: 0, credit: 1000 },
      { account: CONTROL_ACCOUNTS.salesTax, debit: 0, credit: 200 },
    ]);
    const none = { net: asAmount(0), tax: asAmount(0) };
    expect(entryFor({ kind: 'customerPayment', value: asAmount(0), into: 'bank', ahead: asAmount(0), closed: asAmount(0), letOff: none })).toEqual(
      [],
    );
  });

  it('have a payment close what is owed, what is let off with its tax, and the rest paid ahead', () => {
    const paid = {
      value: asAmount(1500),
      into: 'bank',
      ahead: asAmount(324),
      closed: asAmount(1200),
      letOff: { net: asAmount(20), tax: asAmount(4) },
    } as const;
    const lines = entryFor({ kind: 'customerPayment', ...paid });
    expect(account(lines, CONTROL_ACCOUNTS.bank)?.debit).toBe(1500);
    expect(account(lines, CONTROL_ACCOUNTS.receivables)?.credit).toBe(1200);
    expect(account(lines, CONTROL_ACCOUNTS.earlyDiscount)?.debit).toBe(20);
    expect(account(lines, CONTROL_ACCOUNTS.salesTax)?.debit).toBe(4);
    expect(account(lines, CONTROL_ACCOUNTS.advances)?.credit).toBe(324);
    expect(lines).toHaveLength(5);
  });

  it('tell a gain or a loss where the rate has changed since the invoice', () => {
    const none = { net: asAmount(0), tax: asAmount(0) };
    // 1,000.00 of another currency: 1,170.00 in the books when invoiced, 1,190.00 when paid.
    const gained = { kind: 'customerPayment', into: 'bank', value: asAmount(119_000), ahead: asAmount(0), closed: asAmount(117_000) } as const;
    expect(entryFor({ ...gained, letOff: none })).toEqual([
      { account: CONTROL_ACCOUNTS.bank, debit: 119_000, credit: 0 },
      { account: CONTROL_ACCOUNTS.receivables, debit: 0, credit: 117_000 },
      { account: CONTROL_ACCOUNTS.exchangeGains, debit: 0, credit: 2000 },
    ]);
    const lost = entryFor({ kind: 'advanceTaken', value: asAmount(116_000), closed: asAmount(117_000), letOff: none });
    expect(account(lost, CONTROL_ACCOUNTS.exchangeLosses)?.debit).toBe(1000);
    expect(account(lost, CONTROL_ACCOUNTS.advances)?.debit).toBe(116_000);
    expect(entryFor({ kind: 'creditTaken', value: asAmount(116_000), closed: asAmount(117_000) })).toEqual([
      { account: CONTROL_ACCOUNTS.receivables, debit: 0, credit: 1000 },
      { account: CONTROL_ACCOUNTS.exchangeLosses, debit: 1000, credit: 0 },
    ]);
  });
});
