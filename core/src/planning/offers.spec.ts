import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { WorkingCalendar, asPrice, dateOf, dayOf } from '../base';
import { deliveredBy, ordered, supply, type SizedOffer } from './offers';

const ONE = 100_000;
const calendar = new WorkingCalendar({ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] });
const TODAY = dayOf('2027-03-01');
interface Named extends SizedOffer {
  readonly name: string;
}
const offer = (name: string, leadDays: number, price: number, more: Partial<SizedOffer> = {}): Named => ({
  name,
  preferred: false,
  leadDays,
  minimum: 0,
  multiple: 0,
  prices: [{ from: 0, price: asPrice(price) }],
  ...more,
});
const wanted = (needed: string, due: string, quantity = 10 * ONE) => ({
  quantity,
  neededBy: dayOf(needed),
  placeBy: TODAY,
  due: dayOf(due),
  daysLate: Math.max(0, dayOf(due) - dayOf(needed)),
});
const usual = offer('usual', 10, 100, { preferred: true });

describe('who delivers it', () => {
  it('is the preferred supplier, as it is planned, as long as that is in time', () => {
    const found = supply([usual, offer('fast', 1, 50)], wanted('2027-03-15', '2027-03-15'), calendar, TODAY);
    expect([found?.offer.name, found && dateOf(found.due), found?.insteadOf]).toEqual(['usual', '2027-03-15', null]);
  });

  it('is the fastest where that is late, with the dates of their lead time', () => {
    const found = supply([usual, offer('fast', 2, 150), offer('slower', 4, 120)], wanted('2027-03-03', '2027-03-15'), calendar, TODAY);
    expect(found).toMatchObject({ offer: { name: 'fast' }, daysLate: 0, insteadOf: { offer: { name: 'usual' }, daysLate: 12 } });
    expect(found && [dateOf(found.placeBy), dateOf(found.due)]).toEqual(['2027-03-01', '2027-03-03']);
  });

  it('is the cheapest of those that are equally fast, at the quantity that each delivers', () => {
    const bulky = offer('bulky', 2, 10, { minimum: 1000 * ONE });
    const found = supply([usual, bulky, offer('fast', 2, 150)], wanted('2027-03-03', '2027-03-15'), calendar, TODAY);
    expect(found?.offer.name).toBe('fast');
  });

  it('stays the usual one where nobody is sooner, and nobody where nobody offers it', () => {
    expect(supply([usual, offer('slow', 20, 10)], wanted('2027-03-03', '2027-03-15'), calendar, TODAY)?.offer.name).toBe('usual');
    expect(supply([], wanted('2027-03-03', '2027-03-15'), calendar, TODAY)).toBeNull();
  });

  it('delivers at least the minimum order, in whole multiples, and never less than is wanted', () => {
    const whole = fc.integer({ min: 0, max: 50 }).map((each) => each * ONE);
    fc.assert(
      fc.property(whole, whole, fc.integer({ min: 1, max: 200 }), (minimum, multiple, pieces) => {
        const quantity = pieces * ONE;
        const orders = ordered({ minimum, multiple }, quantity);
        expect(orders).toBeGreaterThanOrEqual(Math.max(minimum, quantity));
        if (multiple > 0) expect([orders % multiple, orders - multiple < Math.max(minimum, quantity)]).toEqual([0, true]);
        else expect(orders).toBe(Math.max(minimum, quantity));
      }),
    );
  });

  it('delivers as late as will do and on a working day, and is late only where the lead time does not fit', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 15 }), fc.integer({ min: -5, max: 40 }), (leadDays, ahead) => {
        const neededBy = TODAY + ahead;
        const { placeBy, due, daysLate } = deliveredBy({ leadDays }, neededBy, calendar, TODAY);
        expect(calendar.isWorkday(due) && placeBy >= TODAY && placeBy <= due).toBe(true);
        expect(calendar.ahead(placeBy, leadDays) <= due || leadDays === 0).toBe(true);
        expect(daysLate).toBe(Math.max(0, due - neededBy));
        if (daysLate === 0) expect(neededBy - due).toBeLessThan(3);
      }),
    );
  });
});
