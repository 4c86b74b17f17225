import { describe, expect, it } from 'vitest';
import { parseQuantity, writeQuantity } from '../base';
import { componentQuantity, findCycle, howManyCouldBeBuilt, isLineValid, type PartFacts } from './index';

describe('components', () => {
  it('take scrap into account and round up to the unit', () => {
    const need = (parent: string, quantity: string, scrap: string, decimals: number): string =>
      writeQuantity(componentQuantity(parseQuantity(parent, 0), { quantity, scrap }, decimals));
    expect(need('24', '1.85', '0.08', 2)).toBe('47.96');
    expect(need('80', '2.4', '0.05', 2)).toBe('201.6');
    expect(need('3', '0.25', '0.04', 0)).toBe('1');
    expect(need('1', '0.072', '0.03', 3)).toBe('0.075');
    expect(() => componentQuantity(parseQuantity('1', 0), { quantity: 'two', scrap: '0' }, 0)).toThrow(/not a quantity/);
  });

  it('are valid within their dates, both included', () => {
    const line = { validFrom: '2027-03-01', validTo: '2027-03-31' };
    expect(['2027-02-28', '2027-03-01', '2027-03-31', '2027-04-01'].map((date) => isLineValid(line, date))).toEqual([false, true, true, false]);
    expect(isLineValid({ validFrom: null, validTo: null }, '2027-01-01')).toBe(true);
  });

  it('name the path on which an item would lead back to itself', () => {
    const boms: Record<string, string[]> = { BOX: ['PLANK'], PLANK: ['HIVE'] };
    const linesOf = (item: string): string[] => boms[item] ?? [];
    expect(findCycle('HIVE', 'BOX', linesOf)).toEqual(['HIVE', 'BOX', 'PLANK', 'HIVE']);
    expect(findCycle('HIVE', 'HIVE', linesOf)).toEqual(['HIVE', 'HIVE']);
    expect(findCycle('ROOF', 'BOX', linesOf)).toBeNull();
  });
});

describe('how many could be built', () => {
  const q = (text: string) => parseQuantity(text, 5);
  const part = (code: string, inHand: string, lines: readonly (readonly [string, string])[] = [], phantom = false): [string, PartFacts] => [
    code,
    { code, decimals: 0, inHand: q(inHand), phantom, lines: lines.map(([component, quantity]) => ({ component, quantity, scrap: '0' })) },
  ];
  const build = (...parts: [string, PartFacts][]) => {
    const known = new Map(parts);
    const built = howManyCouldBeBuilt('HIVE', (code) => known.get(code) ?? part(code, '0')[1], q('1'));
    return { ...built, quantity: writeQuantity(built.quantity), straight: writeQuantity(built.straight) };
  };

  it('counts as finely as the unit of what is built', () => {
    // 1.5 kg of honey at 2 kg for a kilogram: three quarters of one, and none of what is counted in pieces.
    const known = new Map([part('SPREAD', '0', [['HONEY', '2']]), part('HONEY', '1.5')].map(([code, facts]) => [code, { ...facts, decimals: 3 }]));
    const built = (unit: string) => howManyCouldBeBuilt('SPREAD', (code) => known.get(code) ?? part(code, '0')[1], q(unit));
    expect([built('0.001'), built('1')].map((each) => [writeQuantity(each.quantity), each.bottlenecks])).toEqual([
      ['0.75', ['HONEY']],
      ['0', ['HONEY']],
    ]);
  });

  it('works down the bill: parts in hand first, then parts made of what is beneath', () => {
    const built = build(
      part('HIVE', '0', [
        ['BOX', '2'],
        ['ROOF', '1'],
      ]),
      part('BOX', '5', [['BOARD', '4']]),
      part('ROOF', '9'),
      part('BOARD', '15'),
    );
    // Two hives from five boxes; with boards for three boxes more, four.
    expect(built).toMatchObject({ quantity: '4', straight: '2', bottlenecks: ['BOARD'] });
    expect(built.parts.find((each) => each.code === 'BOX')).toMatchObject({ level: 1, needed: q('8'), toMake: q('3') });
  });

  it('shares a part that is needed twice, and looks through phantoms', () => {
    const built = build(
      part('HIVE', '0', [
        ['KIT', '1'],
        ['SCREW', '2'],
      ]),
      part('KIT', '0', [['SCREW', '3']], true),
      part('SCREW', '14'),
    );
    expect(built).toMatchObject({ quantity: '2', straight: '2', bottlenecks: ['SCREW'] });
  });

  it('of what has no bill, nothing', () => {
    expect(build(part('HIVE', '3'))).toMatchObject({ quantity: '0', bottlenecks: [] });
  });
});
