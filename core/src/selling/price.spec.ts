import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asPrice, asQuantity, asRate, fromBooks, parsePrice, parseRate, rateOn, toBooks } from '../base';
import {
  PRICE_WAYS,
  ROUNDINGS,
  assertCeiling,
  explainPrice,
  givenAway,
  marginOf,
  roundPrice,
  type PriceEntry,
  type PriceList,
  type PriceQuestion,
} from '.';

const list = (given: Partial<PriceList> = {}): PriceList => ({
  id: 1,
  code: 'GENERAL',
  name: 'General prices',
  currency: 'EUR',
  audience: 'everybody',
  validFrom: null,
  validTo: null,
  rounding: 'none',
  ...given,
});
let next = 1;
const entry = (given: Partial<PriceEntry> & { value?: number } = {}): PriceEntry => ({
  id: next++,
  list: list(),
  target: 'item',
  way: 'amount',
  validFrom: null,
  validTo: null,
  breaks: [{ from: asQuantity(0), value: given.value ?? 10_000_000 }],
  ...given,
});
const question: PriceQuestion = {
  quantity: asQuantity(500_000),
  day: '2027-03-01',
  unit: 'each',
  books: 'EUR',
  listPrice: parsePrice('20'),
  cost: parsePrice('8'),
  standardCost: parsePrice('9'),
  rates: new Map([['GBP', parseRate('1.25')]]),
};

