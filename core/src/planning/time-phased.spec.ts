import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays } from '../base';
import { timePhased, type PhasedEvent } from './time-phased';

const TODAY = '2027-03-03';
const HORIZON = '2027-05-10';
const event = (what: PhasedEvent['what'], offset: number, quantity: string, placeBy: number | null = null): PhasedEvent => ({
  what,
  day: addDays(TODAY, offset),
  quantity,
  placeBy: placeBy === null ? null : addDays(TODAY, placeBy),
});

describe('a plan by period', () => {
  it('puts each figure where it belongs', () => {
    const { opening, phases } = timePhased(
      [event('stock', 0, '12.5'), event('order', 1, '-20'), event('suggestion', 6, '10', 2), event('receipt', 6, '4'), event('leaves', 30, '-1')],
      1,
      TODAY,
      HORIZON,
      'week',
    );
    expect(opening).toBe('12.5');
    expect(phases.slice(0, 2)).toEqual([
      { start: '2027-03-03', wanted: '20', ordered: '0', suggested: '0', balance: '-7.5', toPlace: '10' },
      { start: '2027-03-08', wanted: '0', ordered: '4', suggested: '10', balance: '6.5', toPlace: '0' },
    ]);
    expect(phases.map((each) => each.start).slice(-2)).toEqual(['2027-05-03', '2027-05-10']);
    expect(timePhased([], 0, TODAY, HORIZON, 'month').phases.map((each) => each.start)).toEqual(['2027-03-03', '2027-04-01', '2027-05-01']);
  });

  it('ends with the same balance by day, week and month, and loses nothing', () => {
    const events = fc.array(
      fc.record({
        what: fc.constantFrom('stock', 'receipt', 'suggestion', 'order', 'called', 'forecast'),
        offset: fc.integer({ min: 0, max: 68 }),
        quantity: fc.integer({ min: 1, max: 999 }),
      }),
    );
    fc.assert(
      fc.property(events, (rows) => {
        const made = rows.map(({ what, offset, quantity }) =>
          event(what as PhasedEvent['what'], offset, String(['order', 'called', 'forecast'].includes(what) ? -quantity : quantity)),
        );
        const last = (period: 'day' | 'week' | 'month'): string | undefined => timePhased(made, 0, TODAY, HORIZON, period).phases.at(-1)?.balance;
        const all = String(made.reduce((sum, each) => sum + Number(each.quantity), 0));
        expect([last('day'), last('week'), last('month')]).toEqual([all, all, all]);
      }),
    );
  });
});
