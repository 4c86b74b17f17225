import '@angular/compiler';
import { signal } from '@angular/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type SuggestionView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { FakeClient, storeWith } from '../testing/fake-client';
import { SuggestionRowsStore, waysFor, withCell } from './suggestion-rows.store';

const { planning } = api;
const TODAY = '2027-03-01';
const WAREHOUSES = [
  { id: 1, code: 'WORKS' },
  { id: 2, code: 'DEPOT' },
];
const choice = { preferred: true, price: '2', cost: '100', leadDays: 5, minimum: '0', comes: '2027-03-09', daysLate: 0 };
const suggestion = {
  id: 'WIRE@WORKS#1',
  firmId: null,
  version: null,
  code: 'WIRE',
  kind: 'buy',
  from: null,
  quantity: '50',
  placeBy: '2027-03-04',
  due: '2027-03-09',
  supplierId: 3,
  note: null,
  choices: [
    { ...choice, supplierId: 3, supplier: 'Ironbeck Metalworks' },
    { ...choice, supplierId: 4, supplier: 'Southmere Wax Traders' },
  ],
} as unknown as SuggestionView;
const cell = (field: string, value: string): ReturnType<typeof withCell> => withCell(suggestion, field, value, WAREHOUSES, TODAY);

describe('a cell of a suggestion', () => {
  it('moves the other day with the one that is typed, but places nothing before today', () => {
    expect(cell('due', '2027-03-11')).toMatchObject({ placeBy: '2027-03-06', due: '2027-03-11', quantity: '50' });
    expect(cell('due', '2027-03-03')).toMatchObject({ placeBy: TODAY, due: '2027-03-03' });
    expect(cell('placeBy', '2027-03-02')).toMatchObject({ placeBy: '2027-03-02', due: '2027-03-07' });
  });

  it('takes a supplier by the first letters, and names those who sell the item otherwise', () => {
    expect(cell('supplier', 'south')).toMatchObject({ kind: 'buy', supplierId: 4 });
    expect(() => cell('supplier', 'Harrow')).toThrow('“Harrow” does not sell WIRE: Ironbeck Metalworks, Southmere Wax Traders can.');
    expect(() => cell('supplier', '')).toThrow('does not sell WIRE');
  });

  it('takes another way to supply it, from the warehouses that there are', () => {
    expect(waysFor(1, WAREHOUSES)).toEqual(['buy', 'make', 'transfer from DEPOT']);
    expect(cell('kind', 'make')).toMatchObject({ kind: 'make' });
    expect(cell('kind', 'transfer from DEPOT')).toMatchObject({ kind: 'transfer', fromId: 2 });
    expect(() => cell('kind', 'transfer from MOON')).toThrow('no way to get WIRE');
  });
});

describe('suggestions changed in the list', () => {
  let client: FakeClient;
  let store: InstanceType<typeof SuggestionRowsStore>;
  let number: string;
  const row = { id: suggestion.id, code: 'WIRE', quantity: '50' };
  const type = (field: string, value: string): void => store.type({ row, field, value }, TODAY, (given) => (number = given));
  beforeEach(() => {
    number = '';
    client = new FakeClient();
    client.answer(planning.getSuggestion, () => suggestion);
    client.answer(planning.keepSuggestion, () => ({ id: 3, number: 'FP-1003' }));
    client.answer(planning.changeFirm, () => ({ id: 3, number: 'FP-1003' }));
    store = storeWith(SuggestionRowsStore, client, [{ provide: Choices, useValue: { all: signal({ warehouses: WAREHOUSES }) } }]);
  });

  it('are kept at once, with the figures that the plan has for the rest', () => {
    type('quantity', '60');
    expect(client.asked.at(-1)).toMatchObject({
      path: '/planning/firm',
      call: { body: { name: 'WIRE@WORKS#1', kind: 'buy', quantity: '60', placeBy: '2027-03-04', due: '2027-03-09', supplierId: 3 } },
    });
    expect(number).toBe('FP-1003');
    expect(store.pending().size).toBe(0);
  });

  it('that are kept already are changed by their version', () => {
    client.answer(planning.getSuggestion, () => ({ ...suggestion, firmId: 3, version: 7, note: 'as agreed' }));
    type('due', '2027-03-11');
    expect(client.asked.at(-1)).toMatchObject({ path: '/planning/firm/:id', call: { params: { id: 3 }, body: { version: 7, note: 'as agreed' } } });
  });

  it('that are refused keep what was typed in the cell, and say why', () => {
    client.refuse(planning.keepSuggestion, new Problem('tooFine', 'WIRE is kept in whole metres.', {}, {}));
    type('quantity', '60.123456');
    expect(store.pending().get('WIRE@WORKS#1')).toEqual({ quantity: '60.123456' });
    expect(store.problem()?.message).toBe('WIRE: WIRE is kept in whole metres.');
    expect(number).toBe('');
    type('quantity', '50');
    expect(store.pending().size).toBe(0);
    expect(store.problem()).toBeNull();
  });

  it('are not sent for a supplier who does not sell the item', () => {
    type('supplier', 'Harrow');
    expect(client.asked.map((each) => each.path)).toEqual(['/planning/suggestion']);
    expect(store.problem()?.message).toContain('Ironbeck Metalworks, Southmere Wax Traders can');
    store.forget();
    expect(store.problem()).toBeNull();
  });
});
