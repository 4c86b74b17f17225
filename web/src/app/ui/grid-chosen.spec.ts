import { describe, expect, it } from 'vitest';
import { sumsOf } from './grid-chosen';
import type { GridColumn, GridRow } from './grid-cells';

const columns: readonly GridColumn[] = [
  { field: 'number', title: 'Order', kind: 'code' },
  { field: 'total', title: 'Total', kind: 'figure', money: true },
  { field: 'theirs', title: 'Their total', kind: 'figure', currency: 'currency' },
  { field: 'quantity', title: 'Quantity', kind: 'figure', unit: 'unit' },
];
const row = (id: number, total: string, theirs: string, currency: string): GridRow => ({
  id,
  number: `CO-${id}`,
  total,
  theirs,
  currency,
  quantity: '3',
  unit: 'each',
});

describe('the sums of what is chosen', () => {
  it('are in the books’ currency, and in theirs where all are in one', () => {
    const pounds = [row(1, '12.50', '10.00', 'GBP'), row(2, '1250.00', '1000.00', 'GBP')];
    expect(sumsOf(columns, pounds)).toBe('2 chosen · Total 1,262.50 · Their total 1,010.00 GBP');
    expect(sumsOf(columns, [...pounds, row(3, '7.50', '7.50', 'EUR')])).toBe('3 chosen · Total 1,270.00');
  });
});
