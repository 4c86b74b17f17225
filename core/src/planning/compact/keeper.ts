/**
 * Keeps a plan in step with rows that change: documents and items are told anew as they are now, and what is wrong in
 * them is listed as in a problem planned at once.
 */
import type { DataProblem, PlanProblem } from '../problem';
import type { PlanInput } from '../input';
import { nodeKey, readRows, type RowSource } from '../rows';
import { EVER, bookOf, type PlanBook } from './book';
import { narrow } from './exact';
import { LivePlan } from './live-plan';

type Receipts = PlanProblem['receipts'];
type Demands = PlanProblem['demands'];

/** What a document says now: its receipts and demands. Empty where it says nothing any more. */
export interface DocumentRows {
  readonly receipts: Receipts;
  readonly demands: Demands;
}

/** What an item says now. */
export interface ItemRows {
  readonly code: string;
  readonly rules: PlanProblem['rules'];
  readonly bom: PlanProblem['boms'][number]['lines'];
  readonly stock: PlanProblem['stock'];
}

/** The document of a row: what comes before the stroke of its id. */
export function documentOf(id: string): string {
  const stroke = id.lastIndexOf('/');
  return stroke < 0 ? id : id.slice(0, stroke);
}

export class PlanKeeper {
  readonly live: LivePlan;
  private readonly problem: Pick<PlanProblem, 'today' | 'horizon' | 'calendars' | 'warehouses'>;
  private readonly book: PlanBook;
  private readonly receiptsOf = new Map<string, string[]>();
  private readonly demandsOf = new Map<string, string[]>();
  /** Keys of row problems by document or item. */
  private readonly problemsOf = new Map<string, string[]>();

  /** Plans a problem and keeps it. Throws {@link TooWide} where a figure is not exact. */
  constructor(problem: RowSource) {
    const { today, horizon } = problem;
    this.problem = { today, horizon, calendars: [...problem.calendars], warehouses: [...problem.warehouses] };
    this.book = bookOf({ ...problem, calendars: this.problem.calendars, warehouses: this.problem.warehouses }, (sort, id) =>
      listed(sort === 'receipt' ? this.receiptsOf : this.demandsOf, documentOf(id)).push(id),
    );
    for (const [key, each] of this.book.rowProblems) {
      const [item = ''] = each.subject.split(/[@/](?=[^@/]*$)/);
      listed(this.problemsOf, this.knows(item) ? `item ${item}` : `document ${documentOf(each.subject)}`).push(key);
    }
    this.live = new LivePlan(this.book);
    this.live.runAll();
  }

  get today(): string {
    return this.problem.today;
  }

  get horizon(): string {
    return this.problem.horizon;
  }

  knows(item: string): boolean {
    return this.book.findItem(item) !== undefined;
  }

  /** Has an item planned anew everywhere, though nothing that planning counts with has changed. */
  touchItem(code: string): void {
    const item = this.book.findItem(code);
    if (item === undefined) return;
    for (let warehouse = 0; warehouse < this.book.warehouseCodes.length; warehouse += 1) this.book.touched.add(this.book.node(item, warehouse));
  }

  /** The nodes touched since the last asking; they wait no longer until they are touched again. */
  takeTouched(): readonly number[] {
    const nodes = [...this.book.touched];
    this.book.touched.clear();
    return nodes;
  }

  /** Has nodes planned anew. */
  touchAgain(nodes: readonly number[]): void {
    for (const node of nodes) this.book.touched.add(node);
  }

