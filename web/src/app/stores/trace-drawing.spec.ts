import { describe, expect, it } from 'vitest';
import type { TraceView } from '@terrace/contract';
import { BOX_HEIGHT, BOX_WIDTH, layOut } from './trace-drawing';

const node = (key: string, kind: TraceView['nodes'][number]['kind'], level: number): TraceView['nodes'][number] => ({
  key,
  kind,
  level,
  title: key,
  detail: '',
  itemId: null,
  link: null,
  onHand: '',
});
const edge = (from: string, to: string, quantity: string): TraceView['edges'][number] => ({
  from,
  to,
  quantity,
  unit: 'kg',
  likely: false,
  document: 'D',
  date: '2027-03-01',
});
const trace: TraceView = {
  title: 'W1',
  item: 'WAX',
  complete: true,
  nodes: [
    node('wax', 'batch', 0),
    node('s', 'supplier', -1),
    node('sheet', 'batch', 1),
    node('hive', 'batch', 2),
    node('early', 'customer', 2),
    node('late', 'customer', 3),
  ],
  edges: [
    edge('s', 'wax', '100'),
    edge('wax', 'sheet', '25'),
    edge('sheet', 'early', '5'),
    edge('sheet', 'hive', '20'),
    edge('hive', 'late', '1'),
    edge('hive', 'nobody', '1'),
  ],
};

describe('the picture of a trace', () => {
  const drawn = layOut(trace);
  const at = (key: string) => drawn.boxes.find((box) => box.key === key) ?? { x: NaN, y: NaN };

  it('goes from suppliers on the left to customers on the right, all customers in one column', () => {
    expect(at('s').x).toBeLessThan(at('wax').x);
    expect(at('wax').x).toBeLessThan(at('sheet').x);
    expect(at('hive').x).toBeLessThan(at('late').x);
    expect(at('early').x).toBe(at('late').x);
  });

  it('has no two boxes over each other, and all within it', () => {
    for (const a of drawn.boxes) {
      expect(a.x + BOX_WIDTH).toBeLessThanOrEqual(drawn.width);
      expect(a.y + BOX_HEIGHT).toBeLessThanOrEqual(drawn.height);
      for (const b of drawn.boxes) if (a !== b && a.x === b.x) expect(Math.abs(a.y - b.y)).toBeGreaterThanOrEqual(BOX_HEIGHT);
    }
  });

  it('draws a wider band where more passed, and none to what is not there', () => {
    const width = (from: string, to: string): number => drawn.bands.find((band) => band.edge.from === from && band.edge.to === to)?.width ?? 0;
    expect(width('s', 'wax')).toBeGreaterThan(width('wax', 'sheet'));
    expect(width('hive', 'nobody')).toBe(0);
  });
});
