import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ZERO, asAmount, asPrice, asQuantity, parsePrice, parseQuantity, writeAmount, writeQuantity, type Quantity } from '../base';
import {
  amountOfLine,
  charged,
  divideLine,
  divideReasons,
  divideTax,
  freeOfNext,
  partsBy,
  totalOf,
  type DividedLine,
  type LineToDivide,
} from './index';

const q = (text: string): Quantity => parseQuantity(text, 5);
const each = q('1');
const line = (id: number, open: string, reserved: string, more: Partial<LineToDivide> = {}): LineToDivide => ({
  id,
  kind: 'stocked',
  open: q(open),
  reserved: q(reserved),
  elsewhere: [],
  shipTo: '',
  carrier: '',
  direct: false,
  perishes: false,
  ...more,
});
const inWords = (parts: ReturnType<typeof partsBy>): unknown[] =>
  parts.map(({ why, warehouseId, lines }) => [
    why.join('+'),
    warehouseId,
    lines.map(({ lineId, quantity }) => `${lineId}:${writeQuantity(quantity)}`).join(' '),
  ]);

describe('what goes together', () => {
  it('is all of it, as long as nobody chooses a reason', () => {
    expect(inWords(partsBy([line(1, '10', '6'), line(2, '3', '0', { shipTo: 'Yard' })], []))).toEqual([['', null, '1:10 2:3']]);
    expect(partsBy([], ['short'])).toEqual([]);
  });

  it('is what is reserved, and what follows; charges stay with the first', () => {
    expect(inWords(partsBy([line(1, '10', '6'), line(2, '3', '0'), line(3, '1', '0', { kind: 'charge' })], ['short']))).toEqual([
      ['', null, '1:6 3:1'],
      ['short', null, '1:4 2:3'],
    ]);
  });

  it('is what another warehouse has of what is short here', () => {
    const elsewhere = [
      { warehouseId: 2, free: q('3') },
      { warehouseId: 3, free: q('9') },
    ];
    expect(inWords(partsBy([line(1, '10', '5', { elsewhere })], ['warehouse', 'short']))).toEqual([
      ['', null, '1:5'],
      ['warehouse', 2, '1:3'],
      ['warehouse', 3, '1:2'],
    ]);
    expect(inWords(partsBy([line(1, '10', '5', { elsewhere: elsewhere.slice(0, 1) })], ['warehouse']))).toEqual([
      ['', null, '1:7'],
      ['warehouse', 2, '1:3'],
    ]);
  });

  it('is what goes the same way: address, carrier, from the supplier, services, and what does not last', () => {
    const lines = [
      line(1, '1', '1', { shipTo: 'Yard' }),
      line(2, '1', '1', { shipTo: 'Yard', carrier: 'Fen Parcels' }),
      line(3, '1', '0', { direct: true }),
      line(4, '1', '0', { kind: 'service' }),
      line(5, '4', '3', { perishes: true }),
      line(6, '1', '0', { kind: 'nonStocked' }),
    ];
    expect(inWords(partsBy(lines, ['address', 'carrier', 'direct', 'services', 'lotLife']))).toEqual([
      ['', null, '5:1 6:1'],
      ['address', null, '1:1'],
      ['address+carrier', null, '2:1'],
      ['direct', null, '3:1'],
      ['services', null, '4:1'],
      ['lotLife', null, '5:3'],
    ]);
  });

  it('loses no piece, whatever the reasons', () => {
    const quantity = fc.integer({ min: 0, max: 20 }).map((n) => asQuantity(n * 100_000));
    const some = fc.record({
      kind: fc.constantFrom('stocked', 'nonStocked', 'service', 'charge' as const),
      open: quantity,
      reserved: quantity,
      elsewhere: fc.array(fc.record({ warehouseId: fc.integer({ min: 2, max: 4 }), free: quantity }), { maxLength: 2 }),
      shipTo: fc.constantFrom('', 'Yard'),
      carrier: fc.constantFrom('', 'Fen Parcels'),
      direct: fc.boolean(),
      perishes: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(some, { maxLength: 6 }), fc.subarray([...divideReasons]), (given, reasons) => {
        const lines = given.map((one, index) => ({ ...one, id: index + 1 })) as LineToDivide[];
        const parts = partsBy(lines, reasons);
        for (const { id, open } of lines) {
          const found = parts.flatMap((part) => part.lines.filter(({ lineId }) => lineId === id));
          expect(found.reduce((sum, one) => sum + one.quantity, 0)).toBe(open);
        }
        const goods = new Set(lines.flatMap(({ id, kind }) => (kind === 'service' || kind === 'charge' ? [] : [id])));
        if (!reasons.includes('services') && parts.length > 1)
          for (const part of parts) expect(part.lines.some(({ lineId }) => goods.has(lineId))).toBe(true);
        for (const part of parts) expect(new Set(part.lines.map(({ lineId }) => lineId)).size).toBe(part.lines.length);
      }),
    );
  });
});

const divided = (quantity: string, free: string, price: string, discount = 0): DividedLine => ({
  quantity: q(quantity),
  cancelled: ZERO,
  invoiced: ZERO,
  free: q(free),
  freeInvoiced: ZERO,
  price: parsePrice(price),
  discount,
  correction: asAmount(0),
  step: each,
});

