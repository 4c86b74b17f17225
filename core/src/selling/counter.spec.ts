import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asAmount } from '../base';
import { RECEIPT_WIDTH, expectedCash, readEntry, readPayment, receiptText, tender } from './counter';

describe('what is typed at the counter', () => {
  it.each([
    ['', { kind: 'pay' }],
    ['  ', { kind: 'pay' }],
    ['-', { kind: 'drop' }],
    ['SMOKER', { kind: 'item', quantity: '', text: 'SMOKER' }],
    ['4006000000012', { kind: 'item', quantity: '', text: '4006000000012' }],
    ['3*SMOKER', { kind: 'item', quantity: '3', text: 'SMOKER' }],
    ['2,5 * wax sheet', { kind: 'item', quantity: '2.5', text: 'wax sheet' }],
    ['3*', { kind: 'quantity', value: '3' }],
    ['*12', { kind: 'quantity', value: '12' }],
    ['5%', { kind: 'discount', value: '5' }],
    ['2,5 %', { kind: 'discount', value: '2.5' }],
    ['+1', { kind: 'free', value: '1' }],
    ['=4,50', { kind: 'price', value: '4.50' }],
    ['10', { kind: 'item', quantity: '', text: '10' }],
    ['T-5*', { kind: 'item', quantity: '', text: 'T-5*' }],
  ])('%j is read as what it means', (typed, entry) => {
    expect(readEntry(typed)).toEqual(entry);
  });
});

describe('how somebody pays', () => {
  it.each([
    ['', { kind: 'cash', amount: '' }],
    ['50', { kind: 'cash', amount: '50' }],
    ['19,90', { kind: 'cash', amount: '19.90' }],
    ['c', { kind: 'card', amount: '' }],
    ['C 20', { kind: 'card', amount: '20' }],
    ['card 5.5', { kind: 'card', amount: '5.5' }],
    ['t', { kind: 'transfer', amount: '' }],
    ['a', { kind: 'account' }],
    ['a 5', { kind: 'unknown' }],
    ['x', { kind: 'unknown' }],
    ['-5', { kind: 'unknown' }],
  ])('%j is read as what it means', (typed, entry) => {
    expect(readPayment(typed)).toEqual(entry);
  });
});

describe('what is handed over', () => {
  it('gives change of cash alone, and leaves open what is missing', () => {
    expect(tender(asAmount(1990), asAmount(1000), asAmount(1000))).toEqual({ cash: 990, change: 10, open: 0, beyond: 0 });
    expect(tender(asAmount(1990), asAmount(0), asAmount(500))).toEqual({ cash: 500, change: 0, open: 1490, beyond: 0 });
    expect(tender(asAmount(1990), asAmount(2000), asAmount(100))).toEqual({ cash: 0, change: 100, open: 0, beyond: 10 });
  });

  it('is accounted for to the cent, whatever is paid how', () => {
    const amount = fc.nat(1_000_000).map(asAmount);
    fc.assert(
      fc.property(amount, amount, amount, (total, others, given) => {
        const { cash, change, open, beyond } = tender(total, others, given);
        expect(cash + change).toBe(given);
        expect(others + cash + open - beyond).toBe(total);
        expect(Math.min(cash, change, open, beyond)).toBeGreaterThanOrEqual(0);
        if (open > 0) expect(change).toBe(0);
      }),
    );
    expect(expectedCash(asAmount(10_000), [asAmount(990), asAmount(-500)])).toBe(10_490);
  });
});

describe('a receipt', () => {
  it('is as wide as its roll, its figures at the right', () => {
    const words = fc.string({ maxLength: 80 }).map((text) => text.replaceAll(/\s/g, ' '));
    const figure = fc.integer({ min: -99_999, max: 99_999 }).map((cents) => (cents / 100).toFixed(2));
    fc.assert(
      fc.property(words, words, figure, (item, fact, value) => {
        const text = receiptText({
          head: ['Larkmoor'],
          facts: [[fact, 'CS-1001']],
          lines: [{ words: item, detail: '2 each x 3.00', amount: value }],
          sums: [['Total', value]],
          foot: ['Thank you', fact],
        });
        for (const line of text) expect(line.length).toBeLessThanOrEqual(RECEIPT_WIDTH);
        expect(text.filter((line) => line.endsWith(value)).length).toBeGreaterThanOrEqual(2);
      }),
    );
  });
});
