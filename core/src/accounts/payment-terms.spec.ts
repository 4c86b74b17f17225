import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, dueOf, termsWords, type PaymentTerms } from '..';

const terms = (more: Partial<PaymentTerms>): PaymentTerms => ({ days: 30, fromMonthEnd: false, discountDays: 0, discount: 0, ...more });

describe('payment terms', () => {
  it.each([
    [terms({}), '2027-03-01', '2027-03-31', null, 'within 30 days'],
    [terms({ days: 0 }), '2027-03-01', '2027-03-01', null, 'at once'],
    [terms({ days: 0, fromMonthEnd: true }), '2028-02-03', '2028-02-29', null, 'by the end of the month'],
    [terms({ days: 10, fromMonthEnd: true }), '2027-12-31', '2028-01-10', null, 'within 10 days of the end of the month'],
    [terms({ discount: 250, discountDays: 10 }), '2027-03-01', '2027-03-31', '2027-03-11', 'within 30 days; 2.5 % off within 10 days'],
  ] as const)('%j from %s', (given, date, dueDate, discountUntil, words) => {
    expect(dueOf(given, date)).toEqual({ dueDate, discountUntil, words });
    expect(termsWords(given)).toBe(words);
  });

  it('never ask for money before the invoice, and sooner for a discount only where that is due sooner', () => {
    const any = fc.record({
      days: fc.integer({ min: 0, max: 365 }),
      fromMonthEnd: fc.boolean(),
      discountDays: fc.integer({ min: 0, max: 60 }),
      discount: fc.integer({ min: 0, max: 1000 }),
    });
    fc.assert(
      fc.property(any, fc.integer({ min: 0, max: 4000 }), (given, day) => {
        const date = addDays('2026-01-01', day);
        const due = dueOf(given, date);
        expect(due.dueDate >= addDays(date, given.days)).toBe(true);
        expect(due.dueDate <= addDays(date, given.days + (given.fromMonthEnd ? 30 : 0))).toBe(true);
        expect(due.discountUntil).toBe(given.discount === 0 ? null : addDays(date, given.discountDays));
      }),
    );
  });
});
