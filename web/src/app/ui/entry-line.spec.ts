import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import type { ItemChoice } from '@terrace/contract';
import { amountOf, detailWords, freshLine, packWords, scannedQuantity } from './entry-line';

const jar: ItemChoice = {
  id: 1,
  code: 'JAR-500',
  description: 'Honey jar',
  unit: 'each',
  decimals: 0,
  sellPrice: '0.62',
  kind: 'stocked',
  packs: [
    { code: 'case', factor: '72' },
    { code: 'pallet', factor: '1728' },
  ],
  buyUnit: 'case',
  sellUnit: null,
  scanned: null,
};
const line = (more: object) => ({ ...freshLine(), item: jar, ...more });

describe('a line that is being entered', () => {
  it.each([
    ['720', '= 10 case'],
    ['100', 'case of 72'],
    ['', 'case of 72'],
    ['ten', 'case of 72'],
    ['0', 'case of 72'],
    ['0.0000001', 'case of 72'],
    ['7200000000000000000000', '= 100000000000000000000 case'],
  ])('says what %s is in the pack it is bought in', (quantity, words) => {
    expect(packWords({ item: jar, quantity }, true)).toBe(words);
  });
  it('says nothing of packs where it is sold by the piece, or no item is chosen', () => {
    expect(packWords({ item: jar, quantity: '72' }, false)).toBe('');
    expect(packWords({ item: null, quantity: '72' }, true)).toBe('');
  });
  it('takes one pack for the scanned barcode of a pack, but never over a quantity that was typed', () => {
    expect(scannedQuantity({ ...jar, scanned: 'case' }, '')).toEqual({ quantity: '72' });
    expect(scannedQuantity({ ...jar, scanned: 'case' }, '5')).toEqual({});
    expect(scannedQuantity(jar, '')).toEqual({});
  });
  it('is worth quantity times price less discount, rounded once, and nothing while it can’t be told', () => {
    expect(amountOf(line({ quantity: '7', price: '0.335', discount: '10' }))).toBe('2.11');
    expect(amountOf(line({ quantity: 'x', price: '1' }))).toBe('');
    expect(amountOf(line({ quantity: '1', price: '' }))).toBe('');
    expect(amountOf({ ...freshLine(), quantity: '1', price: '1' })).toBe('');
  });

  it('costs what of it is not free of charge, and says in a few words what else it says', () => {
    const item = { id: 1, packs: [] } as unknown as ItemChoice;
    const line = freshLine({
      item,
      quantity: '11',
      price: '2.00',
      free: '1',
      shipTo: 'Yard 2\nStowbeck',
      carrier: 'Fen Parcels',
      direct: true,
      note: 'blue',
    });
    expect(amountOf(line)).toBe('20.00');
    expect(amountOf({ ...line, free: '99' })).toBe('0.00');
    expect(detailWords(line)).toBe('1 free of charge · to Yard 2, Stowbeck · by Fen Parcels · the supplier ships it · blue');
    expect(detailWords(freshLine({ free: '0' }))).toBe('');
  });
});
