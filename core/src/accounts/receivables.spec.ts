import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BOOKS_RATE, amountToBooks, asAmount, asQuantity, asRate, dateOf, dayOf, parseRate } from '../base';
import { ageBands, bandOf, booksOfPart, creditOf, inBooks, letOffOn, reminderDue, spreadPayment, taxOfPart, type OpenInvoice } from './receivables';

const DAY = dayOf('2027-03-01');
const openInvoice = (id: number) =>
  fc
    .record({ total: fc.integer({ min: 1, max: 100_000 }), paidShare: fc.integer({ min: 0, max: 100 }), due: fc.integer({ min: -60, max: 60 }) })
    .chain(({ total, paidShare, due }) =>
      fc.record({ discount: fc.constantFrom(0, 200, 300), until: fc.integer({ min: -10, max: 10 }) }).map(({ discount, until }): OpenInvoice => ({
        id,
        total: asAmount(total),
        paid: asAmount(Math.floor((total * paidShare) / 100)),
        dueDate: dateOf(DAY + due),
        discountUntil: discount === 0 ? null : dateOf(DAY + until),
        discount,
      })),
    );
const openInvoices = fc.integer({ min: 0, max: 6 }).chain((count) => fc.tuple(...Array.from({ length: count }, (_, at) => openInvoice(at + 1))));
const invoice = (change: Partial<Record<keyof OpenInvoice, unknown>>): OpenInvoice =>
  ({ id: 1, total: 10_000, paid: 0, dueDate: '2027-03-31', discountUntil: '2027-03-10', discount: 200, ...change }) as OpenInvoice;

describe('what is let off for paying early', () => {
  it('is the discount of the whole until its last day, where nothing was paid before', () => {
    expect(letOffOn(invoice({}), '2027-03-10')).toBe(200);
    expect(letOffOn(invoice({}), '2027-03-11')).toBe(0);
    expect(letOffOn(invoice({ paid: 1 }), '2027-03-01')).toBe(0);
    expect(letOffOn(invoice({ discountUntil: null }), '2027-03-01')).toBe(0);
  });

  it('has its tax from the invoice, and both together are what is let off', () => {
    expect(taxOfPart(asAmount(240), { tax: asAmount(2000), total: asAmount(12_000) })).toEqual({ net: 200, tax: 40 });
    fc.assert(
      fc.property(fc.nat(50_000), fc.nat(20_000), fc.nat(100_000), (part, tax, net) => {
        const split = taxOfPart(asAmount(part), { tax: asAmount(tax), total: asAmount(net + tax) });
        expect(split.net + split.tax).toBe(part);
      }),
    );
  });
});

describe('a payment', () => {
  it('goes to what is due first, and closes with the discount what it can', () => {
    const open = [invoice({ id: 1, dueDate: '2027-03-31' }), invoice({ id: 2, dueDate: '2027-03-05', discountUntil: null, discount: 0 })];
    expect(spreadPayment(asAmount(19_800), open, '2027-03-02')).toEqual({
      settled: [
        { id: 2, amount: 10_000, letOff: 0 },
        { id: 1, amount: 10_000, letOff: 200 },
      ],
      rest: 0,
    });
    expect(spreadPayment(asAmount(19_799), open, '2027-03-02').settled[1]).toEqual({ id: 1, amount: 9_799, letOff: 0 });
  });

  it('is spread to the cent: never more than is open, nothing left while something is', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400_000 }), openInvoices, (amount, open) => {
        const { settled, rest } = spreadPayment(asAmount(amount), open, dateOf(DAY));
        expect(settled.reduce((sum, each) => sum + each.amount - each.letOff, 0) + rest).toBe(amount);
        const left = open.reduce((sum, { id, total, paid }) => {
          const taken = settled.filter((each) => each.id === id).reduce((all, each) => all + each.amount, 0);
          expect(taken).toBeLessThanOrEqual(total - paid);
          return sum + total - paid - taken;
        }, 0);
        if (rest > 0) expect(left).toBe(0);
        for (const { id, letOff } of settled) if (letOff > 0) expect(open.find((each) => each.id === id)?.paid).toBe(0);
      }),
    );
  });
});

