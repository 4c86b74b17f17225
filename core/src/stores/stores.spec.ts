import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Refusal, asQuantity, parseQuantity, type Quantity } from '../base';
import {
  applyChange,
  assertFree,
  changesOf,
  contrary,
  firstShort,
  freeStock,
  holdable,
  keyText,
  projectBalance,
  rebuildBalances,
  reservable,
  type Move,
  type Place,
  type StockKey,
} from './index';

const q = (text: string): Quantity => parseQuantity(text, 5);
const key = (bin: number): StockKey => ({ item: 1, warehouse: 1, bin, lot: '', serial: '', state: 'available' });
const stock = (bin: number): Place => ({ kind: 'stock', key: key(bin) });
const supplier: Place = { kind: 'supplier', id: 1 };
const customer: Place = { kind: 'customer', id: 1 };

describe('ledger', () => {
  it('changes a balance on each side that is ours', () => {
    expect(changesOf({ item: 1, quantity: q('5'), from: stock(1), to: stock(2) })).toEqual([
      { key: key(1), change: -500_000 },
      { key: key(2), change: 500_000 },
    ]);
    expect(changesOf({ item: 1, quantity: q('5'), from: supplier, to: stock(1) })).toHaveLength(1);
  });

  it('refuses moves of nothing, to itself and between others', () => {
    expect(() => changesOf({ item: 1, quantity: q('0'), from: supplier, to: stock(1) })).toThrow(Refusal);
    expect(() => changesOf({ item: 1, quantity: q('1'), from: stock(1), to: stock(1) })).toThrow(/ends where it begins/);
    expect(() => changesOf({ item: 1, quantity: q('1'), from: supplier, to: customer })).toThrow(/bin of ours/);
  });

  it('never lets a balance fall below zero and says what is there', () => {
    expect(() => applyChange(q('3'), asQuantity(-q('4')), 'FRAME')).toThrow("4 of FRAME can't be taken: only 3 are there.");
    expect(applyChange(q('4'), asQuantity(-q('4')), 'FRAME')).toBe(0);
  });

  it('rebuilds the balances that keeping them along the way gives, and a contrary move takes back exactly', () => {
    const places = fc.constantFrom<Place>(stock(1), stock(2), stock(3), supplier, customer);
    const moves = fc.array(fc.record({ quantity: fc.integer({ min: 1, max: 50 }), from: places, to: places }), { maxLength: 40 });
    fc.assert(
      fc.property(moves, (wanted) => {
        const kept = new Map<string, Quantity>();
        const done: Move[] = [];
        for (const each of wanted) {
          const move: Move = { item: 1, quantity: asQuantity(each.quantity), from: each.from, to: each.to };
          try {
            const changes = changesOf(move).map((change) => ({
              ...change,
              after: applyChange(kept.get(keyText(change.key)) ?? q('0'), change.change, 'it'),
            }));
            for (const change of changes) kept.set(keyText(change.key), change.after);
            done.push(move);
          } catch (error) {
            expect(error).toBeInstanceOf(Refusal);
          }
        }
        const rebuilt = rebuildBalances(done);
        for (const [text, quantity] of kept) expect(rebuilt.get(text) ?? 0).toBe(quantity);
        expect(rebuildBalances([...done, ...done.map(contrary)]).size).toBe(0);
      }),
    );
  });
});

describe('reservations', () => {
  it('leaves to others what they hold, naming them', () => {
    const holders = [{ document: 'CO-1042', quantity: q('3') }];
    expect(() => assertFree('SMOKER', q('10'), q('10'), holders)).toThrow(
      "3 of 10 SMOKER can't be taken: CO-1042 (3) holds the rest. Take 7, or release what is held.",
    );
    expect(() => assertFree('SMOKER', q('7'), q('10'), holders)).not.toThrow();
  });

  it('reserves what is free and no more than is wanted', () => {
    expect(reservable(q('4'), q('10'), q('0'))).toBe(q('4'));
    expect(reservable(q('40'), q('10'), q('8'))).toBe(q('2'));
    expect(freeStock(q('3'), q('5'))).toBe(0);
  });
});

