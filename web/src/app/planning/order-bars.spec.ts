import '@angular/compiler';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { OrderChart, PegView } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { NARROWEST, TOP, drawLine, roomFor } from './order-bars';

const TODAY = '2027-03-01';
type Line = OrderChart['lines'][number];

function peg(code: string, more: Partial<PegView> = {}): PegView {
  return {
    kind: 'suggestion',
    id: `${code}@WORKS#1`,
    itemId: code.length,
    code,
    description: `${code} for hives`,
    unit: 'each',
    warehouse: 'WORKS',
    source: 'make',
    quantity: '4',
    start: '2027-03-03',
    due: '2027-03-08',
    ready: '2027-03-08',
    wanted: '2027-03-08',
    below: [],
    ...more,
  };
}

const line = (served: PegView[], more: Partial<Line> = {}): Line => ({
  id: 'CO-1/1',
  code: 'HIVE',
  description: 'Hive',
  quantity: '4',
  unit: 'each',
  wanted: '2027-03-12',
  ready: '2027-03-08',
  served,
  ...more,
});

describe('the chart of an order line', () => {
  it('has a bar for each thing, under what waits for it, and says what it is', () => {
    const served = [
      peg('HIVE', {
        below: [
          peg('ROOF', { kind: 'receipt', id: 'PO-7', source: 'buy', start: TODAY, due: '2027-03-03', ready: '2027-03-03' }),
          peg('NAIL', { kind: 'stock', id: 'stock', source: null, start: TODAY, due: TODAY, ready: TODAY, quantity: '1200' }),
        ],
      }),
    ];
    const { bars, height } = drawLine(line(served), TODAY, 400);
    expect(bars.map(({ label, detail, kind, indent }) => [label, detail, kind, indent])).toEqual([
      ['HIVE', 'make 4 each', 'suggested', 0],
      ['ROOF', '4 each by PO-7', 'ordered', 14],
      ['NAIL', '1,200 each in stock', 'stock', 14],
    ]);
    expect(bars.map(({ y }) => y)).toEqual([TOP, TOP + 26, TOP + 52]);
    expect(height).toBeGreaterThan(TOP + 52 + 12);
    expect(bars[0]?.words).toBe('HIVE HIVE for hives: make 4 each, from Wed 3 Mar 2027, there Mon 8 Mar 2027, needed Mon 8 Mar 2027');
  });

  it('says whether the day can be kept, and how late what is', () => {
    const kept = drawLine(line([peg('HIVE')]), TODAY, 400);
    expect([kept.late, kept.verdict]).toEqual([false, 'Wanted on Fri 12 Mar 2027: can be kept.']);
    const late = drawLine(line([peg('HIVE', { ready: '2027-03-22' })], { ready: '2027-03-22' }), TODAY, 400);
    expect([late.late, late.verdict]).toEqual([true, 'Wanted on Fri 12 Mar 2027, can be ready on Mon 22 Mar 2027.']);
    expect(late.bars[0]?.lateX).toBe((late.bars[0]?.x ?? 0) + (late.bars[0]?.width ?? 0));
    expect(late.bars[0]?.lateWidth).toBeGreaterThan(100);
    const never = drawLine(line([peg('HIVE', { ready: null })], { ready: null }), TODAY, 400);
    expect([never.late, never.verdict]).toEqual([true, expect.stringContaining('no supply at all')]);
    expect([never.bars[0]?.lateWidth, never.bars[0]?.words]).toEqual([0, expect.stringContaining('without all that it needs')]);
  });

  it('stays within its width whatever it shows, its weeks in order and apart', () => {
    const days = fc.integer({ min: -20, max: 200 }).map((day) => addDays(TODAY, day));
    const pegs = fc.array(
      fc.record({ start: days, length: fc.nat(40), late: fc.option(fc.nat(60)), stock: fc.boolean() }).map(({ start, length, late, stock }) =>
        peg('PART', {
          kind: stock ? 'stock' : 'suggestion',
          start,
          due: addDays(start, length),
          ready: late === null ? null : addDays(start, length + late),
        }),
      ),
      { maxLength: 6 },
    );
    fc.assert(
      fc.property(pegs, days, fc.integer({ min: 180, max: 1600 }), (below, wanted, width) => {
        const drawn = drawLine(line([peg('HIVE', { below })], { wanted }), TODAY, width);
        const inside = (at: number): boolean => at >= -0.001 && at <= width + 0.001;
        expect(drawn.bars).toHaveLength(below.length + 1);
        for (const bar of drawn.bars) {
          expect([bar.x, bar.lateX, bar.lateX + bar.lateWidth].every(inside)).toBe(true);
          expect(bar.width).toBeGreaterThanOrEqual(3);
        }
        expect(inside(drawn.wantedX)).toBe(true);
        const gaps = drawn.weeks.slice(1).map((week, index) => week.x - (drawn.weeks[index]?.x ?? 0));
        expect(gaps.every((gap) => gap > 30)).toBe(true);
      }),
    );
  });
});

describe('the room of the chart', () => {
  it('is given to the bars, and the names are shorter where there is little', () => {
    expect(roomFor(1200)).toEqual({ names: 230, bars: 890 });
    expect(roomFor(500)).toEqual({ names: 170, bars: 250 });
    expect(roomFor(300)).toEqual({ names: 170, bars: 180 });
    expect(roomFor(NARROWEST).bars).toBeGreaterThanOrEqual(180);
  });
});