  /** Tells what a document says now. */
  tellDocument(name: string, rows: DocumentRows): void {
    const input = this.read({ receipts: rows.receipts, demands: rows.demands }, `document ${name}`);
    const receipts = [...input.nodes.values()].flatMap((node) => node.receipts.map((each) => each.id));
    const demands = [...input.nodes.values()].flatMap((node) => node.demands.map((each) => each.id));
    // One line may be both: what leaves a warehouse and is still to come to another. Each goes by itself.
    const [coming, wanted] = [new Set(receipts), new Set(demands)];
    for (const id of this.receiptsOf.get(name) ?? []) if (!coming.has(id)) this.book.dropReceipt(id);
    for (const id of this.demandsOf.get(name) ?? []) if (!wanted.has(id)) this.book.dropDemand(id);
    keep(this.receiptsOf, name, receipts);
    keep(this.demandsOf, name, demands);
    for (const told of input.nodes.values()) {
      const node = this.book.find(told.item.code, told.warehouse);
      if (node === undefined) continue;
      for (const each of told.receipts) this.book.putReceipt(each.id, node, each.date, narrow(each.quantity), each.locked);
      for (const each of told.demands) this.book.putDemand(each.id, node, each.date, narrow(each.quantity), each.kind, each.probability);
    }
  }

  /** Tells what a known item says now. */
  tellItem({ code, rules, bom, stock }: ItemRows): void {
    const item = this.book.findItem(code);
    if (item === undefined) throw new RangeError(`the plan knows no item ${code}`);
    const input = this.read({ rules, stock, boms: [{ item: code, lines: bom }] }, `item ${code}`);
    this.book.setBom(item, input.items.get(code)?.bom ?? []);
    this.book.warehouseCodes.forEach((warehouse, index) => {
      const node = input.nodes.get(nodeKey(code, warehouse));
      this.book.setRule(this.book.node(item, index), node?.rule ?? null, node?.badRule ?? false);
      this.putStock(this.book.node(item, index), node);
    });
  }

  /** Tells an item's stock as it is now. */
  tellStock(code: string, stock: PlanProblem['stock']): void {
    const item = this.book.findItem(code);
    if (item === undefined) throw new RangeError(`the plan knows no item ${code}`);
    const input = this.read({ stock }, `stock ${code}`);
    this.book.warehouseCodes.forEach((warehouse, index) => this.putStock(this.book.node(item, index), input.nodes.get(nodeKey(code, warehouse))));
  }

  private putStock(node: number, read: { readonly stock: readonly { usableUntil: number | null; quantity: bigint }[] } | undefined): void {
    this.book.setStock(node, read?.stock.flatMap((each) => [each.usableUntil ?? EVER, narrow(each.quantity)]) ?? []);
  }

  /** Reads a few rows as those of a whole problem are read; what is wrong in them takes the place of what was before. */
  private read(rows: Partial<PlanProblem>, key: string): PlanInput {
    const codes = new Set([
      ...[...(rows.receipts ?? []), ...(rows.demands ?? []), ...(rows.stock ?? []), ...(rows.rules ?? [])].map((each) => each.item),
      ...(rows.boms ?? []).flatMap((bom) => [bom.item, ...bom.lines.map((line) => line.component)]),
    ]);
    const items = [...codes].flatMap((code) => {
      const index = this.book.findItem(code);
      return index === undefined ? [] : [{ code, decimals: this.book.decimals[index] ?? 0, phantom: this.book.phantoms[index] === true }];
    });
    const { today, horizon, calendars, warehouses } = this.problem;
    const input = readRows({ today, horizon, calendars, warehouses, rules: [], boms: [], stock: [], receipts: [], demands: [], ...rows, items });
    for (const each of this.problemsOf.get(key) ?? []) this.book.rowProblems.delete(each);
    const found = input.problems.sorted();
    for (const each of found) this.book.rowProblems.set(problemKey(each), each);
    keep(this.problemsOf, key, found.map(problemKey));
    return input;
  }
}

function problemKey(problem: DataProblem): string {
  return JSON.stringify([problem.code, problem.subject]);
}

function listed(lists: Map<string, string[]>, key: string): string[] {
  let list = lists.get(key);
  if (!list) {
    list = [];
    lists.set(key, list);
  }
  return list;
}

function keep(lists: Map<string, string[]>, key: string, list: string[]): void {
  if (list.length === 0) lists.delete(key);
  else lists.set(key, list);
}
