import '@angular/compiler';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { RULE_FIELDS } from '@terrace/core';
import { EMPTY, bodyOf, draftOf, placeOf, saidAs, sizingOf, type Rule } from './rule-draft';

const figure = fc.integer({ min: 0, max: 900 }).map(String);
const days = fc.integer({ min: 0, max: 60 });
const rule = fc.record({
  warehouseId: fc.constant(1),
  warehouse: fc.constant('WORKS'),
  source: fc.constantFrom('buy' as const, 'make' as const, 'transfer' as const),
  fromId: fc.constant(2),
  from: fc.constant('DEPOT'),
  leadDays: days,
  safety: figure,
  safetyBy: fc.oneof(
    fc.constant({ by: 'quantity' as const }),
    fc.record({ by: fc.constant('days' as const), days: fc.integer({ min: 1, max: 60 }) }),
    fc.record({ by: fc.constant('service' as const), level: fc.constantFrom('0.9', '0.98') }),
  ),
  safetyWords: fc.constant(''),
  lotSizing: fc.constantFrom({ kind: 'lotForLot' as const }, { kind: 'fixed' as const, quantity: '40' }),
  minimum: figure,
  multiple: figure,
  maximum: fc.option(fc.integer({ min: 1000, max: 9000 }).map(String)),
  usable: fc.constantFrom('1', '0.95'),
  fenceDays: days,
  slackDays: days,
  demand: fc.constantFrom('orders' as const, 'consume' as const),
  consumeBack: days,
  consumeForward: days,
  follows: fc.subarray([...RULE_FIELDS]),
  version: fc.constant(3),
}) as unknown as fc.Arbitrary<Rule>;
const bodyKeys = Object.keys(api.planning.setRule.body.shape) as (keyof Rule)[];

describe('a planning rule as it is typed', () => {
  it('is sent as it was kept where nothing is typed; only a transfer names where it comes from', () => {
    fc.assert(
      fc.property(rule, (kept) => {
        const sent = api.planning.setRule.body.parse(bodyOf(draftOf(kept))) as unknown as Record<string, unknown>;
        for (const key of bodyKeys.filter((each) => each !== 'fromId')) expect([key, sent[key]]).toEqual([key, kept[key]]);
        expect(sent['fromId']).toBe(kept.source === 'transfer' ? 2 : null);
      }),
    );
  });

  it('takes an empty figure for none, and an empty maximum for any', () => {
    const sent = bodyOf({ ...EMPTY, warehouseId: 1, leadDays: '', minimum: '', multiple: '', safety: '', maximum: '' });
    expect(sent).toMatchObject({ leadDays: 0, minimum: '0', multiple: '0', safety: '0', maximum: null });
  });

  it('begins with what the item or its group gives where a figure is said here from now on', () => {
    expect(saidAs('leadDays', '7')).toEqual({ leadDays: '7' });
    expect(saidAs('maximum', 'any')).toEqual({ maximum: '' });
    expect(saidAs('demand', 'consume')).toEqual({ demand: 'consume' });
    expect(saidAs('safety', '20')).toMatchObject({ safetyBy: 'quantity', safety: '20' });
  });

  it('has what is wrong with it stand in the field that it is typed in', () => {
    expect(['safetyBy.days', 'safetyBy.level', 'lotSizing.quantity', 'minimum'].map(placeOf)).toEqual([
      'safetyDays',
      'safetyLevel',
      'lotSizing',
      'minimum',
    ]);
  });

  it('says how it sizes its orders, lot-for-lot where nothing else is said', () => {
    const plain = { lotSizing: { kind: 'lotForLot' }, minimum: '0', multiple: '0', maximum: null } as Rule;
    expect(sizingOf(plain)).toBe('lot-for-lot');
    expect(sizingOf({ ...plain, minimum: '24', multiple: '12', maximum: '1200' })).toBe('at least 24, by 12, at most 1,200');
  });
});
