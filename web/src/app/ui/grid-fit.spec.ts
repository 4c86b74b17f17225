import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { GridColumn } from './grid-cells';
import { givingWay, leastWidth } from './grid-fit';

const column = (field: string, more: Partial<GridColumn> = {}): GridColumn => ({ field, title: field, kind: 'text', width: 100, ...more });
const all = (): boolean => true;

describe('columns that give way', () => {
  const columns = [column('number'), column('customer', { spare: 1 }), column('plan', { spare: 2 }), column('state', { spare: 1 }), column('total')];

  it('are none where all fit', () => {
    expect([...givingWay(columns, 500, all)]).toEqual([]);
  });

  it('are those that can be spared most, the last of them first', () => {
    expect([...givingWay(columns, 400, all)]).toEqual(['plan']);
    expect([...givingWay(columns, 300, all)]).toEqual(['plan', 'state']);
    expect([...givingWay(columns, 20, all)]).toEqual(['plan', 'state', 'customer']);
  });

  it('stay where somebody asked for them, and are not counted where nobody wants them', () => {
    expect([...givingWay(columns, 400, all, ({ field }) => field === 'plan')]).toEqual(['state']);
    expect([...givingWay(columns, 400, ({ field }) => field !== 'total')]).toEqual([]);
  });

  it('leave what fits, and are no more than it takes', () => {
    const any = fc.array(
      fc.record({ width: fc.integer({ min: 40, max: 200 }), spare: fc.option(fc.integer({ min: 1, max: 3 }), { nil: undefined }) }),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(any, fc.integer({ min: 0, max: 1500 }), (given, room) => {
        const list = given.map(({ width, spare }, index) => column(String(index), spare === undefined ? { width } : { width, spare }));
        const gone = givingWay(list, room, all);
        const width = (of: readonly GridColumn[]): number => of.reduce((sum, each) => sum + leastWidth(each), 0);
        const left = list.filter(({ field }) => !gone.has(field));
        if (list.some(({ field, spare }) => spare !== undefined && !gone.has(field))) expect(width(left)).toBeLessThanOrEqual(room);
        const last = [...gone].at(-1);
        if (last !== undefined) expect(width([...left, ...list.filter(({ field }) => field === last)])).toBeGreaterThan(room);
      }),
    );
  });
});
