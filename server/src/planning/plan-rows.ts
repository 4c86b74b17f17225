/** Writes what was planned to the plan's file: the rows of the nodes planned anew, and how they differ from before. */
import type Sqlite from 'better-sqlite3';
import { FORECAST, asPrice, asQuantity, extend, recordOf, type LivePlan, type PlanWriter } from '@terrace/core';
import type { BuyingTerms } from '../catalogue';
import { writeDifference, type Before } from './plan-differences';
import { Statements } from './plan-statements';

export interface ItemWords {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly decimals: number;
  readonly group: string;
  readonly kind: string;
}

/** What choosing a supplier asks of a suggestion. */
export interface PlannedRow {
  readonly itemId: number;
  /** As the database keeps quantities. */
  readonly units: number;
  readonly daysLate: number;
}

/** What happened, and which nodes it touched itself. */
export interface Cause {
  readonly words: string;
  readonly nodes: ReadonlySet<number>;
}

export interface PlanToWrite {
  readonly live: LivePlan;
  readonly writer: PlanWriter;
  /** Nodes whose rows are to be written. */
  readonly nodes: readonly number[];
  readonly whole: boolean;
  readonly items: ReadonlyMap<string, ItemWords>;
  readonly places: ReadonlyMap<string, number>;
  readonly chooseSupplier: (row: PlannedRow) => BuyingTerms | null;
  readonly priceOf: (itemId: number, supplierId: number, units: number) => number;
  readonly supplierOf: (itemId: number, supplierId: number) => string | null;
  readonly ignored: ReadonlyMap<string, { readonly until: string; readonly note: string }>;
  readonly firm: ReadonlyMap<
    string,
    {
      readonly id: number;
      readonly kind: string;
      readonly supplierId: number | null;
      readonly fromId: number | null;
      readonly placeBy: string;
      readonly note: string;
    }
  >;
  readonly at: string;
  readonly today: string;
  readonly horizon: string;
  readonly historyId: number;
  readonly moveId: number;
  /** Why it was planned anew; none for a first plan, of which nothing is new. */
  readonly causes: readonly Cause[];
  /** When planning began, by the clock of performance. */
  readonly since: number;
}

const MOST_DIFFERENCES = 5000;
const OPEN = 'select count(*) from suggestion where ignored_until is null';
const INSERT_PROBLEM = 'insert into problem (node, code, subject, message, item_id, warehouse_id) values (?, ?, ?, ?, ?, ?)';
/** Late suggestions say so themselves: they are listed once. */
const EXCEPTED = "select count(*) from exception where kind <> 'placeLate'";

interface Tally {
  readonly suggestions: number;
  readonly exceptions: number;
}

function added(known: Tally, fresh: Tally, gone: Tally): Tally {
  return { suggestions: known.suggestions + fresh.suggestions - gone.suggestions, exceptions: known.exceptions + fresh.exceptions - gone.exceptions };
}

export class PlanRows {
  private readonly statements: Statements;

  constructor(private readonly file: Sqlite.Database) {
    this.statements = new Statements(file);
  }

  hasPlan(): boolean {
    return this.statements.of('select 1 from plan_state').get() !== undefined;
  }

  /** Writes in one transaction; gives the plan's new number. */
  write(plan: PlanToWrite): number {
    return this.file.transaction(() => this.writeAll(plan)).immediate();
  }

  private writeAll(plan: PlanToWrite): number {
    const seq = ((this.statements.of('select seq from plan_state').pluck().get() as number | undefined) ?? 0) + 1;
    const before = this.before(plan);
    const counted = plan.whole ? null : this.tally(plan.nodes);
    if (plan.whole) for (const table of ['suggestion', 'exception', 'problem', 'called']) this.statements.of(`delete from ${table}`).run();
    else
      for (const node of plan.nodes)
        for (const table of ['suggestion', 'exception', 'problem', 'called']) this.statements.of(`delete from ${table} where node = ?`).run(node);
    let differences = 0;
    for (const node of plan.nodes) {
      const fresh = this.writeNode(plan, node);
      const old = before?.get(node) ?? [];
      if (before && differences < MOST_DIFFERENCES) differences += writeDifference(this.statements, plan, node, seq, old, fresh);
    }
    this.writeProblems(plan);
    this.statements.of('delete from difference where seq < ?').run(seq - 500);
    const known = this.statements.of('select suggestions, exceptions, endangered from plan_state').get() as
      (Tally & { endangered: number }) | undefined;
    const now = counted && known ? added(known, this.tally(plan.nodes), counted) : this.tally(null);
    this.statements
      .of('insert or replace into plan_state values (1, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)')
      .run(
        seq,
        plan.at,
        plan.today,
        plan.horizon,
        performance.now() - plan.since,
        plan.nodes.length,
        plan.whole ? 1 : 0,
        plan.historyId,
        plan.moveId,
        now.suggestions,
        now.exceptions,
        known?.endangered ?? 0,
      );
    return seq;
  }

