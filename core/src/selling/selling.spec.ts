import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ZERO, addDays, asQuantity, parsePrice, parseQuantity, writeAmount, type Quantity } from '../base';
import { availableToPromise, firstPromiseDate, outstanding, shipReadiness, stateOfConfirmed, totalOf } from './index';

const q = (text: string): Quantity => parseQuantity(text, 5);
const today = '2027-03-01';

describe('available to promise', () => {
  it('looks ahead: what a later order counts on is not promised away', () => {
    const steps = availableToPromise(q('10'), [], [{ date: '2027-03-20', quantity: q('7') }], today);
    expect(steps).toEqual([{ date: today, quantity: q('3') }]);
    expect(firstPromiseDate(steps, q('4'))).toBeNull();
  });

  it('gives the first date at which stock and receipts reach', () => {
    const steps = availableToPromise(
      q('4'),
      [
        { date: '2027-03-09', quantity: q('10') },
        { date: '2027-03-20', quantity: q('5') },
      ],
      [{ date: '2027-03-12', quantity: q('6') }],
      today,
    );
    expect(steps).toEqual([
      { date: today, quantity: q('4') },
      { date: '2027-03-09', quantity: q('8') },
      { date: '2027-03-20', quantity: q('13') },
    ]);
    expect(firstPromiseDate(steps, q('8'))).toBe('2027-03-09');
    expect(firstPromiseDate(steps, q('9'))).toBe('2027-03-20');
  });

  it('counts an overdue receipt from tomorrow and overdue demand as of today', () => {
    const steps = availableToPromise(q('1'), [{ date: '2027-02-01', quantity: q('5') }], [{ date: '2027-02-10', quantity: q('1') }], today);
    expect(steps).toEqual([
      { date: today, quantity: ZERO },
      { date: '2027-03-02', quantity: q('5') },
    ]);
  });

  it('gives nobody what another has reserved, however much later that one goes', () => {
    const taken = { date: '2027-03-20', quantity: q('5'), reserved: q('5') };
    expect(availableToPromise(q('5'), [{ date: '2027-03-10', quantity: q('5') }], [taken], today)).toEqual([
      { date: today, quantity: ZERO },
      { date: '2027-03-10', quantity: q('5') },
    ]);
    // Of what is reserved in part, the rest is taken on its day.
    expect(availableToPromise(q('5'), [{ date: '2027-03-10', quantity: q('5') }], [{ ...taken, reserved: q('3') }], today)).toEqual([
      { date: today, quantity: q('2') },
      { date: '2027-03-10', quantity: q('5') },
    ]);
  });

  it('never offers more with a reservation than without, nor now more than is free', () => {
    const day = fc.integer({ min: 0, max: 30 });
    const some = fc.integer({ min: 1, max: 20 });
    const demands = fc.array(fc.record({ day, quantity: some, part: fc.double({ min: 0, max: 1, noNaN: true }) }), { maxLength: 8 });
    const supplies = fc.array(fc.record({ day, quantity: some }), { maxLength: 8 });
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60 }), supplies, demands, (available, coming, wanted) => {
        const dated = coming.map((each) => ({ date: addDays(today, each.day), quantity: asQuantity(each.quantity) }));
        let left = available;
        const held = wanted.map((each) => {
          const reserved = Math.min(left, Math.floor(each.quantity * each.part));
          left -= reserved;
          return { date: addDays(today, each.day), quantity: asQuantity(each.quantity), reserved: asQuantity(reserved) };
        });
        const plain = held.map(({ date, quantity }) => ({ date, quantity }));
        const [with_, without] = [held, plain].map((all) => availableToPromise(asQuantity(available), dated, all, today));
        const at = (steps: typeof with_, date: string): number => steps?.findLast((step) => step.date <= date)?.quantity ?? 0;
        for (let ahead = 0; ahead <= 31; ahead += 1) expect(at(with_, addDays(today, ahead))).toBeLessThanOrEqual(at(without, addDays(today, ahead)));
        const comesToday = dated.filter(({ date }) => date === today).reduce((sum, { quantity }) => sum + quantity, 0);
        expect(at(with_, today)).toBeLessThanOrEqual(left + comesToday);
      }),
    );
  });

  it('never breaks a promise: taking what it offers leaves every later day at or above nothing', () => {
    const events = fc.array(fc.record({ day: fc.integer({ min: 0, max: 30 }), quantity: fc.integer({ min: 1, max: 20 }) }), { maxLength: 12 });
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 50 }), events, events, (available, supplies, demands) => {
        const dated = (rows: readonly { day: number; quantity: number }[]) =>
          rows.map((row) => ({ date: addDays(today, row.day), quantity: asQuantity(row.quantity) }));
        const steps = availableToPromise(asQuantity(available), dated(supplies), dated(demands), today);
        const balanceAt = (day: number): number =>
          available +
          supplies.filter((row) => row.day <= day).reduce((sum, row) => sum + row.quantity, 0) -
          demands.filter((row) => row.day <= day).reduce((sum, row) => sum + row.quantity, 0);
        for (let day = 0; day <= 31; day += 1) {
          const offered = steps.filter((step) => step.date <= addDays(today, day)).at(-1)?.quantity ?? 0;
          const least = Math.min(...Array.from({ length: 32 - day }, (_, index) => balanceAt(day + index)));
          expect(offered).toBe(Math.max(0, least));
        }
      }),
    );
  });
});

describe('orders', () => {
  const line = (quantity: string, shipped: string, invoiced = '0', cancelled = '0') => ({
    quantity: q(quantity),
    shipped: q(shipped),
    invoiced: q(invoiced),
    cancelled: q(cancelled),
  });

  it('knows its state from its lines and invoices', () => {
    expect(stateOfConfirmed([line('5', '0')], true)).toBe('confirmed');
    expect(stateOfConfirmed([line('5', '2'), line('1', '1')], true)).toBe('partShipped');
    expect(stateOfConfirmed([line('5', '5')], true)).toBe('shipped');
    expect(stateOfConfirmed([line('5', '5', '5')], false)).toBe('invoiced');
    expect(stateOfConfirmed([line('5', '5', '5')], true)).toBe('closed');
    expect(stateOfConfirmed([line('5', '3', '3', '2')], true)).toBe('closed');
    expect(stateOfConfirmed([line('5', '0', '0', '5')], true)).toBe('cancelled');
  });

  it('can ship all, a part or nothing', () => {
    const open = (wanted: string, reserved: string) => ({ outstanding: q(wanted), reserved: q(reserved) });
    expect(shipReadiness([open('5', '5'), open('0', '0')])).toBe('all');
    expect(shipReadiness([open('5', '5'), open('2', '0')])).toBe('part');
    expect(shipReadiness([open('5', '0')])).toBe('nothing');
    // Where only services are left nothing is waited for.
    expect(shipReadiness([])).toBe('all');
    expect(outstanding(line('5', '2', '0', '1'))).toBe(q('2'));
  });

  it('rounds each line once and the tax on the sum', () => {
    const totals = totalOf(
      [
        { quantity: q('3'), price: parsePrice('0.335'), discount: 0 },
        { quantity: q('1'), price: parsePrice('10'), discount: 1000 },
      ],
      2000,
    );
    expect([totals.net, totals.tax, totals.total].map(writeAmount)).toEqual(['10.01', '2.00', '12.01']);
  });
});
