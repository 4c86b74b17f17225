import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, asQuantity, parseQuantity, type Quantity } from '../base';
import { availableToPromise, promiseOfLots } from '../selling';
import {
  assertSerialCount,
  barcodesOf,
  checkCharacter,
  checkDigit,
  checksOut,
  counterOf,
  datesOfLot,
  firstExpiring,
  gtinOf,
  isShortDated,
  lossesOf,
  makeSerials,
  readElementString,
  readSerials,
  remainingLife,
  usableUntil,
  writeElementString,
  SEPARATOR,
  type LivingStock,
} from './index';

const q = (text: string): Quantity => parseQuantity(text, 5);
const TODAY = '2027-03-01';

describe('lives of lots', () => {
  it('count days to the expiry: good with a minimum of 30, short-dated with 60', () => {
    expect(remainingLife('2027-03-20', '2027-02-01')).toBe(47);
    expect(isShortDated('2027-03-20', '2027-02-01', 30)).toBe(false);
    expect(isShortDated('2027-03-20', '2027-02-01', 60)).toBe(true);
    expect(isShortDated(null, '2027-02-01', 60)).toBe(false);
    expect(usableUntil('2027-03-20', 30)).toBe('2027-02-18');
    expect(isShortDated('2027-03-20', '2027-02-18', 30)).toBe(false);
    expect(isShortDated('2027-03-20', '2027-02-19', 30)).toBe(true);
  });

  it('are taken first-expiring first', () => {
    const lots = [
      { lot: 'C', expiry: null },
      { lot: 'B', expiry: '2027-05-01' },
      { lot: 'A', expiry: '2027-05-01' },
      { lot: 'D', expiry: '2027-04-01' },
    ];
    expect([...lots].sort(firstExpiring).map((each) => each.lot)).toEqual(['D', 'A', 'B', 'C']);
  });

  it('follow the item’s rule', () => {
    const rule = { expiryNeeded: true, madeOnNeeded: true, shelfLife: 100 };
    expect(datesOfLot('L1', { madeOn: '2027-01-01', expiry: null }, rule).expiry).toBe('2027-04-11');
    expect(() => datesOfLot('L1', { madeOn: null, expiry: '2027-05-01' }, rule)).toThrow(/the date on which it was made/);
    expect(() => datesOfLot('L1', { madeOn: null, expiry: null }, { ...rule, madeOnNeeded: false })).toThrow(/expiry date/);
    expect(() => datesOfLot('L1', { madeOn: '2027-06-01', expiry: '2027-05-01' }, rule)).toThrow(/one of the dates is wrong/);
  });

  const lot = (name: string, quantity: string, until: string | null): LivingStock => ({ lot: name, quantity: q(quantity), usableUntil: until });

  it('tell what will be left over: demand takes what expires first', () => {
    const stock = [lot('A', '10', '2027-03-05'), lot('B', '10', '2027-03-20')];
    const demands = [
      { date: '2027-03-03', quantity: q('6') },
      { date: '2027-03-10', quantity: q('3') },
    ];
    expect(lossesOf(stock, [], demands, TODAY)).toEqual([
      { date: '2027-03-06', quantity: q('4'), lot: 'A' },
      { date: '2027-03-21', quantity: q('7'), lot: 'B' },
    ]);
  });

  it('count in a promise only while they last, and what would be lost can still be promised before', () => {
    const stock = [lot('A', '10', '2027-03-05'), lot('B', '4', null)];
    const steps = promiseOfLots(stock, [{ date: '2027-03-10', quantity: q('20') }], [{ date: '2027-03-08', quantity: q('3') }], TODAY);
    expect(steps).toEqual([
      { date: TODAY, quantity: q('11') },
      { date: '2027-03-06', quantity: q('1') },
      { date: '2027-03-10', quantity: q('21') },
    ]);
  });

  it('promise like stock that lasts where nothing expires, and never more', () => {
    const day = fc.integer({ min: -3, max: 30 }).map((days) => addDays(TODAY, days));
    const event = fc.record({ date: day, quantity: fc.integer({ min: 1, max: 40 }).map(asQuantity) });
    const living = fc.record({ lot: fc.string(), quantity: fc.integer({ min: 1, max: 40 }).map(asQuantity), usableUntil: fc.option(day) });
    fc.assert(
      fc.property(
        fc.array(living, { maxLength: 4 }),
        fc.array(event, { maxLength: 4 }),
        fc.array(event, { maxLength: 5 }),
        (stock, supplies, demands) => {
          const lasting = availableToPromise(asQuantity(stock.reduce((sum, each) => sum + each.quantity, 0)), supplies, demands, TODAY);
          const at = (steps: typeof lasting, date: string): number => steps.filter((step) => step.date <= date).at(-1)?.quantity ?? 0;
          const forEver = stock.map((each) => ({ ...each, usableUntil: addDays(TODAY, 400) }));
          const [real, long] = [promiseOfLots(stock, supplies, demands, TODAY), promiseOfLots(forEver, supplies, demands, TODAY)];
          for (let days = 0; days < 40; days += 1) {
            const date = addDays(TODAY, days);
            expect(at(long, date)).toBe(at(lasting, date));
            expect(at(real, date)).toBeLessThanOrEqual(at(lasting, date));
          }
          const lost = lossesOf(stock, supplies, demands, TODAY).reduce((sum, each) => sum + each.quantity, 0);
          expect(lost).toBeLessThanOrEqual(stock.reduce((sum, each) => sum + each.quantity, 0));
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('serial numbers', () => {
  it('are read from lists and ranges', () => {
    expect(readSerials('A1, A2;A3\nB-08..B-11 C9')).toEqual(['A1', 'A2', 'A3', 'B-08', 'B-09', 'B-10', 'B-11', 'C9']);
    expect(readSerials('X007 .. X009')).toEqual(['X007', 'X008', 'X009']);
    expect(readSerials('X007..9')).toEqual(['X007', 'X008', 'X009']);
    expect(readSerials('  \n')).toEqual([]);
  });

  it('refuse doubles, ranges that are none, and another count than the quantity', () => {
    expect(() => readSerials('A1 A2 A1')).toThrow(/A1 is there twice/);
    expect(() => readSerials('A9..A3')).toThrow(/before its beginning/);
    expect(() => readSerials('AB..AC')).toThrow(/no figures/);
    expect(() => readSerials('A1..B3')).toThrow(/alike/);
    expect(() => readSerials('A1..A99999')).toThrow(/split them/);
    expect(() => readSerials('Ä1')).toThrow(/can't be a serial number/);
    expect(() => assertSerialCount('MOTOR', ['A', 'B'], q('3'), q('1'))).toThrow('3 of MOTOR need as many serial numbers: there are 2, 1 too few.');
    expect(() => assertSerialCount('MOTOR', ['A', 'B'], q('2'), q('1'))).not.toThrow();
  });

  it('are made from a pattern, each with a check character that finds every single wrong sign', () => {
    const made = makeSerials('MX{YY}-{n:4}{c}', TODAY, 7, 3);
    expect(made.map((serial) => serial.slice(0, 9))).toEqual(['MX27-0007', 'MX27-0008', 'MX27-0009']);
    expect(made.map((serial) => counterOf('MX{YY}-{n:4}{c}', TODAY, serial))).toEqual([7, 8, 9]);
    expect(counterOf('MX{YY}-{n:4}{c}', TODAY, 'MX26-0007A')).toBeNull();
    // The standard's own example: A12425GABC1234002 has the check character M.
    expect(checkCharacter('A12425GABC1234002')).toBe('M');
    fc.assert(
      fc.property(fc.stringMatching(/^[0-9A-Z]{3,12}$/), fc.nat(11), fc.constantFrom(...'0123456789ABCXYZ'), (text, at, sign) => {
        const place = at % text.length;
        const wrong = text.slice(0, place) + sign + text.slice(place + 1);
        if (wrong !== text) expect(checkCharacter(wrong)).not.toBe(checkCharacter(text));
      }),
    );
  });

  it('refuse patterns that can’t be', () => {
    expect(() => makeSerials('MX', TODAY, 1, 1)).toThrow(/no counter/);
    expect(() => makeSerials('{c}{n:3}', TODAY, 1, 1)).toThrow(/at its end/);
    expect(() => makeSerials('{n:3}{week}', TODAY, 1, 1)).toThrow(/can't be read/);
    expect(() => makeSerials('{n:2}', TODAY, 98, 3)).toThrow(/make the counter longer/);
  });
});

describe('element strings', () => {
  const gtin = '02000000000015';
  it('are read with and without brackets, with the marks of scanners', () => {
    const whole = { gtin, expiry: '2027-03-31', lot: 'W-12/7' };
    expect(readElementString(`(01)${gtin}(17)270300(10)W-12/7`)).toEqual(whole);
    expect(readElementString(`]C101${gtin}1727033110W-12/7`)).toEqual(whole);
    expect(readElementString(`]d201${gtin}10W-12/7${SEPARATOR}17270331`)).toEqual(whole);
    expect(readElementString('(00)340123450000000000')).toMatchObject({ sscc: '340123450000000000' });
    expect(readElementString(`01${gtin}3103001250`)).toEqual({ gtin, quantity: '1.25' });
    expect(readElementString(`01${gtin}21MX27-0007${SEPARATOR}3012`)).toEqual({ gtin, serial: 'MX27-0007', quantity: '12' });
  });

  it('leave plain barcodes and words alone, and refuse what is broken', () => {
    expect(readElementString('4006381333931')).toBeNull();
    expect(readElementString('FRAMES-10')).toBeNull();
    expect(() => readElementString('(01)02000000000016')).toThrow(/check digit/);
    expect(() => readElementString(`(01)${gtin}(17)271345`)).toThrow(/no date/);
    expect(() => readElementString(`(01)${gtin}(10)`)).toThrow(/wrong length/);
    expect(() => readElementString(`(01)${gtin}(99)x`)).toThrow(/not used in stores/);
  });

  it('have check digits', () => {
    expect(checkDigit('0200000000001')).toBe('5');
    expect(checksOut('4006381333931')).toBe(true);
    expect(checksOut('4006381333932')).toBe(false);
    expect(gtinOf('4006381333931')).toBe('04006381333931');
    expect(gtinOf('12345')).toBeNull();
    expect(barcodesOf('04006381333931')).toEqual(['04006381333931', '4006381333931']);
  });

  it('come back as they were written', () => {
    const code = fc.stringMatching(/^[A-Z0-9/-]{1,20}$/);
    const date = fc.integer({ min: 0, max: 9000 }).map((days) => addDays('2020-01-01', days));
    const scanned = fc.record(
      { lot: code, serial: code, expiry: date, madeOn: date, quantity: fc.integer({ min: 1, max: 99999 }).map(String) },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(scanned, (each) => {
        expect(readElementString(writeElementString({ gtin, ...each }))).toEqual({ gtin, ...each });
      }),
    );
  });
});
