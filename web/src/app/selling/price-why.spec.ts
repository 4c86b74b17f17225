import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import type { PriceAnswer } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { PriceWhy } from './price-why';

const answer: PriceAnswer = {
  price: '20',
  stated: '20',
  currency: 'CHF',
  wantedIn: 'CHF',
  list: null,
  steps: ['The selling price: 20.'],
  listPrice: '20',
  cost: '8',
  margin: '60',
  ceiling: null,
};
const marginOf = (line: { price: string; discount: string } | null): string =>
  (screenWith(PriceWhy, new FakeClient(), [], { answer, line }).screen as unknown as { margin: () => string }).margin();

describe('the margin beside a line', () => {
  it('is that of the price, or of what the line has: its own price, less its discount', () => {
    expect(marginOf(null)).toBe('60');
    expect(marginOf({ price: '20', discount: '' })).toBe('60');
    expect(marginOf({ price: '20', discount: '20' })).toBe('50');
    expect(marginOf({ price: '10', discount: '50' })).toBe('-60');
  });

  it('says nothing while something is typed that can’t be read', () => {
    expect([marginOf({ price: 'x', discount: '' }), marginOf({ price: '20', discount: '101' }), marginOf({ price: '', discount: '' })]).toEqual([
      '',
      '',
      '',
    ]);
  });
});
