import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moved, type PartDraft } from './divide-draft';

const part = (...lines: [number, string][]): PartDraft => ({
  warehouseId: null,
  shipTo: '',
  carrier: '',
  lines: lines.map(([lineId, quantity]) => ({ lineId, quantity })),
});
const inWords = (parts: readonly PartDraft[]): string[] =>
  parts.map(({ lines }) => lines.map(({ lineId, quantity }) => `${lineId}:${quantity}`).join(' '));

describe('parts put together by hand', () => {
  it('have a line moved to another, all of it or as many as are said, or to a new one', () => {
    const parts = [part([1, '10'], [2, '3']), part([1, '4'])];
    expect(inWords(moved(parts, { lineId: 1, from: 0, to: 1, quantity: '2.5' }))).toEqual(['1:7.5 2:3', '1:6.5']);
    expect(inWords(moved(parts, { lineId: 2, from: 0, to: 2, quantity: '' }))).toEqual(['1:10', '1:4', '2:3']);
    expect(inWords(moved(parts, { lineId: 1, from: 1, to: 0, quantity: '99' }))).toEqual(['1:14 2:3']);
    expect(inWords(moved([part([1, '1'])], { lineId: 1, from: 0, to: 1, quantity: '' }))).toEqual(['', '1:1']);
    expect(moved(parts, { lineId: 7, from: 0, to: 1, quantity: '1' })).toEqual(parts);
  });

  it('have all of every line, whatever is moved where', () => {
    const move = fc.record({
      lineId: fc.integer({ min: 1, max: 3 }),
      from: fc.integer({ min: 0, max: 3 }),
      to: fc.integer({ min: 0, max: 4 }),
      quantity: fc.constantFrom('', '1', '2', '0.5', '50'),
    });
    fc.assert(
      fc.property(fc.array(move, { maxLength: 12 }), (moves) => {
        const begun: PartDraft[] = [part([1, '10'], [2, '4'], [3, '0.5'])];
        const parts = moves.reduce<readonly PartDraft[]>((all, each) => moved(all, each), begun);
        const sum = (lineId: number): number =>
          parts.flatMap(({ lines }) => lines).reduce((all, line) => all + (line.lineId === lineId ? Number(line.quantity) : 0), 0);
        expect([sum(1), sum(2), sum(3)]).toEqual([10, 4, 0.5]);
        expect(parts.slice(1).every(({ lines }) => lines.length > 0)).toBe(true);
      }),
    );
  });
});
