import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, asQuantity } from '../base';
import { availableToPromise, firstPromiseFrom, promiseOfLots, rederive, type PromiseEvent, type PromisedLine } from './index';

const TODAY = '2027-03-01';
const on = (days: number): string => addDays(TODAY, days);
const line = (id: number, wanted: number, quantity: number, promise: number | null): PromisedLine => ({
  id,
  wanted: on(wanted),
  quantity: asQuantity(quantity),
  promise: promise === null ? null : on(promise),
});
const supply = (days: number, quantity: number): PromiseEvent => ({ date: on(days), quantity: asQuantity(quantity) });
const days = (promises: ReadonlyMap<number, string | null>): Record<number, string | null> => Object.fromEntries(promises);
const again = (lines: readonly PromisedLine[], supplies: readonly PromiseEvent[], available = 0) =>
  rederive(lines, [], (demands) => availableToPromise(asQuantity(available), supplies, demands, TODAY), TODAY);

describe('promises derived again', () => {
  it('stay as they are where nothing has changed', () => {
    expect(days(again([line(1, 2, 5, 7), line(2, 3, 5, 9)], [supply(7, 5), supply(9, 5)]))).toEqual({ 1: on(7), 2: on(9) });
  });

  it('come earlier with an earlier supply, but never before the day on which they are wanted, nor in the past', () => {
    expect(days(again([line(1, 2, 5, 7)], [supply(4, 5)]))).toEqual({ 1: on(4) });
    expect(days(again([line(1, 6, 5, 7)], [supply(4, 5)]))).toEqual({ 1: on(6) });
    expect(days(again([line(1, -3, 5, 7)], [], 5))).toEqual({ 1: TODAY });
  });

  it('give way where a supply is lost, the later promise first', () => {
    expect(days(again([line(1, 2, 5, 7), line(2, 2, 5, 9)], [supply(7, 5), supply(20, 5)]))).toEqual({ 1: on(7), 2: on(20) });
    expect(days(again([line(1, 2, 5, 7), line(2, 2, 5, 9)], [supply(7, 5)]))).toEqual({ 1: on(7), 2: null });
  });

  it('are given to what could not be promised, in the order of the wishes', () => {
    expect(days(again([line(1, 4, 5, null), line(2, 2, 5, null)], [supply(10, 5), supply(12, 5)]))[2]).toBe(on(10));
  });

  it('know that stock may not last', () => {
    const lots = [
      { lot: 'A', quantity: asQuantity(8), usableUntil: on(6) },
      { lot: 'B', quantity: asQuantity(7), usableUntil: null },
    ];
    const steps = (demands: readonly PromiseEvent[]) => promiseOfLots(lots, [supply(60, 10)], demands, TODAY);
    const wanted = (quantity: number, day: number) => days(rederive([line(1, day, quantity, day)], [], steps, TODAY))[1];
    expect(wanted(15, 5)).toBe(on(5));
    expect(wanted(15, 45)).toBe(on(60));
    expect(wanted(7, 45)).toBe(on(45));
    expect(firstPromiseFrom(steps([]), asQuantity(15), on(45))).toBe(on(60));
  });

  it('hold: nobody takes what another counts on, and deriving them once more changes nothing', () => {
    const day = fc.integer({ min: -3, max: 30 });
    const some = fc.integer({ min: 1, max: 9 });
    const lines = fc
      .array(fc.tuple(day, some, fc.option(day)), { maxLength: 7 })
      .map((all) => all.map(([wanted, quantity, promise], id) => line(id, wanted, quantity, promise === null ? null : Math.max(0, wanted, promise))));
    const supplies = fc.array(
      fc.tuple(day, some).map(([date, quantity]) => supply(date, quantity)),
      { maxLength: 6 },
    );
    fc.assert(
      fc.property(lines, supplies, fc.nat(12), (all, coming, available) => {
        const found = again(all, coming, available);
        const now = all.map((each) => ({ ...each, promise: found.get(each.id) ?? null }));
        expect(days(again(now, coming, available))).toEqual(days(found));
        for (const each of now) {
          if (each.promise === null) continue;
          expect(each.promise >= each.wanted && each.promise >= TODAY).toBe(true);
          const others = now.flatMap(({ id, promise, quantity }) => (id === each.id || promise === null ? [] : [{ date: promise, quantity }]));
          const steps = availableToPromise(asQuantity(available), coming, others, TODAY);
          expect(firstPromiseFrom(steps, each.quantity, each.promise)).toBe(each.promise);
        }
      }),
    );
  });
});
