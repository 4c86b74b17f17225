import '@angular/compiler';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { documentKinds, orderStates, purchaseStates, stockStates } from '@terrace/contract';
import '../documents';
import { kindWords, pageOf, stateWords } from './documents';
import { grouped, longDay, readyWords, shortCost, shortDay } from './format';

describe('figures', () => {
  it.each([
    ['1234567.5', '1,234,567.5'],
    ['-1000', '−1,000'],
    ['999', '999'],
    ['0.00012', '0.00012'],
    ['-0.5', '−0.5'],
    [12000, '12,000'],
    ['', ''],
    [null, ''],
    [undefined, ''],
  ])('%s is written %s', (figure, written) => expect(grouped(figure)).toBe(written));

  it('keep every digit, whatever their size', () => {
    fc.assert(
      fc.property(fc.bigInt({ min: -(10n ** 20n), max: 10n ** 20n }), fc.nat(99_999), (whole, fraction) => {
        const text = `${whole}.${String(fraction).padStart(5, '0')}`;
        const written = grouped(text);
        expect(written.replaceAll(',', '').replace('−', '-')).toBe(text);
        expect(
          written
            .split('.')[0]
            ?.replace('−', '')
            .split(',')
            .slice(1)
            .every((three) => three.length === 3),
        ).toBe(true);
      }),
    );
  });

  it('of cost have four decimals at most', () => {
    expect(['1234.567891', '0.05', '7', '1.23456'].map(shortCost)).toEqual(['1,234.5678', '0.05', '7', '1.2345']);
  });
});

describe('days', () => {
  it('have their weekday, and nothing is nothing', () => {
    expect([longDay('2027-03-01'), longDay('2028-02-29'), longDay(null), longDay('')]).toEqual(['Mon 1 Mar 2027', 'Tue 29 Feb 2028', '', '']);
    expect([shortDay('2027-12-31'), shortDay(undefined)]).toEqual(['31 Dec', '']);
  });
});

describe('words', () => {
  const plain = /^[a-z][a-z ]+$/;

  it('say every state that a document or stock can be in', () => {
    for (const state of new Set([...orderStates, ...purchaseStates, ...stockStates])) {
      const { words, steps } = stateWords(state);
      expect([state, words]).toEqual([state, expect.stringMatching(plain)]);
      expect([0, 1, 2, 3, 4]).toContain(steps);
    }
    expect(stateWords('noSuchState')).toEqual({ words: 'noSuchState', steps: 0 });
  });

  it('of states go forward as a document does', () => {
    for (const way of [
      ['draft', 'confirmed', 'partShipped', 'shipped', 'closed'],
      ['draft', 'approved', 'sent', 'partReceived', 'received'],
    ]) {
      const steps = way.map((state) => stateWords(state).steps);
      expect(steps).toEqual([...steps].sort((one, other) => one - other));
    }
    expect(stateWords('cancelled').ended).toBe(true);
  });

  it('name every kind of document, and where most of them are shown', () => {
    for (const kind of documentKinds) expect([kind, kindWords(kind)]).toEqual([kind, expect.stringMatching(/^[A-Z][a-z]+( [a-z]+)?$/)]);
    expect(pageOf('customerOrder', 7)).toBe('/selling/orders/7');
    expect(pageOf('receipt', 7)).toBeNull();
    expect(['all', 'part', 'nothing', 'done'].map(readyWords)).toEqual(['all of it', 'a part', 'nothing yet', '']);
  });
});