describe('what parts of a line are worth', () => {
  it('is what the whole is, to the cent', () => {
    const shares = divideLine(divided('10', '0', '0.333'), [q('3'), q('3'), q('4')]);
    expect(shares.map(({ amount }) => writeAmount(amount))).toEqual(['1.00', '1.00', '1.33']);
    expect(writeAmount(amountOfLine({ quantity: q('10'), price: parsePrice('0.333'), discount: 0 }))).toBe('3.33');
    // 3 × 0.125 are 0.38 twice, but all 6 are 0.75.
    expect(divideLine(divided('6', '0', '0.125'), [q('3'), q('3')]).map(({ amount, correction }) => [amount, correction])).toEqual([
      [38, 0],
      [37, -1],
    ]);
  });

  it('has the free pieces in proportion, those on invoices where they are', () => {
    expect(divideLine(divided('11', '1', '0.33'), [q('6'), q('5')]).map(({ free, amount }) => [writeQuantity(free), writeAmount(amount)])).toEqual([
      ['1', '1.65'],
      ['0', '1.65'],
    ]);
    const begun = { ...divided('12', '2', '1'), invoiced: q('6'), freeInvoiced: q('0') };
    expect(divideLine(begun, [q('6'), q('6')]).map(({ free }) => writeQuantity(free))).toEqual(['0', '2']);
  });

  it('adds up over all parts, whatever they are: pieces, free pieces, worth, discount and tax', () => {
    const some = fc.record({
      parts: fc.array(fc.integer({ min: 0, max: 40 }), { minLength: 1, maxLength: 5 }),
      freeShare: fc.integer({ min: 0, max: 100 }),
      invoicedShare: fc.integer({ min: 0, max: 100 }),
      freeInvoicedShare: fc.integer({ min: 0, max: 100 }),
      price: fc.integer({ min: 0, max: 9_999_999 }),
      discount: fc.integer({ min: 0, max: 10_000 }),
      correction: fc.integer({ min: -2, max: 2 }),
    });
    fc.assert(
      fc.property(
        fc.array(some, { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 0, max: 2500 }),
        fc.integer({ min: 2, max: 5 }),
        (given, rate, count) => {
          const lines = given.map(({ parts, freeShare, invoicedShare, freeInvoicedShare, price, discount, correction }) => {
            const quantities = Array.from({ length: count }, (_, index) => asQuantity((parts[index] ?? 0) * 100_000));
            const whole = quantities.reduce((sum, one) => sum + one, 0);
            const pieces = (of: number, share: number): number => Math.floor((of / 100_000) * (share / 100)) * 100_000;
            const free = pieces(whole, freeShare);
            // What is invoiced stays with the first part.
            const freeInvoiced = pieces(Math.min(free, quantities[0] ?? 0), freeInvoicedShare);
            const chargedInvoiced = pieces(Math.min(whole - free, (quantities[0] ?? 0) - freeInvoiced), invoicedShare);
            const line: DividedLine = {
              quantity: asQuantity(whole),
              cancelled: ZERO,
              invoiced: asQuantity(freeInvoiced + chargedInvoiced),
              free: asQuantity(free),
              freeInvoiced: asQuantity(freeInvoiced),
              price: asPrice(price),
              discount,
              correction: asAmount(whole > free ? correction : 0),
              step: each,
            };
            return { line, shares: divideLine(line, quantities) };
          });
          for (const { line, shares } of lines) {
            const sum = (of: 'quantity' | 'free' | 'amount' | 'letOff'): number => shares.reduce((all, share) => all + share[of], 0);
            const worth = amountOfLine({ ...line, quantity: charged(line) });
            expect([sum('quantity'), sum('free'), sum('amount')]).toEqual([line.quantity, line.free, worth]);
            expect(sum('letOff')).toBe(amountOfLine({ ...line, quantity: charged(line), discount: 0, correction: asAmount(0) }) - worth);
            for (const share of shares) {
              expect(share.free).toBeGreaterThanOrEqual(0);
              expect(share.free).toBeLessThanOrEqual(share.quantity);
              const kept = {
                quantity: asQuantity(share.quantity - share.free),
                price: line.price,
                discount: line.discount,
                correction: share.correction,
              };
              expect(amountOfLine(kept)).toBe(share.amount);
            }
            const stays = shares[0];
            expect(stays && stays.free >= line.freeInvoiced && stays.quantity - stays.free >= line.invoiced - line.freeInvoiced).toBe(true);
          }
          const whole = totalOf(
            lines.map(({ line }) => ({ ...line, quantity: charged(line) })),
            rate,
          );
          const nets = Array.from({ length: count }, (_, part) =>
            asAmount(
              Math.max(
                0,
                lines.reduce((sum, { shares }) => sum + (shares[part]?.amount ?? 0), 0),
              ),
            ),
          );
          const taxes = divideTax(whole, nets, rate);
          expect(taxes.reduce((sum, { tax }) => sum + tax, 0)).toBe(whole.tax);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('free pieces', () => {
  it('come after what is charged, however a line is invoiced', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 0, max: 30 }),
        fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 9 }),
        (all, some, steps) => {
          const free = Math.min(all, some);
          let [invoiced, freeInvoiced] = [0, 0];
          for (const step of steps) {
            const quantity = Math.min(step, all - invoiced);
            const line = {
              quantity: asQuantity(all),
              cancelled: ZERO,
              free: asQuantity(free),
              invoiced: asQuantity(invoiced),
              freeInvoiced: asQuantity(freeInvoiced),
            };
            const now = freeOfNext(line, asQuantity(quantity));
            expect(now).toBeLessThanOrEqual(quantity);
            invoiced += quantity;
            freeInvoiced += now;
            expect(invoiced - freeInvoiced).toBe(Math.min(invoiced, all - free));
          }
        },
      ),
    );
  });
});
