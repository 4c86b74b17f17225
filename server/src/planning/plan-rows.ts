/** Writes what was planned to the plan's file: the rows of the nodes planned anew, and how they differ from before. */
import type Sqlite from 'better-sqlite3';
import { FORECAST, asPrice, asQuantity, dateOf, extend, recordOf, type Arrival, type LivePlan, type PlanWriter } from '@terrace/core';
import type { BuyingTerms } from '../catalogue';

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

interface Before {
  readonly name: string;
  readonly kind: string;
  readonly quantity: string;
  readonly due: string;
}

const MOST_DIFFERENCES = 5000;
const OPEN = 'select count(*) from suggestion where ignored_until is null';
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
  private readonly statements = new Map<string, Sqlite.Statement>();

  constructor(private readonly file: Sqlite.Database) {}

  hasPlan(): boolean {
    return this.statement('select 1 from plan_state').get() !== undefined;
  }

  /** Writes in one transaction; gives the plan's new number. */
  write(plan: PlanToWrite): number {
    return this.file.transaction(() => this.writeAll(plan)).immediate();
  }

  private writeAll(plan: PlanToWrite): number {
    const seq = ((this.statement('select seq from plan_state').pluck().get() as number | undefined) ?? 0) + 1;
    const before = this.before(plan);
    const counted = plan.whole ? null : this.tally(plan.nodes);
    if (plan.whole) for (const table of ['suggestion', 'exception', 'problem', 'called']) this.statement(`delete from ${table}`).run();
    else
      for (const node of plan.nodes)
        for (const table of ['suggestion', 'exception', 'problem', 'called']) this.statement(`delete from ${table} where node = ?`).run(node);
    let differences = 0;
    for (const node of plan.nodes) {
      const fresh = this.writeNode(plan, node);
      const old = before?.get(node) ?? [];
      if (before && differences < MOST_DIFFERENCES) differences += this.writeDifference(plan, node, seq, old, fresh);
    }
    this.writeProblems(plan);
    this.statement('delete from difference where seq < ?').run(seq - 500);
    const known = this.statement('select suggestions, exceptions, endangered from plan_state').get() as (Tally & { endangered: number }) | undefined;
    const now = counted && known ? added(known, this.tally(plan.nodes), counted) : this.tally(null);
    this.statement('insert or replace into plan_state values (1, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)').run(
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
      this.statement(sql)
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
      for (const row of this.statement(
        'select code, warehouse, name, kind, quantity, due from suggestion where firm_id is null order by id',
      ).iterate()) {
        const { code, warehouse, ...each } = row as Before & { code: string; warehouse: string };
        const node = book.find(code, warehouse);
        if (node === undefined) continue;
        const list = found.get(node);
        if (list) list.push(each);
        else found.set(node, [each]);
      }
      return found;
    }
    const rows = this.statement('select name, kind, quantity, due from suggestion where node = ? and firm_id is null order by id');
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
    const insert = this.statement(
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
      fresh.push({ name: id, kind, quantity, due });
    }
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
    const except = this.statement(
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
    const called = this.statement('insert into called (node, item_id, warehouse_id, name, day, quantity) values (?, ?, ?, ?, ?, ?)');
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
    const insert = this.statement('insert into problem (node, code, subject, message, item_id, warehouse_id) values (?, ?, ?, ?, ?, ?)');
    for (const node of plan.nodes) {
      for (const each of live.nodeProblems(node)) insert.run(node, each.code, each.subject, each.message, ...this.placeOf(plan, each.subject));
    }
    this.statement('delete from problem where node = -1').run();
    for (const each of [...live.book.rowProblems.values(), ...live.graph.loops])
      insert.run(-1, each.code, each.subject, each.message, ...this.placeOf(plan, each.subject));
  }

  private placeOf(plan: PlanToWrite, subject: string): [number | null, number | null] {
    const [item = '', warehouse = ''] = subject.split(' > ')[0]?.split(/[@/]/) ?? [];
    return [plan.items.get(item)?.id ?? null, plan.places.get(warehouse) ?? null];
  }

  /** Writes when each order line can be served; says whether that differs from before. */
  writePromises(promises: ReadonlyMap<string, Arrival>): boolean {
    interface Kept {
      readonly demand: string;
      readonly wanted: string;
      readonly ready: string;
      readonly cause: string;
    }
    const write = (): boolean => {
      const known = new Map((this.statement('select demand, wanted, ready, cause from promise').all() as Kept[]).map((each) => [each.demand, each]));
      const put = this.statement('insert or replace into promise (demand, wanted, ready, cause) values (?, ?, ?, ?)');
      let changed = false;
      const dates = new Map<number, string>();
      const date = (day: number): string => {
        const written = dates.get(day) ?? dateOf(day);
        dates.set(day, written);
        return written;
      };
      for (const [demand, arrival] of promises) {
        const [wanted, ready, { cause }] = [date(arrival.wanted), arrival.ready === null ? '' : date(arrival.ready), arrival];
        const before = known.get(demand);
        known.delete(demand);
        if (before?.ready === ready && before.cause === cause && before.wanted === wanted) continue;
        put.run(demand, wanted, ready, cause);
        changed = true;
      }
      const endangered = [...promises.values()].filter((each) => each.ready === null || each.ready > each.wanted).length;
      this.statement('update plan_state set endangered = ?').run(endangered);
      const drop = this.statement('delete from promise where demand = ?');
      for (const demand of known.keys()) drop.run(demand);
      return changed || known.size > 0;
    };
    return this.file.transaction(write).immediate();
  }

  /** Tells how a node's suggestions differ from before; those alike in quantity and day are the same. */
  private writeDifference(plan: PlanToWrite, node: number, seq: number, old: readonly Before[], fresh: readonly Before[]): number {
    const same = (a: Before, b: Before): boolean => a.kind === b.kind && a.quantity === b.quantity && a.due === b.due;
    const left = [...old];
    const added: Before[] = [];
    for (const each of fresh) {
      const at = left.findIndex((one) => same(one, each));
      if (at < 0) added.push(each);
      else left.splice(at, 1);
    }
    if (left.length === 0 && added.length === 0) return 0;
    const { book } = plan.live;
    const item = plan.items.get(book.itemCodes[book.itemOf(node)] ?? '');
    const warehouse = book.warehouseCodes[book.warehouseOf(node)] ?? '';
    const insert = this.statement(
      'insert into difference (seq, at, item_id, warehouse_id, code, description, warehouse, kind, change, before, after, cause) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    );
    const words = (row: Before | undefined): string => (row ? `${row.quantity} ${item?.unit ?? ''} due ${row.due}` : '');
    const count = Math.max(left.length, added.length);
    for (let index = 0; index < count; index += 1) {
      const [from, to] = [left[index], added[index]];
      const change = !from ? 'new' : !to ? 'gone' : from.due === to.due ? 'changed' : 'moved';
      insert.run(
        seq,
        plan.at,
        item?.id ?? 0,
        plan.places.get(warehouse) ?? 0,
        item?.code ?? '',
        item?.description ?? '',
        warehouse,
        (to ?? from)?.kind ?? '',
        change,
        words(from),
        words(to),
        causeOf(plan.causes, node),
      );
    }
    return count;
  }

  private statement(sql: string): Sqlite.Statement {
    let prepared = this.statements.get(sql);
    if (!prepared) {
      prepared = this.file.prepare(sql);
      this.statements.set(sql, prepared);
    }
    return prepared;
  }
}

/** A quantity as the database keeps them. A plan may hold more than may be typed, so it is not parsed as typed text. */
function unitsOf(quantity: string): number {
  return Math.round(Number(quantity) * 100_000);
}

/** What touched a node itself; where nothing did, what happened, since that called for it. */
function causeOf(causes: readonly Cause[], node: number): string {
  const own = causes.filter((each) => each.nodes.has(node));
  const said = [...new Set((own.length > 0 ? own : causes).map((each) => each.words))];
  return said.slice(0, 3).join('; ') + (said.length > 3 ? ` and ${said.length - 3} more` : '');
}