describe('the price of a line', () => {
  it('is the item’s own list price where no list says anything', () => {
    expect(explainPrice(question, [])).toMatchObject({ price: 20_000_000, entry: null, margin: 6000 });
  });
  it.each([
    ['amount', 12_500_000, '12.5', 'states 12.50 EUR'],
    ['offList', 1500, '17', '15 % off the list price of 20.00 EUR'],
    ['overCost', 5000, '12', '50 % on top of the current cost of 8.00 EUR'],
    ['overStandard', 5000, '13.5', 'standard cost of 9.00 EUR'],
    ['marginOnCost', 6000, '20', 'A margin of 60 % on the current cost of 8.00 EUR makes 20.00 EUR'],
  ] as const)('can be stated by %s', (way, value, price, words) => {
    const answer = explainPrice(question, [entry({ way, value })]);
    expect(answer.price).toBe(parsePrice(price));
    expect(answer.steps.join(' ')).toContain(words);
  });
  it('is the most specific: the customer’s before the group’s before everybody’s, an item’s before a group’s', () => {
    const general = entry({ value: 1_000_000 });
    const group = entry({ value: 2_000_000, list: list({ audience: 'group', code: 'CENTRES' }) });
    const own = entry({ value: 3_000_000, list: list({ audience: 'customer', code: 'CONTRACT' }), target: 'everything' });
    expect(explainPrice(question, [general, group, own]).price).toBe(3_000_000);
    expect(explainPrice(question, [general, group]).price).toBe(2_000_000);
    expect(explainPrice(question, [general, entry({ value: 9, target: 'group' })]).price).toBe(1_000_000);
  });
  it('is of the item’s own group before one above it, and says which', () => {
    const above = entry({ value: 1_000_000, target: 'group', group: { code: 'ALL', above: 2 }, validFrom: '2027-02-01' });
    const own = entry({ value: 2_000_000, target: 'group', group: { code: 'CANDLES', above: 0 } });
    expect(explainPrice(question, [above, own])).toMatchObject({ price: 2_000_000, entry: { id: own.id } });
    expect(explainPrice(question, [above, own]).steps[0]).toContain('a price for its item group CANDLES');
    expect(explainPrice(question, [above]).steps[0]).toContain('a price for item group ALL, above its own');
    expect(explainPrice(question, [entry({ target: 'everything' })]).steps[0]).toContain('a price for every item');
  });
  it('then the latest start; what has not begun or has ended does not count', () => {
    const old = entry({ value: 1_000_000, validFrom: '2027-01-01' });
    const late = entry({ value: 2_000_000, validFrom: '2027-02-01' });
    const future = entry({ value: 3_000_000, validFrom: '2027-03-02' });
    const past = entry({ value: 4_000_000, list: list({ validTo: '2027-02-28' }) });
    expect(explainPrice(question, [old, late, future, past]).price).toBe(2_000_000);
  });
  it('takes the highest break reached; an entry whose first break is not reached does not count', () => {
    const broken = entry({
      breaks: [
        { from: asQuantity(0), value: 10_000_000 },
        { from: asQuantity(500_000), value: 9_000_000 },
        { from: asQuantity(1_000_000), value: 8_000_000 },
      ],
    });
    const answer = explainPrice(question, [broken]);
    expect(answer.price).toBe(9_000_000);
    expect(answer.steps.join(' ')).toContain('5 each reaches the break from 5 on');
    expect(explainPrice(question, [entry({ breaks: [{ from: asQuantity(600_000), value: 1 }] })]).entry).toBeNull();
  });
  it('passes over a rule on a cost that is not known, and says so', () => {
    const answer = explainPrice({ ...question, cost: asPrice(0) }, [
      entry({ way: 'overCost', value: 5000 }),
      entry({ value: 7_000_000, target: 'everything' }),
    ]);
    expect(answer.price).toBe(7_000_000);
    expect(answer.steps[1]).toContain('passed over');
    expect(answer.margin).toBeNull();
  });
  it('is converted at the rate of the day, both ways', () => {
    const pounds = list({ currency: 'GBP' });
    expect(explainPrice(question, [entry({ list: pounds, value: 8_000_000 })])).toMatchObject({
      stated: 8_000_000,
      currency: 'GBP',
      price: 10_000_000,
    });
    expect(explainPrice(question, [entry({ list: pounds, way: 'offList', value: 5000 })])).toMatchObject({ stated: 8_000_000, price: 10_000_000 });
    expect(() => explainPrice({ ...question, rates: new Map() }, [entry({ list: pounds })])).toThrow('no exchange rate');
  });

  it('is in the currency that is wanted: as a list in that states it, else at the rate of the day', () => {
    const pounds = list({ currency: 'GBP' });
    const asked = { ...question, wanted: 'GBP' };
    expect(explainPrice(asked, [entry({ list: pounds, value: 8_000_000 })])).toMatchObject({ wanted: 8_000_000, price: 10_000_000 });
    const ours = explainPrice(asked, [entry({ value: 10_000_000 })]);
    expect(ours).toMatchObject({ price: 10_000_000, wanted: 8_000_000 });
    expect(ours.steps.at(-1)).toBe('In GBP that is 8.00 at the rate of the day.');
    expect(explainPrice(asked, [])).toMatchObject({ price: 20_000_000, wanted: 16_000_000, entry: null });
    expect(explainPrice(question, [])).toMatchObject({ wanted: 20_000_000 });
    expect(() => explainPrice({ ...asked, rates: new Map() }, [])).toThrow('no exchange rate of GBP');
  });
  it('is rounded where it is computed, and left as it is written where it is an amount', () => {
    const fives = list({ rounding: '0.05' });
    expect(explainPrice(question, [entry({ list: fives, value: 490_000 })]).price).toBe(490_000);
    expect(explainPrice(question, [entry({ list: fives, way: 'offList', value: 333 })])).toMatchObject({ price: 19_350_000 });
    expect(explainPrice(question, [entry({ list: list({ currency: 'GBP' }), value: 1_110_000 })]).price).toBe(1_390_000);
  });
  it('never depends on the order in which entries are given, and always explains itself', () => {
    const some = fc.record({
      way: fc.constantFrom(...PRICE_WAYS),
      target: fc.constantFrom('item' as const, 'group' as const, 'everything' as const),
      validFrom: fc.constantFrom(null, '2027-01-01', '2027-02-01', '2027-04-01'),
      audience: fc.constantFrom('customer' as const, 'group' as const, 'everybody' as const),
      rounding: fc.constantFrom(...ROUNDINGS),
      value: fc.integer({ min: 1, max: 9000 }),
    });
    fc.assert(
      fc.property(fc.array(some, { maxLength: 6 }), (given) => {
        const entries = given.map(({ audience, rounding, ...each }, index) => entry({ ...each, id: index, list: list({ audience, rounding }) }));
        const answer = explainPrice(question, entries);
        expect(explainPrice(question, [...entries].reverse())).toEqual(answer);
        expect(answer.steps.length).toBeGreaterThan(0);
        expect(answer.price).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('rounding of prices', () => {
  it.each([
    ['12.344', '0.01', '12.34'],
    ['12.345', '0.01', '12.35'],
    ['12.33', '0.05', '12.35'],
    ['12.32', '0.05', '12.3'],
    ['12.32', '.99', '11.99'],
    ['12.60', '.99', '12.99'],
    ['0.20', '.99', '0.99'],
    ['12.32', '.95', '11.95'],
    ['12.5', '1.00', '13'],
    ['12.345678', 'none', '12.345678'],
  ] as const)('%s by %s is %s', (price, rule, rounded) => expect(roundPrice(parsePrice(price), rule)).toBe(parsePrice(rounded)));
  it('is settled: rounding twice changes nothing', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10 ** 10 }), fc.constantFrom(...ROUNDINGS), (price, rule) => {
        const once = roundPrice(asPrice(price), rule);
        expect(roundPrice(once, rule)).toBe(once);
      }),
    );
  });
});

describe('a ceiling for discounts', () => {
  it('counts what is given away by discount and by a lower price alike', () => {
    expect(givenAway(parsePrice('20'), parsePrice('20'), 1000)).toBe(1000);
    expect(givenAway(parsePrice('20'), parsePrice('16'), 0)).toBe(2000);
    expect(givenAway(parsePrice('20'), parsePrice('16'), 1000)).toBe(2800);
    expect(givenAway(parsePrice('20'), parsePrice('25'), 0)).toBe(0);
  });
  it('refuses beyond it, unless somebody who may gives a reason', () => {
    const refused = (may: boolean, reason: string) => () => assertCeiling('HIVE-10', 2000, 1500, may, reason);
    expect(refused(false, 'a friend')).toThrow('ask somebody who may');
    expect(refused(true, ' ')).toThrow('give a reason');
    expect(refused(true, 'scratched')).not.toThrow();
    expect(() => assertCeiling('HIVE-10', 1500, 1500, false, '')).not.toThrow();
    expect(() => assertCeiling('HIVE-10', 9900, null, false, '')).not.toThrow();
  });
});

describe('money of another currency', () => {
  const rates = [
    { currency: 'GBP', date: '2027-01-01', rate: parseRate('1.2') },
    { currency: 'GBP', date: '2027-02-01', rate: parseRate('1.25') },
  ];
  it('goes by the latest rate that is not after the day', () => {
    expect(rateOn(rates, 'GBP', '2027-01-31').rate).toBe(120_000_000);
    expect(rateOn(rates, 'GBP', '2027-02-01').rate).toBe(125_000_000);
    expect(() => rateOn(rates, 'GBP', '2026-12-31')).toThrow('no exchange rate');
    expect(() => parseRate('0')).toThrow('more than 0');
  });
  it('comes back within what one step of a price is worth', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 10 ** 10 }), fc.integer({ min: 10 ** 7, max: 10 ** 9 }), (price, rate) => {
        const back = toBooks(fromBooks(asPrice(price), asRate(rate)), asRate(rate));
        expect(Math.abs(back - price)).toBeLessThanOrEqual(Math.ceil(rate / 10 ** 8) + 1);
      }),
    );
  });
  it('has no margin without a price or a cost', () => {
    expect(marginOf(parsePrice('20'), parsePrice('8'), 2000)).toBe(5000);
    expect(marginOf(parsePrice('20'), parsePrice('8'), 10_000)).toBeNull();
    expect([marginOf(asPrice(0), asPrice(1)), marginOf(asPrice(1), asPrice(0)), marginOf(parsePrice('10'), parsePrice('8'))]).toEqual([
      null,
      null,
      2000,
    ]);
  });
});
