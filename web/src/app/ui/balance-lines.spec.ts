import '@angular/compiler';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BalanceStrip } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { LEFT, RIGHT, drawBalance } from './balance-lines';

const TODAY = '2027-03-01';
type Event = BalanceStrip['events'][number];
const WIDTH = 600;
const HEIGHT = 82;

const event = (more: Partial<Event>): Event =>
  ({ date: TODAY, kind: 'demand', quantity: '1', document: 'CO-1', firm: true, balance: '0', planned: '0', ...more }) as Event;
const strip = (events: Event[], more: Partial<BalanceStrip> = {}): BalanceStrip =>
  ({ today: TODAY, through: addDays(TODAY, 70), available: '10', safety: '0', events, ...more }) as BalanceStrip;
/** Numbers of a path by their letter. */
const along = (path: string, letter: string): number[] =>
  [...path.matchAll(new RegExp(`${letter}(-?[\\d.]+)`, 'g'))].map(([, figure]) => Number(figure));

describe('the line of a balance', () => {
  it('steps down with what goes and up with what comes, and ends at the edge', () => {
    const drawn = drawBalance(
      strip([
        event({ date: '2027-03-08', quantity: '12', balance: '-2', planned: '-2' }),
        event({ date: '2027-03-15', kind: 'supply', quantity: '7', document: 'PO-1', balance: '5', planned: '5' }),
      ]),
      WIDTH,
      HEIGHT,
    );
    const [down = 0, up = 0] = along(drawn.balance, 'V');
    expect(down).toBeGreaterThan(up);
    expect(along(drawn.balance, 'H').at(-1)).toBe(WIDTH - RIGHT);
    expect(drawn.planned).toBeNull();
    expect(drawn.marks.map(({ kind, words }) => [kind, words])).toEqual([
      ['demand', 'Mon 8 Mar 2027: −12 CO-1, then −2'],
      ['supply', 'Mon 15 Mar 2027: +7 PO-1, then 5'],
    ]);
    // Short from the 8th to the 15th only.
    expect(along(drawn.short ?? '', 'H')[0]).toBeCloseTo(LEFT + (14 / 70) * (WIDTH - LEFT - RIGHT));
    expect(drawn.levels.map(({ words }) => words)).toEqual(['−2', '10']);
  });

  it('keeps what is suggested apart from what is ordered', () => {
    const drawn = drawBalance(
      strip([
        event({ date: '2027-03-08', quantity: '12', balance: '-2', planned: '-2' }),
        event({ date: '2027-03-08', kind: 'supply', quantity: '20', document: 'make', firm: false, balance: '-2', planned: '18' }),
      ]),
      WIDTH,
      HEIGHT,
    );
    expect(along(drawn.balance, 'V')).toHaveLength(1);
    expect(along(drawn.planned ?? '', 'V')).toHaveLength(2);
    expect(drawn.marks[1]?.words).toContain('(suggested), then 18');
  });

  it('is hatched below its safety level, which is drawn where there is one', () => {
    expect(drawBalance(strip([]), WIDTH, HEIGHT)).toMatchObject({ safety: null, short: null });
    const drawn = drawBalance(strip([], { available: '3', safety: '8' }), WIDTH, HEIGHT);
    expect(drawn.safety).toContain(`H${WIDTH - RIGHT}`);
    expect(along(drawn.short ?? '', 'H')).toEqual([WIDTH - RIGHT, LEFT]);
  });

  it('stays in its box whatever comes and goes, with room between the words', () => {
    const step = fc.record({ after: fc.integer({ min: 0, max: 9 }), change: fc.integer({ min: -5000, max: 5000 }), firm: fc.boolean() });
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 12 }),
        fc.integer({ min: 0, max: 3000 }),
        fc.nat(900),
        fc.integer({ min: 200, max: 1800 }),
        (steps, available, safety, width) => {
          let [day, balance, planned] = [0, available, available];
          const events = steps.map(({ after, change, firm }) => {
            day = Math.min(70, day + after);
            planned += change;
            if (firm) balance += change;
            return event({
              date: addDays(TODAY, day),
              kind: change < 0 ? 'demand' : 'supply',
              quantity: String(Math.abs(change)),
              firm,
              balance: String(balance),
              planned: String(planned),
            });
          });
          const drawn = drawBalance(strip(events, { available: String(available), safety: String(safety) }), width, HEIGHT);
          for (const path of [drawn.balance, drawn.planned ?? '', drawn.zero, drawn.safety ?? '', drawn.short ?? '']) {
            expect(along(path, 'H').every((x) => x >= LEFT - 0.001 && x <= width - RIGHT + 0.001)).toBe(true);
            expect(along(path, 'V').every((y) => y >= 0 && y <= HEIGHT)).toBe(true);
          }
          const xs = along(drawn.balance, 'H');
          expect(xs).toEqual([...xs].sort((one, other) => one - other));
          const gaps = drawn.weeks.slice(1).map((week, index) => week.x - (drawn.weeks[index]?.x ?? 0));
          expect(gaps.every((gap) => gap >= 52 - 0.001)).toBe(true);
        },
      ),
    );
  });
});
