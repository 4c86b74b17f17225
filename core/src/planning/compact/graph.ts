/**
 * The order in which nodes are planned: what calls for a node comes before it. Nodes that lead back to themselves are
 * found on the way (strongly connected components after Tarjan 1972, without recursion) and left out of the plan.
 */
import { byCodePoint, type DataProblem } from '../problem';
import { BOM_STRIDE, type PlanBook } from './book';

export interface PlanGraph {
  /** All nodes that are present or can be called for, each before what it calls for. */
  readonly order: Int32Array;
  /** The place of a node in the order, or -1. */
  readonly ranks: Int32Array;
  /** 1 for a node that leads back to itself. */
  readonly cyclic: Uint8Array;
  /** Steps below the topmost node that calls for it; a phantom is no step. */
  readonly levels: Int32Array;
  readonly loops: readonly DataProblem[];
}

/** What a node calls for, by place; -1 after the last. */
function successor(book: PlanBook, node: number, place: number): number {
  const item = book.itemOf(node);
  const rule = book.rules[node];
  if (rule?.source === 'transfer') return place === 0 && rule.from >= 0 ? book.node(item, rule.from) : -1;
  if (rule?.source !== 'make' && book.phantoms[item] !== true) return -1;
  const component = book.boms[item]?.[place * BOM_STRIDE];
  return component === undefined ? -1 : book.node(component, book.warehouseOf(node));
}

/** Orders all nodes and what they reach; every loop is told as a data problem. */
export function orderNodes(book: PlanBook): PlanGraph {
  const count = book.nodeCount;
  const index = new Int32Array(count).fill(-1);
  const low = new Int32Array(count);
  const stacked = new Uint8Array(count);
  const stack = new Int32Array(count);
  const path = new Int32Array(count);
  const next = new Int32Array(count);
  const emitted = new Int32Array(count);
  const cyclic = new Uint8Array(count);
  const loops: DataProblem[] = [];
  let [indexed, stackTop, out] = [0, 0, 0];
  const enter = (node: number): void => {
    index[node] = indexed;
    low[node] = indexed;
    indexed += 1;
    stack[stackTop] = node;
    stackTop += 1;
    stacked[node] = 1;
  };
  const close = (root: number): void => {
    const first = out;
    for (let node = -1; node !== root;) {
      stackTop -= 1;
      node = stack[stackTop] ?? root;
      stacked[node] = 0;
      emitted[out] = node;
      out += 1;
    }
    if (out - first === 1 && !callsItself(book, root)) return;
    const members = [...emitted.subarray(first, out)];
    for (const node of members) cyclic[node] = 1;
    const names = members.map((node) => book.keyOf(node)).sort(byCodePoint);
    const subject = names.join(' > ');
    loops.push({ code: 'cycle', subject, message: `These lead back to themselves and can't be planned: ${subject}.` });
  };
  for (let root = 0; root < count; root += 1) {
    if ((index[root] ?? 0) >= 0 || !book.isPresent(root)) continue;
    let depth = 0;
    path[0] = root;
    enter(root);
    while (depth >= 0) {
      const here = path[depth] ?? root;
      const place = next[here] ?? 0;
      next[here] = place + 1;
      const target = successor(book, here, place);
      if (target >= 0) {
        if ((index[target] ?? 0) < 0) {
          depth += 1;
          path[depth] = target;
          enter(target);
        } else if (stacked[target] === 1) low[here] = Math.min(low[here] ?? 0, index[target] ?? 0);
        continue;
      }
      if (low[here] === index[here]) close(here);
      depth -= 1;
      const parent = path[depth];
      if (depth >= 0 && parent !== undefined) low[parent] = Math.min(low[parent] ?? 0, low[here] ?? 0);
    }
  }
  const order = emitted.slice(0, out).reverse();
  const ranks = new Int32Array(count).fill(-1);
  order.forEach((node, rank) => (ranks[node] = rank));
  return { order, ranks, cyclic, levels: levelsOf(book, order, cyclic), loops };
}

function callsItself(book: PlanBook, node: number): boolean {
  for (let place = 0; ; place += 1) {
    const target = successor(book, node, place);
    if (target < 0) return false;
    if (target === node) return true;
  }
}

function levelsOf(book: PlanBook, order: Int32Array, cyclic: Uint8Array): Int32Array {
  const levels = new Int32Array(book.nodeCount);
  for (const node of order) {
    if (cyclic[node] === 1) continue;
    const level = (levels[node] ?? 0) + (book.phantoms[book.itemOf(node)] === true ? 0 : 1);
    for (let place = 0; ; place += 1) {
      const target = successor(book, node, place);
      if (target < 0) break;
      if ((levels[target] ?? 0) < level) levels[target] = level;
    }
  }
  return levels;
}
