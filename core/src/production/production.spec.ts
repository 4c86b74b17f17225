import { describe, expect, it } from 'vitest';
import { parseQuantity, writeQuantity } from '../base';
import { componentQuantity, findCycle, isLineValid } from './index';

describe('components', () => {
  it('take scrap into account and round up to the unit', () => {
    const need = (parent: string, quantity: string, scrap: string, decimals: number): string =>
      writeQuantity(componentQuantity(parseQuantity(parent, 0), { quantity, scrap }, decimals));
    expect(need('24', '1.85', '0.08', 2)).toBe('47.96');
    expect(need('80', '2.4', '0.05', 2)).toBe('201.6');
    expect(need('3', '0.25', '0.04', 0)).toBe('1');
    expect(need('1', '0.072', '0.03', 3)).toBe('0.075');
    expect(() => componentQuantity(parseQuantity('1', 0), { quantity: 'two', scrap: '0' }, 0)).toThrow(/not a quantity/);
  });

  it('are valid within their dates, both included', () => {
    const line = { validFrom: '2027-03-01', validTo: '2027-03-31' };
    expect(['2027-02-28', '2027-03-01', '2027-03-31', '2027-04-01'].map((date) => isLineValid(line, date))).toEqual([false, true, true, false]);
    expect(isLineValid({ validFrom: null, validTo: null }, '2027-01-01')).toBe(true);
  });

  it('name the path on which an item would lead back to itself', () => {
    const boms: Record<string, string[]> = { BOX: ['PLANK'], PLANK: ['HIVE'] };
    const linesOf = (item: string): string[] => boms[item] ?? [];
    expect(findCycle('HIVE', 'BOX', linesOf)).toEqual(['HIVE', 'BOX', 'PLANK', 'HIVE']);
    expect(findCycle('HIVE', 'HIVE', linesOf)).toEqual(['HIVE', 'HIVE']);
    expect(findCycle('ROOF', 'BOX', linesOf)).toBeNull();
  });
});