  /** How many rows of some nodes, or of all, are to be looked at. */
  private tally(nodes: readonly number[] | null): Tally {
    const one = (sql: string, node?: number): number =>
      this.statements
        .of(sql)
        .pluck()
        .get(...(node === undefined ? [] : [node])) as number;
    if (nodes === null) return { suggestions: one(`${OPEN}`), exceptions: one(`${EXCEPTED}`) };
    let [suggestions, exceptions] = [0, 0];
    for (const node of nodes) {
      suggestions += one(`${OPEN} and node = ?`, node);
      exceptions += one(`${EXCEPTED} and node = ?`, node);
    }
    return { suggestions, exceptions };
  }

  /** What was suggested before for the nodes that are written; `null` where that says nothing. */
  private before(plan: PlanToWrite): Map<number, Before[]> | null {
    if (plan.causes.length === 0) return null;
    const found = new Map<number, Before[]>();
    if (plan.whole) {
      // Nodes are numbered anew with a whole plan: what was before is found by item and warehouse.
      const { book } = plan.live;
      for (const row of this.statements
        .of('select code, warehouse, name, kind, quantity, due from suggestion where firm_id is null order by id')
        .iterate()) {
        const { code, warehouse, ...each } = row as Before & { code: string; warehouse: string };
        const node = book.find(code, warehouse);
        if (node === undefined) continue;
        const list = found.get(node);
        if (list) list.push(each);
        else found.set(node, [each]);
      }
      return found;
    }
    const rows = this.statements.of('select name, kind, quantity, due from suggestion where node = ? and firm_id is null order by id');
    for (const node of plan.nodes) found.set(node, rows.all(node) as Before[]);
    return found;
  }

