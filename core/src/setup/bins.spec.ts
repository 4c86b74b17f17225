import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { binsFrom } from './bins';
import { Refusal } from '../base';

const refused = (text: string): string => {
  try {
    return `none: ${binsFrom(text).length}`;
  } catch (error) {
    if (error instanceof Refusal) return error.code;
    throw error;
  }
};

describe('bins as people write them', () => {
  it.each([
    ['DOCK', ['DOCK']],
    ['A-01, A-02;B-01\n\nA-01', ['A-01', 'A-02', 'B-01']],
    ['A-01-01 … A-02-02', ['A-01-01', 'A-01-02', 'A-02-01', 'A-02-02']],
    ['A1..A3', ['A1', 'A2', 'A3']],
    ['8 to 11', ['8', '9', '10', '11']],
    ['A-9...C-9', ['A-9', 'B-9', 'C-9']],
    ['R-098 – R-101', ['R-098', 'R-099', 'R-100', 'R-101']],
  ])('%s', (text, codes) => expect(binsFrom(text)).toEqual(codes));

  it.each([
    ['A-10 … A-01', 'badRange'],
    ['A-01 … A-01-04', 'badRange'],
    ['AB-1 … AC-1', 'badRange'],
    ['A-1 … A-010', 'badRange'],
    ['A-0001 … A-9999', 'tooMany'],
  ])('%s is refused', (text, code) => expect(refused(text)).toBe(code));

  it('of a range are as many as its parts have, each once, all alike, from the first to the last', () => {
    const end = fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 12 }));
    const code = ([aisle, level]: readonly [number, number]): string => `A-${String(aisle).padStart(2, '0')}-${String(level).padStart(2, '0')}`;
    fc.assert(
      fc.property(end, end, (one, other) => {
        const first: [number, number] = [Math.min(one[0], other[0]), Math.min(one[1], other[1])];
        const last: [number, number] = [Math.max(one[0], other[0]), Math.max(one[1], other[1])];
        const codes = binsFrom(`${code(first)} … ${code(last)}`);
        expect(codes).toHaveLength((last[0] - first[0] + 1) * (last[1] - first[1] + 1));
        expect([codes[0], codes.at(-1)]).toEqual([code(first), code(last)]);
        expect(codes).toEqual([...new Set(codes)].toSorted());
        expect(binsFrom(codes.join('\n'))).toEqual(codes);
      }),
    );
  });
});
