/**
 * The order in which nodes are planned: what calls for an item comes before the item. Nodes that lead back to
 * themselves are found here (Tarjan's strongly connected components, without recursion) and left out of the plan.
 */
import { byCodePoint } from '../problem';
import type { PlanInput, PlanItem } from '../input';
import { nodeKey } from '../rows';

interface Vertex {
  readonly key: string;
  readonly item: PlanItem;
  readonly warehouse: string;
  readonly calls: string[];
}

export interface PlanningOrder {
  /** Keys of nodes and phantoms, each before all that it calls for. */
  readonly keys: readonly string[];
  /** Keys that lead back to themselves. */
  readonly cyclic: ReadonlySet<string>;
}

/** Orders all nodes and what they reach; every loop is listed as a data problem. */
export function orderNodes(input: PlanInput): PlanningOrder {
  const vertices = reach(input);
  const components = stronglyConnected(vertices);
  const cyclic = new Set<string>();
  for (const component of components) {
    const [first] = component;
    const loops = component.length > 1 || (first !== undefined && vertices.get(first)?.calls.includes(first) === true);
    if (!loops) continue;
    for (const key of component) cyclic.add(key);
    const path = [...component].sort(byCodePoint).join(' > ');
    input.problems.add('cycle', path, `These lead back to themselves and can't be planned: ${path}.`);
  }
  return { keys: components.reverse().flat(), cyclic };
}

function reach(input: PlanInput): Map<string, Vertex> {
  const vertices = new Map<string, Vertex>();
  const waiting: Vertex[] = [];
  const visit = (item: PlanItem, warehouse: string): string => {
    const key = nodeKey(item.code, warehouse);
    if (!vertices.has(key)) {
      const vertex: Vertex = { key, item, warehouse, calls: [] };
      vertices.set(key, vertex);
      waiting.push(vertex);
    }
    return key;
  };
  for (const key of [...input.nodes.keys()].sort(byCodePoint)) {
    const node = input.nodes.get(key);
    if (node) visit(node.item, node.warehouse);
  }
  for (let vertex = waiting.pop(); vertex; vertex = waiting.pop()) {
    const rule = input.nodes.get(vertex.key)?.rule ?? null;
    if (rule?.source === 'transfer' && rule.from !== null) vertex.calls.push(visit(vertex.item, rule.from));
    if (!vertex.item.phantom && rule?.source !== 'make') continue;
    for (const line of vertex.item.bom) {
      const component = input.items.get(line.component);
      if (component) vertex.calls.push(visit(component, vertex.warehouse));
    }
  }
  return vertices;
}

/** Strongly connected components, each after all that it calls for. */
function stronglyConnected(vertices: ReadonlyMap<string, Vertex>): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stacked = new Set<string>();
  const stack: string[] = [];
  const components: string[][] = [];
  for (const root of vertices.keys()) {
    if (index.has(root)) continue;
    const path: { key: string; next: number }[] = [{ key: root, next: 0 }];
    while (path.length > 0) {
      const here = path[path.length - 1];
      if (!here) break;
      if (here.next === 0) {
        index.set(here.key, index.size);
        low.set(here.key, index.size - 1);
        stack.push(here.key);
        stacked.add(here.key);
      }
      const target = vertices.get(here.key)?.calls[here.next];
      here.next += 1;
      if (target !== undefined) {
        if (!index.has(target)) path.push({ key: target, next: 0 });
        else if (stacked.has(target)) lower(low, here.key, index.get(target));
        continue;
      }
      path.pop();
      const parent = path[path.length - 1];
      if (parent) lower(low, parent.key, low.get(here.key));
      if (low.get(here.key) === index.get(here.key)) components.push(popComponent(stack, stacked, here.key));
    }
  }
  return components;
}

function lower(low: Map<string, number>, key: string, candidate: number | undefined): void {
  const current = low.get(key);
  if (candidate !== undefined && current !== undefined && candidate < current) low.set(key, candidate);
}

function popComponent(stack: string[], stacked: Set<string>, root: string): string[] {
  const component: string[] = [];
  for (let key = stack.pop(); key !== undefined; key = stack.pop()) {
    stacked.delete(key);
    component.push(key);
    if (key === root) break;
  }
  return component;
}
