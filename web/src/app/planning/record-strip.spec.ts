import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ItemRecord, RecordEventView } from '@terrace/contract';
import { stripOf } from './record-strip';

const event = (what: RecordEventView['what'], day: string, quantity: string, id: string = what): RecordEventView => ({
  what,
  day,
  given: day,
  quantity,
  id,
  placeBy: null,
});
const record = (events: RecordEventView[]): ItemRecord => ({
  itemId: 8,
  code: 'FRAME',
  description: 'Frame',
  unit: 'each',
  decimals: 1,
  warehouseId: 1,
  warehouse: 'WORKS',
  rule: { source: 'make', leadDays: 3, threshold: '4', sizing: 'lotForLot' },
  today: '2027-03-01',
  horizon: '2027-04-30',
  events,
});

describe('the strip of a record', () => {
  const events = [
    event('stock', '2027-03-01', '10'),
    event('order', '2027-03-05', '-12.5', 'CO-1/1'),
    event('suggestion', '2027-03-05', '6.5', 'FRAME@WORKS#1'),
    event('called', '2027-03-08', '-2', 'HIVE@WORKS#1'),
  ];

  it('tells what is ordered apart from what is suggested', () => {
    const strip = stripOf(record(events));
    expect(strip).toMatchObject({ available: '10', safety: '4', firstShort: null, expectedOut: '12.5' });
    expect(strip.events.map((each) => [each.kind, each.firm, each.balance, each.planned])).toEqual([
      ['supply', false, '10', '16.5'],
      ['demand', true, '-2.5', '4'],
      ['demand', false, '-2.5', '2'],
    ]);
  });

  it('counts what is only forecast with the plan, not with what is ordered', () => {
    const [only] = stripOf(record([event('stock', '2027-03-01', '10'), event('forecast', '2027-03-08', '-4')])).events;
    expect(only).toMatchObject({ firm: false, balance: '10', planned: '6' });
  });

  it('draws a suggestion as somebody types it, and leaves the others', () => {
    const strip = stripOf(record(events), { id: 'FRAME@WORKS#1', quantity: '20', due: '2027-03-10' });
    expect(strip.events.map((each) => `${each.date} ${each.document} ${each.planned}`)).toEqual([
      '2027-03-05 CO-1/1 -2.5',
      '2027-03-08 HIVE@WORKS#1 -4.5',
      '2027-03-10 FRAME@WORKS#1 15.5',
    ]);
    expect(strip.firstShort).toBe('2027-03-05');
    for (const quantity of ['', '0', 'x', '-3'])
      expect(stripOf(record(events), { id: 'FRAME@WORKS#1', quantity, due: '2027-03-10' })).toEqual(stripOf(record(events)));
    expect(stripOf(record(events), { id: 'FRAME@WORKS#1', quantity: '1', due: '2026-01-01' }).events[0]?.date).toBe('2027-03-01');
  });

  it('ends with the sum of everything, without rounding', () => {
    const tenths = fc.array(
      fc.integer({ min: -500, max: 500 }).filter((each) => each !== 0),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(tenths, (values) => {
        const made = values.map((value, index) => event(value > 0 ? 'receipt' : 'order', '2027-03-09', String(value / 10), `${index}` as 'order'));
        const last = stripOf(record(made)).events.at(-1);
        expect(Number(last?.planned ?? 0)).toBe(values.reduce((sum, value) => sum + value, 0) / 10);
      }),
    );
  });
});