describe('stock that does not last', () => {
  type Lots = { expiry: string | null; quantity: number }[];
  type Needs = { needs: string | null; quantity: number }[];
  /** Whether everybody gets what will do: the hardest to please first, each from what expires first of it. */
  const allServed = (lots: Lots, needs: Needs): boolean => {
    const left = lots.map((each) => ({ ...each })).sort((a, b) => (a.expiry ?? '9999').localeCompare(b.expiry ?? '9999'));
    return [...needs]
      .sort((a, b) => (b.needs ?? '').localeCompare(a.needs ?? ''))
      .every((each) => {
        let open = each.quantity;
        for (const lot of left) {
          if ((lot.expiry ?? '9999') < (each.needs ?? '')) continue;
          const taken = Math.min(open, lot.quantity);
          lot.quantity -= taken;
          open -= taken;
        }
        return open === 0;
      });
  };
  const held = (lots: Lots, needs: Needs, wanted: string | null): number =>
    holdable(
      lots.map((each) => ({ ...each, quantity: asQuantity(each.quantity) })),
      needs.map((each) => ({ ...each, quantity: asQuantity(each.quantity) })),
      wanted,
    );

  it('is held only for those for whom it will still do', () => {
    const lots = [
      { expiry: '2027-03-07', quantity: 8 },
      { expiry: '2027-05-30', quantity: 7 },
    ];
    expect(held(lots, [], '2027-04-15')).toBe(7);
    expect(held(lots, [], '2027-03-05')).toBe(15);
    // Who can do with the first lot leaves the second to those who can't.
    expect(held(lots, [{ needs: '2027-03-02', quantity: 8 }], '2027-04-15')).toBe(7);
    expect(held(lots, [{ needs: '2027-03-02', quantity: 10 }], '2027-04-15')).toBe(5);
    expect(held(lots, [{ needs: '2027-04-15', quantity: 7 }], '2027-03-02')).toBe(8);
  });

  it('is held to the last piece, and not one more', () => {
    const expiry = fc.option(fc.constantFrom('2027-03-05', '2027-03-09', '2027-04-01', '2027-04-20'));
    const quantity = fc.nat(6);
    const lots = fc.array(fc.record({ expiry, quantity }), { maxLength: 5 });
    const needs = fc.array(fc.record({ needs: expiry, quantity }), { maxLength: 4 });
    fc.assert(
      fc.property(lots, needs, expiry, (there, others, wanted) => {
        fc.pre(allServed(there, others));
        const most = held(there, others, wanted);
        expect(allServed(there, [...others, { needs: wanted, quantity: most }])).toBe(true);
        expect(allServed(there, [...others, { needs: wanted, quantity: most + 1 }])).toBe(false);
      }),
    );
  });
});

describe('projection', () => {
  const event = (date: string, kind: 'supply' | 'demand', quantity: string, firm = true) => ({
    date,
    kind,
    quantity: q(quantity),
    document: `${kind} ${date}`,
    firm,
  });

  it('counts supply before demand on a day, and what is overdue as of today', () => {
    const projected = projectBalance(
      q('2'),
      [event('2027-03-05', 'demand', '4'), event('2027-03-05', 'supply', '3'), event('2027-02-01', 'demand', '1')],
      '2027-03-01',
    );
    expect(projected.map((each) => [each.countedOn, each.balance])).toEqual([
      ['2027-03-01', q('1')],
      ['2027-03-05', q('4')],
      ['2027-03-05', q('0')],
    ]);
  });

  it('keeps suggestions apart from what is ordered', () => {
    const [only] = projectBalance(q('0'), [event('2027-03-05', 'supply', '3', false)], '2027-03-01');
    expect([only?.balance, only?.planned]).toEqual([0, q('3')]);
  });

  it('finds the first day that ends below a level', () => {
    const projected = projectBalance(
      q('5'),
      [event('2027-03-05', 'demand', '4'), event('2027-03-05', 'supply', '4'), event('2027-03-08', 'demand', '2')],
      '2027-03-01',
    );
    expect(firstShort(q('5'), projected, q('4'), '2027-03-01')).toBe('2027-03-08');
    expect(firstShort(q('5'), projected, q('1'), '2027-03-01')).toBeNull();
    expect(firstShort(q('0'), [], q('1'), '2027-03-01')).toBe('2027-03-01');
  });
});
