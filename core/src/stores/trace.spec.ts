import { describe, expect, it } from 'vitest';
import { asQuantity } from '../base';
import {
  batchKey,
  flowOf,
  projectBalance,
  sumByPeriod,
  periodStart,
  traceBatch,
  type Batch,
  type Flow,
  type TraceMove,
  type TraceSource,
} from './index';

/** Wax (lot) becomes sheets (lot), sheets become frames (no lot), frames become hives (serial). */
const [WAX, SHEET, FRAME, HIVE] = [1, 2, 3, 4];
let ids = 0;
const move = (item: number, piece: string, quantity: number, direction: 'in' | 'out', kind: TraceMove['other']['kind'], id: number): TraceMove => ({
  id: (ids += 1),
  item,
  piece,
  quantity: asQuantity(quantity),
  direction,
  other: { kind, id },
});
const moves: TraceMove[] = [
  move(WAX, 'W1', 50, 'in', 'supplier', 7),
  move(WAX, 'W2', 50, 'in', 'supplier', 7),
  move(WAX, 'W1', 10, 'out', 'completion', 1),
  move(SHEET, 'S1', 100, 'in', 'completion', 1),
  move(WAX, 'W2', 10, 'out', 'completion', 2),
  move(SHEET, 'S2', 100, 'in', 'completion', 2),
  move(SHEET, 'S1', 20, 'out', 'completion', 3),
  move(FRAME, '', 20, 'in', 'completion', 3),
  move(SHEET, 'S2', 20, 'out', 'completion', 4),
  move(FRAME, '', 20, 'in', 'completion', 4),
  move(FRAME, '', 30, 'out', 'completion', 5),
  move(HIVE, 'H1', 1, 'in', 'completion', 5),
  move(FRAME, '', 10, 'out', 'customer', 9),
  move(HIVE, 'H1', 1, 'out', 'customer', 8),
];
const flows = new Map<number, Flow>([WAX, SHEET, FRAME, HIVE].map((item) => [item, flowOf(moves.filter((each) => each.item === item))]));
const source: TraceSource = {
  passagesOf: (batch) => flows.get(batch.item)?.passages.filter((each) => each.batch === batch.key) ?? [],
  sideOf: (completion, direction) =>
    [...flows.values()].flatMap(({ batches, passages }) =>
      passages
        .filter((each) => each.other.kind === 'completion' && each.other.id === completion && each.direction === (direction === 'in' ? 'out' : 'in'))
        .flatMap((passage) => {
          const batch = batches.find((each) => each.key === passage.batch);
          return batch ? [{ batch, passage }] : [];
        }),
    ),
};
const start = (item: number, piece: string): Batch => ({ key: batchKey(item, piece), item, piece });

describe('tracing', () => {
  it('follows a lot of wax to every customer, and says what only the order of use tells', () => {
    const { nodes, edges, complete } = traceBatch(start(WAX, 'W1'), source);
    expect(complete).toBe(true);
    const reached = nodes.filter((node) => node.kind === 'customer').map((node) => node.party);
    expect(reached).toEqual([8]);
    expect(nodes.some((node) => node.piece === 'S2')).toBe(false);
    const frames = edges.find((edge) => edge.from === batchKey(SHEET, 'S1'));
    expect(frames).toMatchObject({ quantity: 20, likely: false });
    const hive = edges.find((edge) => edge.to === batchKey(HIVE, 'H1'));
    expect(hive).toMatchObject({ quantity: 20, likely: true });
    expect(nodes.find((node) => node.kind === 'supplier')?.level).toBe(-1);
  });

  it('follows a hive back to both lots of wax and their supplier, and no further than it was made from', () => {
    const { nodes } = traceBatch(start(HIVE, 'H1'), source);
    const wax = nodes.filter((node) => node.item === WAX).map((node) => node.piece);
    expect(wax.sort()).toEqual(['W1', 'W2']);
    expect(nodes.filter((node) => node.kind === 'customer').map((node) => node.party)).toEqual([8]);
  });

  it('says of each move what it brought, where several lead to the same place', () => {
    const twice = flowOf([
      move(WAX, 'W9', 50, 'in', 'supplier', 7),
      move(WAX, 'W9', 10, 'out', 'customer', 3),
      move(WAX, 'W9', 15, 'out', 'customer', 3),
    ]);
    const passagesOf = (batch: Batch) => twice.passages.filter((each) => each.batch === batch.key);
    const { edges } = traceBatch(start(WAX, 'W9'), { passagesOf, sideOf: () => [] });
    const sold = edges.find((edge) => edge.to === 'customer:3');
    expect([sold?.quantity, sold?.parts.map((part) => part.quantity)]).toEqual([25, [10, 15]]);
    for (const edge of traceBatch(start(WAX, 'W1'), source).edges)
      expect(edge.parts.reduce((sum, part) => sum + part.quantity, 0)).toBe(edge.quantity);
  });

  it('takes pieces without a number in the order in which they came, losing none', () => {
    const flow = flows.get(FRAME);
    const out = flow?.passages.filter((each) => each.direction === 'out') ?? [];
    expect(out.map((each) => [each.other.id, each.quantity])).toEqual([
      [5, 20],
      [5, 10],
      [9, 10],
    ]);
  });
});

describe('periods', () => {
  it('sum what documents and suggestions say apart, and close where the running balance ends', () => {
    const event = (date: string, kind: 'supply' | 'demand', quantity: number, firm = true) => ({
      date,
      kind,
      quantity: asQuantity(quantity),
      document: `${kind} ${date}`,
      firm,
    });
    const projected = projectBalance(
      asQuantity(10),
      [
        event('2027-02-20', 'demand', 3),
        event('2027-03-04', 'supply', 5),
        event('2027-03-09', 'demand', 20),
        event('2027-03-09', 'supply', 8, false),
      ],
      '2027-03-03',
    );
    const weeks = sumByPeriod(asQuantity(10), projected, [{ date: '2027-03-08', quantity: asQuantity(2) }], '2027-03-03', '2027-03-14', 'week');
    expect(weeks.map((week) => [week.from, week.supply, week.demand, week.closing, week.closingWithForecast, week.closingWithPlan])).toEqual([
      ['2027-03-01', 5, 3, 12, 12, 12],
      ['2027-03-08', 0, 20, -8, -10, 0],
    ]);
    expect(periodStart('2027-03-31', 'month')).toBe('2027-03-01');
    expect(sumByPeriod(asQuantity(1), [], [], '2027-01-31', '2027-03-01', 'month').map((month) => month.through)).toEqual([
      '2027-01-31',
      '2027-02-28',
      '2027-03-31',
    ]);
  });
});
