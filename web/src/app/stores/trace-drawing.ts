/** Lays a trace out as columns from suppliers on the left to customers on the right, and draws what passed between them. */
import type { TraceView } from '@terrace/contract';

export interface Box {
  readonly key: string;
  readonly x: number;
  readonly y: number;
  readonly node: TraceView['nodes'][number];
}

export interface Band {
  readonly path: string;
  readonly width: number;
  readonly edge: TraceView['edges'][number];
}

export interface TraceLayout {
  readonly boxes: readonly Box[];
  readonly bands: readonly Band[];
  readonly width: number;
  readonly height: number;
}

export const BOX_WIDTH = 178;
export const BOX_HEIGHT = 46;
const COLUMN = 236;
const ROW = 60;
const MARGIN = 12;
const WIDEST = 14;

/** Columns by how far a node is from the start; within a column, nodes lie near what they are joined to. */
export function layOut(trace: TraceView): TraceLayout {
  // Suppliers stand in the first column and customers in the last, however short the way to them.
  const made = trace.nodes.filter((node) => node.kind === 'batch').map((node) => node.level);
  const [first, last] = [Math.min(0, ...made) - 1, Math.max(0, ...made) + 1];
  const nodes = trace.nodes.map((node) => ({ ...node, level: node.kind === 'batch' ? node.level : node.level < 0 ? first : last }));
  const levels = [...new Set(nodes.map((node) => node.level))].sort((a, b) => a - b);
  const rowOf = new Map<string, number>();
  const near = (key: string): number => {
    const rows = trace.edges.flatMap((edge) => {
      const other = edge.from === key ? edge.to : edge.to === key ? edge.from : null;
      const row = other === null ? undefined : rowOf.get(other);
      return row === undefined ? [] : [row];
    });
    return rows.length === 0 ? 0 : rows.reduce((sum, row) => sum + row, 0) / rows.length;
  };
  const start = levels.indexOf(0);
  const order = [...levels.slice(start), ...levels.slice(0, start).reverse()];
  for (const level of order) {
    const here = nodes.filter((node) => node.level === level).sort((a, b) => near(a.key) - near(b.key) || a.title.localeCompare(b.title));
    here.forEach((node, row) => rowOf.set(node.key, row));
  }
  const tallest = Math.max(1, ...levels.map((level) => nodes.filter((node) => node.level === level).length));
  const boxes = nodes.map((node): Box => {
    const count = nodes.filter((each) => each.level === node.level).length;
    const offset = ((tallest - count) * ROW) / 2;
    return {
      key: node.key,
      node,
      x: MARGIN + levels.indexOf(node.level) * COLUMN,
      y: MARGIN + offset + (rowOf.get(node.key) ?? 0) * ROW,
    };
  });
  const byKey = new Map(boxes.map((box) => [box.key, box]));
  const most = Math.max(1, ...trace.edges.map((edge) => Number(edge.quantity)));
  const bands = trace.edges.flatMap((edge): Band[] => {
    const [from, to] = [byKey.get(edge.from), byKey.get(edge.to)];
    if (!from || !to) return [];
    const [x1, y1, x2, y2] = [from.x + BOX_WIDTH, from.y + BOX_HEIGHT / 2, to.x, to.y + BOX_HEIGHT / 2];
    const middle = (x1 + x2) / 2;
    const width = Math.max(1.5, Math.sqrt(Number(edge.quantity) / most) * WIDEST);
    return [{ edge, width, path: `M${x1} ${y1}C${middle} ${y1} ${middle} ${y2} ${x2} ${y2}` }];
  });
  return { boxes, bands, width: MARGIN * 2 + (levels.length - 1) * COLUMN + BOX_WIDTH, height: MARGIN * 2 + tallest * ROW };
}