  private writeNode(plan: PlanToWrite, node: number): Before[] {
    const { live, writer } = plan;
    const { book } = live;
    const item = plan.items.get(book.itemCodes[book.itemOf(node)] ?? '');
    const warehouse = book.warehouseCodes[book.warehouseOf(node)] ?? '';
    const warehouseId = plan.places.get(warehouse);
    if (!item || warehouseId === undefined) return [];
    const level = live.graph.levels[node] ?? 0;
    const ignored = plan.ignored.get(`${item.id} ${warehouseId}`);
    const fresh: Before[] = [];
    let unsold = false;
    const insert = this.statements.of(
      `insert into suggestion (node, name, firm_id, kind, item_id, warehouse_id, from_id, code, description, unit, decimals, group_code, warehouse, source, quantity, place_by, due, needed_by,
         days_late, supplier_id, supplier, cost, level, balance, threshold, missing, sized, pegs, ignored_until, ignored_note, note)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    );
    const words = [item.code, item.description, item.unit, item.decimals, item.group, warehouse] as const;
    for (const { suggestion, reason } of writer.suggestions(node)) {
      const { id, kind, quantity, due, daysLate, from } = suggestion;
      const units = unitsOf(quantity);
      const terms = kind === 'buy' ? plan.chooseSupplier({ itemId: item.id, units, daysLate }) : null;
      const cost = terms ? extend(asQuantity(units), asPrice(plan.priceOf(item.id, terms.supplierId, units))) : 0;
      const fromId = from === null ? null : (plan.places.get(from) ?? null);
      const { balance, threshold, missing, sized } = reason;
      insert.run(
        node,
        id,
        null,
        kind,
        item.id,
        warehouseId,
        fromId,
        ...words,
        from,
        quantity,
        suggestion.placeBy,
        due,
        suggestion.neededBy,
        daysLate,
        terms?.supplierId ?? null,
        terms?.supplier ?? null,
        cost,
        level,
        balance,
        threshold,
        missing,
        sized,
        JSON.stringify(suggestion.pegs),
        ignored?.until ?? null,
        ignored?.note ?? null,
        null,
      );
      unsold ||= kind === 'buy' && terms === null;
      fresh.push({ name: id, kind, quantity, due });
    }
    if (unsold)
      this.statements
        .of(INSERT_PROBLEM)
        .run(node, 'noSupplier', `${item.code}@${warehouse}`, `${item.code} is to be bought, but nobody is known to sell it.`, item.id, warehouseId);
    for (const row of book.receiptsOf[node] ?? []) {
      const number = book.receipts.ids[row] ?? '';
      const firm = plan.firm.get(number);
      if (!firm) continue;
      const quantity = writer.quantity(node, book.receipts.quantities[row] ?? 0);
      const units = unitsOf(quantity);
      const cost = firm.supplierId === null ? 0 : extend(asQuantity(units), asPrice(plan.priceOf(item.id, firm.supplierId, units)));
      const due = writer.date(book.receipts.days[row] ?? 0);
      const pegs = writer.pegs(node).filter((peg) => peg.supply === number);
      const from = [...plan.places].find(([, id]) => id === firm.fromId)?.[0] ?? null;
      insert.run(
        node,
        number,
        firm.id,
        firm.kind,
        item.id,
        warehouseId,
        firm.fromId,
        ...words,
        from,
        quantity,
        firm.placeBy,
        due,
        due,
        0,
        firm.supplierId,
        firm.supplierId === null ? null : plan.supplierOf(item.id, firm.supplierId),
        cost,
        level,
        '',
        '',
        '',
        '',
        JSON.stringify(pegs.map(({ demand, quantity: part }) => ({ demand, quantity: part }))),
        null,
        null,
        firm.note,
      );
    }
    const except = this.statements.of(
      'insert into exception (node, kind, subject, item_id, warehouse_id, code, description, unit, warehouse, from_date, to_date, quantity) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    );
    for (const each of writer.exceptions(node))
      except.run(
        node,
        each.kind,
        each.subject,
        item.id,
        warehouseId,
        item.code,
        item.description,
        item.unit,
        warehouse,
        each.from,
        each.to,
        each.quantity,
      );
    const called = this.statements.of('insert into called (node, item_id, warehouse_id, name, day, quantity) values (?, ?, ?, ?, ?, ?)');
    const calls = live.callsFor(node);
    for (let at = 0; at < calls.length; at += 4)
      called.run(
        node,
        item.id,
        warehouseId,
        `${book.keyOf(calls[at] ?? 0)}#${calls[at + 1] ?? 0}`,
        writer.date(calls[at + 2] ?? 0),
        writer.quantity(node, calls[at + 3] ?? 0),
      );
    // Forecasts that orders have left are wanted of the plan's own, like what its suggestions call for.
    if ((book.demandsOf[node] ?? []).some((row) => book.demands.marks[row] === FORECAST))
      for (const event of recordOf(live, node))
        if (event.what === 'forecast')
          called.run(node, item.id, warehouseId, event.id, writer.date(event.day), writer.quantity(node, -event.quantity));
    return fresh;
  }

  /** Problems of rows and loops are few, and are written anew each time. */
  private writeProblems(plan: PlanToWrite): void {
    const { live } = plan;
    const insert = this.statements.of(INSERT_PROBLEM);
    for (const node of plan.nodes) {
      for (const each of live.nodeProblems(node)) insert.run(node, each.code, each.subject, each.message, ...this.placeOf(plan, each.subject));
    }
    this.statements.of('delete from problem where node = -1').run();
    for (const each of [...live.book.rowProblems.values(), ...live.graph.loops])
      insert.run(-1, each.code, each.subject, each.message, ...this.placeOf(plan, each.subject));
  }

  private placeOf(plan: PlanToWrite, subject: string): [number | null, number | null] {
    const [item = '', warehouse = ''] = subject.split(' > ')[0]?.split(/[@/]/) ?? [];
    return [plan.items.get(item)?.id ?? null, plan.places.get(warehouse) ?? null];
  }
}

/** A quantity as the database keeps them. A plan may hold more than may be typed, so it is not parsed as typed text. */
function unitsOf(quantity: string): number {
  return Math.round(Number(quantity) * 100_000);
}
