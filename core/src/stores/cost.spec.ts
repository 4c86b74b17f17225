import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Refusal } from '../base';
import { computeCost, type CostMove, type CostProblem } from './index';

const moves: CostMove[] = [
  { id: '1', kind: 'in', quantity: '10', amount: '42.00' },
  { id: '2', kind: 'out', quantity: '3' },
  { id: '3', kind: 'lateCost', of: '1', amount: '5.00' },
  { id: '4', kind: 'standardCost', unitCost: '4.50' },
];
const problem = (method: CostProblem['method'], steps: readonly CostMove[], standardCost = '4.20'): CostProblem => ({
  method,
  currencyDecimals: 2,
  standardCost,
  moves: steps,
});
const minor = (text: string): number => Math.round(Number(text) * 100);

describe('costing', () => {
  it('by moving average takes its share; a late cost goes to what is still here', () => {
    expect(computeCost(problem('movingAverage', moves))).toEqual({
      moves: [
        { id: '1', value: '42.00', variance: '0.00' },
        { id: '2', value: '12.60', variance: '0.00' },
        { id: '3', value: '3.50', variance: '1.50' },
        { id: '4', value: '0.00', variance: '0.00' },
      ],
      quantity: '7',
      value: '32.90',
      layers: [],
    });
  });

  it('by FIFO takes the oldest layer, a part in proportion, its last piece the rest', () => {
    const steps: CostMove[] = [
      { id: 'a', kind: 'in', quantity: '3', amount: '10.00' },
      { id: 'b', kind: 'in', quantity: '5', amount: '20.00' },
      { id: 'c', kind: 'out', quantity: '1' },
      { id: 'd', kind: 'lateCost', of: 'a', amount: '1.00' },
      { id: 'e', kind: 'out', quantity: '3' },
    ];
    expect(computeCost(problem('fifo', steps))).toEqual({
      moves: [
        { id: 'a', value: '10.00', variance: '0.00' },
        { id: 'b', value: '20.00', variance: '0.00' },
        { id: 'c', value: '3.33', variance: '0.00' },
        { id: 'd', value: '0.67', variance: '0.33' },
        { id: 'e', value: '11.34', variance: '0.00' },
      ],
      quantity: '4',
      value: '16.00',
      layers: [{ of: 'b', quantity: '4', value: '16.00' }],
    });
  });

  it('by standard values at the standard; what a receipt cost more, and every late cost, is variance', () => {
    const { moves: valued, value } = computeCost(problem('standard', [{ id: '0', kind: 'in', quantity: '1', amount: '5.00' }, ...moves]));
    expect(valued).toEqual([
      { id: '0', value: '4.20', variance: '0.80' },
      { id: '1', value: '42.00', variance: '0.00' },
      { id: '2', value: '12.60', variance: '0.00' },
      { id: '3', value: '0.00', variance: '5.00' },
      { id: '4', value: '2.40', variance: '0.00' },
    ]);
    expect(value).toBe('36.00');
  });

  it('rounds halves away from zero, in a currency of any decimals', () => {
    const half = computeCost({ ...problem('standard', [{ id: '1', kind: 'in', quantity: '0.5', amount: '3' }], '5'), currencyDecimals: 0 });
    expect(half).toMatchObject({ moves: [{ value: '3', variance: '0' }], value: '3' });
    const third: CostMove[] = [
      { id: '1', kind: 'in', quantity: '2', amount: '0.001' },
      { id: '2', kind: 'out', quantity: '1' },
    ];
    expect(computeCost({ ...problem('movingAverage', third), currencyDecimals: 3 }).moves[1]?.value).toBe('0.001');
  });

  it('leaves nothing worth anything where nothing is left, and never takes off more than there is', () => {
    const steps: CostMove[] = [
      { id: '1', kind: 'in', quantity: '2', amount: '0.02' },
      { id: '2', kind: 'out', quantity: '1' },
      { id: '3', kind: 'out', quantity: '1' },
    ];
    expect(computeCost(problem('standard', steps, '0.005'))).toMatchObject({ quantity: '0', value: '0.00' });
    const refund: CostMove[] = [...moves.slice(0, 1), { id: '9', kind: 'lateCost', of: '1', amount: '-50.00' }];
    expect(computeCost(problem('movingAverage', refund))).toMatchObject({ moves: [{}, { value: '-42.00', variance: '-8.00' }], value: '0.00' });
  });

  it('refuses what can’t be, naming the move', () => {
    const refusal = (steps: CostMove[], method: CostProblem['method'] = 'fifo'): string => {
      try {
        computeCost(problem(method, steps));
      } catch (error) {
        if (error instanceof Refusal) return `${error.code} ${String(error.details['move'])}`;
        throw error;
      }
      return '';
    };
    expect(refusal([...moves, { id: '9', kind: 'out', quantity: '7.00001' }])).toBe('notEnough 9');
    expect(refusal([{ id: 'x', kind: 'lateCost', of: 'y', amount: '1' }])).toBe('unknownMove x');
    expect(refusal([...moves, ...moves.slice(0, 1)])).toBe('moveTwice 1');
    expect(refusal([{ id: 'z', kind: 'in', quantity: '1', amount: '1.005' }])).toBe('badFigure z');
    expect(refusal([{ id: 'z', kind: 'in', quantity: '0', amount: '1' }])).toBe('badFigure z');
    // Each can be kept exactly, and both together can not.
    const most = { kind: 'in', quantity: '90000000000', amount: '90000000000000' } as const;
    expect(
      refusal([
        { id: 'a', ...most },
        { id: 'b', ...most },
      ]),
    ).toBe('badFigure b');
    expect(() => computeCost({ ...problem('standard', []), standardCost: undefined })).toThrow(/standardCost/);
  });

  it('whatever happens, keeps every cent: in, late and new standards = out + variance + what is here', () => {
    const step = fc.oneof(
      fc.record({ kind: fc.constant('in' as const), quantity: fc.integer({ min: 1, max: 90 }), amount: fc.integer({ min: 0, max: 9999 }) }),
      fc.record({ kind: fc.constant('out' as const), quantity: fc.integer({ min: 1, max: 60 }), amount: fc.constant(0) }),
      fc.record({ kind: fc.constant('lateCost' as const), quantity: fc.nat(20), amount: fc.integer({ min: -500, max: 900 }) }),
      fc.record({ kind: fc.constant('standardCost' as const), quantity: fc.constant(0), amount: fc.nat(999) }),
    );
    fc.assert(
      fc.property(fc.constantFrom('movingAverage', 'fifo', 'standard'), fc.array(step, { maxLength: 40 }), (method, wanted) => {
        const done: CostMove[] = [];
        const ins: string[] = [];
        let [there, given] = [0, 0];
        wanted.forEach(({ kind, quantity, amount }, index) => {
          const id = String(index);
          if (kind === 'in') {
            done.push({ id, kind, quantity: (quantity / 10).toFixed(1), amount: (amount / 100).toFixed(2) });
            ins.push(id);
            there += quantity;
            given += amount;
          } else if (kind === 'out' && quantity <= there) {
            done.push({ id, kind, quantity: (quantity / 10).toFixed(1) });
            there -= quantity;
          } else if (kind === 'lateCost' && ins.length > 0) {
            done.push({ id, kind, of: ins[quantity % ins.length] ?? '', amount: (amount / 100).toFixed(2) });
            given += amount;
          } else if (kind === 'standardCost') done.push({ id, kind, unitCost: (amount / 1000).toFixed(3) });
        });
        const result = computeCost(problem(method, done, '1.235'));
        let [out, variance, revalued] = [0, 0, 0];
        result.moves.forEach((move, index) => {
          const { kind } = done[index] ?? {};
          if (kind === 'out') out += minor(move.value);
          if (kind === 'standardCost') revalued += minor(move.value);
          variance += minor(move.variance);
        });
        expect(given + revalued).toBe(out + variance + minor(result.value));
        expect(minor(result.value)).toBeGreaterThanOrEqual(0);
        expect(Math.round(Number(result.quantity) * 10)).toBe(there);
        if (there === 0) expect(result.value).toBe('0.00');
        if (method === 'fifo') {
          expect(Math.round(result.layers.reduce((sum, layer) => sum + Number(layer.quantity), 0) * 10)).toBe(there);
          expect(result.layers.reduce((sum, layer) => sum + minor(layer.value), 0)).toBe(minor(result.value));
        }
      }),
    );
  });
});