describe('a document in another currency', () => {
  const amount = fc.integer({ min: 0, max: 10_000_000 }).map(asAmount);
  const rate = fc.integer({ min: 1_000, max: 10_000_000_000 }).map(asRate);

  it('is in the books what its lines are there, whatever the rate', () => {
    expect(inBooks([asAmount(100), asAmount(100)], asAmount(0), parseRate('1.005'))).toMatchObject({ lines: [101, 100], net: 201, total: 201 });
    fc.assert(
      fc.property(fc.array(amount, { minLength: 1, maxLength: 9 }), amount, rate, fc.boolean(), (lines, tax, at, back) => {
        const signed = back ? lines.map((each) => asAmount(-each)) : lines;
        const worth = inBooks(signed, tax, at);
        expect(worth.lines.reduce((sum, each) => sum + each, 0)).toBe(worth.net);
        expect(worth.net).toBe(amountToBooks(asAmount(signed.reduce((sum, each) => sum + each, 0)), at));
        expect(worth.total).toBe(worth.net + worth.tax);
      }),
    );
  });

  it('is closed by parts that together are all of it in the books, and one that was opened again is as it was', () => {
    fc.assert(
      fc.property(amount, rate, fc.array(fc.integer({ min: 1, max: 100 }), { maxLength: 6 }), (total, at, shares) => {
        let left = { total, paid: asAmount(0), booksTotal: amountToBooks(total, at), booksPaid: asAmount(0) };
        const close = (part: number): void => {
          const books = booksOfPart(left, asAmount(part));
          left = { ...left, paid: asAmount(left.paid + part), booksPaid: asAmount(left.booksPaid + books) };
        };
        for (const share of shares) {
          const part = Math.floor(((left.total - left.paid) * share) / 100);
          const before = left;
          close(part);
          // In the books' own currency a part is itself.
          if (at === BOOKS_RATE) expect(left.booksPaid - before.booksPaid).toBe(part);
        }
        close(left.total - left.paid);
        expect(left.booksPaid).toBe(left.total === 0 ? 0 : left.booksTotal);
      }),
    );
    const credit = { total: asAmount(-100), paid: asAmount(0), booksTotal: asAmount(-117), booksPaid: asAmount(0) };
    expect(booksOfPart(credit, asAmount(-50))).toBe(-59);
    expect(booksOfPart({ total: asAmount(300), paid: asAmount(100), booksTotal: asAmount(300), booksPaid: asAmount(100) }, asAmount(77))).toBe(77);
  });
});

describe('what is open', () => {
  it('is as old as it is past its due date', () => {
    const age = (days: number) => bandOf('2027-03-01', dateOf(DAY + days));
    expect([-5, 0, 1, 30, 31, 60, 61, 90, 91].map(age)).toEqual(['notDue', 'notDue', 'to30', 'to30', 'to60', 'to60', 'to90', 'to90', 'older']);
    expect(ageBands).toHaveLength(5);
  });

  it('is reminded of step by step, each after its days, three times at most', () => {
    const rule = { after: [7, 14, 14] } as const;
    const due = { step: 0, last: null, dueDate: '2027-02-01' };
    expect(reminderDue(due, '2027-02-07', rule)).toBeNull();
    expect(reminderDue(due, '2027-02-08', rule)).toBe(1);
    expect(reminderDue({ ...due, step: 1, last: '2027-02-10' }, '2027-02-23', rule)).toBeNull();
    expect(reminderDue({ ...due, step: 1, last: '2027-02-10' }, '2027-02-24', rule)).toBe(2);
    expect(reminderDue({ ...due, step: 3, last: '2027-02-10' }, '2027-12-24', rule)).toBeNull();
    expect(reminderDue(due, '2027-02-01', { after: [0, 0, 0] })).toBeNull();
  });
});

describe('what pieces of an invoiced line are worth back', () => {
  it('comes to the line to the cent, in whatever parts they come', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 100_000 }),
        fc.nat(100),
        fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 8 }),
        (amount, lessShare, parts) => {
          const less = Math.floor((amount * lessShare) / 100);
          const quantity = parts.reduce((sum, each) => sum + each, 0) * 100_000;
          let line = {
            quantity: asQuantity(quantity),
            amount: asAmount(amount),
            creditedQuantity: asQuantity(0),
            creditedAmount: asAmount(less),
          };
          for (const part of parts) {
            const worth = creditOf(line, asQuantity(part * 100_000));
            expect(worth).toBeGreaterThanOrEqual(0);
            line = {
              ...line,
              creditedQuantity: asQuantity(line.creditedQuantity + part * 100_000),
              creditedAmount: asAmount(line.creditedAmount + worth),
            };
          }
          expect(line.creditedAmount).toBe(amount);
          expect(creditOf(line, asQuantity(0))).toBe(0);
        },
      ),
    );
  });
});
