import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { UNSAID_RULE, type PlanningRule } from '@terrace/core';
import { changeOf, changeWords, draftOf } from './supposed-rule';

const known = { ...UNSAID_RULE, item: 'FRAME', warehouse: 'WORKS', source: 'make', leadDays: 3, safety: '50', minimum: '100' } as PlanningRule;

describe('another rule that is supposed', () => {
  it('is what differs from the one that holds, however it is typed', () => {
    expect(changeOf(known, draftOf(known))).toEqual({});
    expect(changeOf(known, { ...draftOf(known), safety: '', leadDays: '4.4' })).toEqual({ safety: '0', leadDays: 4 });
    expect(changeOf(known, { ...draftOf(known), maximum: '500' })).toEqual({ maximum: '500' });
  });

  it('is all that was typed where none holds', () => {
    expect(Object.keys(changeOf(null, draftOf(UNSAID_RULE))).sort()).toEqual(
      ['from', 'leadDays', 'lotSizing', 'maximum', 'minimum', 'multiple', 'safety', 'source'].sort(),
    );
  });

  it('is said in the trade’s words, with what is taken away as well', () => {
    expect(changeWords({ source: 'transfer', from: 'DEPOT', leadDays: 2 })).toBe('transferred from DEPOT, lead time 2 days');
    expect(changeWords({ safety: '1200', lotSizing: { kind: 'lotForLot' }, maximum: null })).toBe(
      'safety stock 1,200, lot-for-lot, orders of any size',
    );
  });
});
