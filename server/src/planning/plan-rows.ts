/** Writes what was planned to the plan's file: the rows of the nodes planned anew, and how they differ from before. */
import { and, eq, getTableColumns, isNull, lt, ne, sql } from 'drizzle-orm';
import { FORECAST, asPrice, asQuantity, dateOf, dayOf, extend, recordOf, writeQuantity } from '@terrace/core';
import { atOnce } from '../platform/database-file';
import type { Store } from '../platform/database';
import { command, query } from '../platform/query';
import { adding } from '../platform/rows';
import { writeDifference, type Before } from './plan-differences';
import { called, difference, exception, planState, problem, suggestion } from './plan-schema';
import type { PlanToWrite } from './plan-to-write';

const MOST_DIFFERENCES = 5000;
/** Of no node: rows that can't be read, and loops. */
const NO_NODE = -1;
const KEPT_PLANS = 500;

const state = query(() => (db) => db.select().from(planState));
const keepState = command(($: typeof planState.$inferInsert) => (db) => {
  const fields = Object.keys(getTableColumns(planState)) as (keyof typeof planState.$inferInsert)[];
  const set = Object.fromEntries(fields.filter((field) => field !== 'id').map((field) => [field, $[field]]));
  return db
    .insert(planState)
    .values({ id: ONLY, ...set } as typeof planState.$inferInsert)
    .onConflictDoUpdate({ target: planState.id, set });
});
const ONLY = 1;

/** The tables whose rows belong to nodes. */
const OF_NODES = [suggestion, exception, problem, called] as const;
const dropAll = OF_NODES.map((table) => command(() => (db) => db.delete(table)));
const dropOfNode = OF_NODES.map((table) => command(($: { node: number }) => (db) => db.delete(table).where(eq(table.node, $.node))));
const dropDifferencesBefore = command(($: { seq: number }) => (db) => db.delete(difference).where(lt(difference.seq, $.seq)));
const addSuggestion = adding(suggestion);
const addException = adding(exception);
const addProblem = adding(problem);
const addCalled = adding(called);

const tallied = { n: sql<number>`count(*)` };
const isOpen = isNull(suggestion.ignoredUntil);
/** Late suggestions say so themselves: they are listed once. */
const isExcepted = ne(exception.kind, sql`'placeLate'`);
const open = query(() => (db) => db.select(tallied).from(suggestion).where(isOpen));
const openOfNode = query(
  ($: { node: number }) => (db) =>
    db
      .select(tallied)
      .from(suggestion)
      .where(and(isOpen, eq(suggestion.node, $.node))),
);
const excepted = query(() => (db) => db.select(tallied).from(exception).where(isExcepted));
const exceptedOfNode = query(
  ($: { node: number }) => (db) =>
    db
      .select(tallied)
      .from(exception)
      .where(and(isExcepted, eq(exception.node, $.node))),
);

const COMPARED = { name: suggestion.name, kind: suggestion.kind, quantity: suggestion.quantity, due: suggestion.due };
const suggestedBefore = query(
  () => (db) =>
    db
      .select({ ...COMPARED, code: suggestion.code, warehouse: suggestion.warehouse })
      .from(suggestion)
      .where(isNull(suggestion.firmId))
      .orderBy(suggestion.id),
);
const suggestedForNode = query(
  ($: { node: number }) => (db) =>
    db
      .select(COMPARED)
      .from(suggestion)
      .where(and(eq(suggestion.node, $.node), isNull(suggestion.firmId)))
      .orderBy(suggestion.id),
);

interface Tally {
  readonly suggestions: number;
  readonly exceptions: number;
}

function added(known: Tally, fresh: Tally, gone: Tally): Tally {
  return { suggestions: known.suggestions + fresh.suggestions - gone.suggestions, exceptions: known.exceptions + fresh.exceptions - gone.exceptions };
}

export class PlanRows {
  constructor(readonly store: Store) {}

  hasPlan(): boolean {
    return state.one(this) !== undefined;
  }

  /** Writes in one transaction; gives the plan's new number. */
  write(plan: PlanToWrite): number {
    return atOnce(this.store, () => this.writeAll(plan));
  }

  private writeAll(plan: PlanToWrite): number {
    const known = state.one(this);
    const seq = (known?.seq ?? 0) + 1;
    const before = this.before(plan);
    const counted = plan.whole ? null : this.tally(plan.nodes);
    if (plan.whole) for (const drop of dropAll) drop.run(this);
    else for (const node of plan.nodes) for (const drop of dropOfNode) drop.run(this, { node });
    let differences = 0;
    for (const node of plan.nodes) {
      const fresh = this.writeNode(plan, node);
      const old = before?.get(node) ?? [];
      if (before && differences < MOST_DIFFERENCES) differences += writeDifference(this, plan, node, seq, old, fresh);
    }
    this.writeProblems(plan);
    dropDifferencesBefore.run(this, { seq: seq - KEPT_PLANS });
    const now = counted && known ? added(known, this.tally(plan.nodes), counted) : this.tally(null);
    keepState.run(this, {
      id: ONLY,
      seq,
      at: plan.at,
      today: plan.today,
      horizon: plan.horizon,
      milliseconds: performance.now() - plan.since,
      planned: plan.nodes.length,
      whole: plan.whole,
      historyId: plan.historyId,
      moveId: plan.moveId,
      ...now,
      endangered: known?.endangered ?? 0,
    });
    return seq;
  }

  /** How many rows of some nodes, or of all, are to be looked at. */
  private tally(nodes: readonly number[] | null): Tally {
    if (nodes === null) return { suggestions: open.one(this)?.n ?? 0, exceptions: excepted.one(this)?.n ?? 0 };
    let [suggestions, exceptions] = [0, 0];
    for (const node of nodes) {
      suggestions += openOfNode.one(this, { node })?.n ?? 0;
      exceptions += exceptedOfNode.one(this, { node })?.n ?? 0;
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
      for (const { code, warehouse, ...each } of suggestedBefore.each(this)) {
        const node = book.find(code, warehouse);
        if (node === undefined) continue;
        const list = found.get(node);
        if (list) list.push(each);
        else found.set(node, [each]);
      }
      return found;
    }
    for (const node of plan.nodes) found.set(node, suggestedForNode.all(this, { node }));
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
    // Rows are written out field by field: there are hundreds of thousands, and spreading each takes a tenth of the whole.
    const { id: itemId, code, description, unit, decimals, group: groupCode } = item;
    for (const { suggestion: each, reason } of writer.suggestions(node)) {
      const { id, kind, quantity, due, daysLate, from } = each;
      const units = unitsOf(quantity);
      const supplied =
        kind === 'buy'
          ? plan.chooseSupplier({
              itemId,
              warehouseId,
              quantity: units,
              // Days are read only where another supplier may be sooner: most come in time.
              neededBy: daysLate === 0 ? 0 : dayOf(each.neededBy),
              placeBy: daysLate === 0 ? 0 : dayOf(each.placeBy),
              due: daysLate === 0 ? 0 : dayOf(due),
              daysLate,
            })
          : null;
      const terms = supplied?.offer ?? null;
      const other = supplied?.insteadOf ?? null;
      const orderedUnits = supplied?.ordered ?? units;
      const cost = terms ? extend(asQuantity(orderedUnits), asPrice(plan.priceOf(item.id, terms.supplierId, orderedUnits))) : 0;
      const fromId = from === null ? null : (plan.places.get(from) ?? null);
      const { balance, threshold, missing, sized } = reason;
      addSuggestion.run(this, {
        node,
        itemId,
        warehouseId,
        code,
        description,
        unit,
        warehouse,
        decimals,
        groupCode,
        level,
        name: id,
        firmId: null,
        kind,
        fromId,
        source: from,
        quantity,
        placeBy: other === null ? each.placeBy : dateOf(supplied?.placeBy ?? 0),
        due: other === null ? due : dateOf(supplied?.due ?? 0),
        neededBy: each.neededBy,
        daysLate: supplied?.daysLate ?? daysLate,
        supplierId: terms?.supplierId ?? null,
        supplier: terms?.supplier ?? null,
        ordered: orderedUnits === units ? quantity : writeQuantity(orderedUnits),
        insteadOf: other?.offer.supplier ?? null,
        insteadLate: other?.daysLate ?? 0,
        cost,
        balance,
        threshold,
        missing,
        sized,
        pegs: each.pegs,
        ignoredUntil: ignored?.until ?? null,
        ignoredNote: ignored?.note ?? null,
        note: null,
      });
      unsold ||= kind === 'buy' && terms === null;
      fresh.push({ name: id, kind, quantity, due: other === null ? due : dateOf(supplied?.due ?? 0) });
    }
    if (unsold)
      addProblem.run(this, {
        node,
        code: 'noSupplier',
        subject: `${item.code}@${warehouse}`,
        message: `${item.code} is to be bought, but no supplier sells it.`,
        itemId: item.id,
        warehouseId,
      });
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
      addSuggestion.run(this, {
        node,
        itemId,
        warehouseId,
        code,
        description,
        unit,
        warehouse,
        decimals,
        groupCode,
        level,
        name: number,
        firmId: firm.id,
        kind: firm.kind,
        fromId: firm.fromId,
        source: from,
        quantity,
        placeBy: firm.placeBy,
        due,
        neededBy: due,
        daysLate: 0,
        supplierId: firm.supplierId,
        supplier: firm.supplierId === null ? null : plan.supplierOf(item.id, firm.supplierId),
        ordered: quantity,
        insteadOf: null,
        insteadLate: 0,
        cost,
        balance: '',
        threshold: '',
        missing: '',
        sized: '',
        pegs: pegs.map(({ demand, quantity: part }) => ({ demand, quantity: part })),
        ignoredUntil: null,
        ignoredNote: null,
        note: firm.note,
      });
    }
    for (const each of writer.exceptions(node))
      addException.run(this, {
        node,
        itemId,
        warehouseId,
        code,
        description,
        unit,
        warehouse,
        kind: each.kind,
        subject: each.subject,
        fromDate: each.from,
        toDate: each.to,
        quantity: each.quantity,
      });
    const calls = live.callsFor(node);
    for (let at = 0; at < calls.length; at += 4)
      addCalled.run(this, {
        node,
        itemId,
        warehouseId,
        name: `${book.keyOf(calls[at] ?? 0)}#${calls[at + 1] ?? 0}`,
        day: writer.date(calls[at + 2] ?? 0),
        quantity: writer.quantity(node, calls[at + 3] ?? 0),
      });
    // Forecasts that orders have left are wanted of the plan's own, like what its suggestions call for.
    if ((book.demandsOf[node] ?? []).some((row) => book.demands.marks[row] === FORECAST))
      for (const event of recordOf(live, node))
        if (event.what === 'forecast')
          addCalled.run(this, {
            node,
            itemId,
            warehouseId,
            name: event.id,
            day: writer.date(event.day),
            quantity: writer.quantity(node, -event.quantity),
          });
    return fresh;
  }

  /** Problems of rows and loops are few, and are written anew each time. */
  private writeProblems(plan: PlanToWrite): void {
    const { live } = plan;
    for (const node of plan.nodes) for (const each of live.nodeProblems(node)) this.writeProblem(plan, node, ofInactive(plan, node, each));
    dropOfNode[OF_NODES.indexOf(problem)]?.run(this, { node: NO_NODE });
    for (const each of [...live.book.rowProblems.values(), ...live.graph.loops]) this.writeProblem(plan, NO_NODE, each);
    for (const currency of plan.unpriced)
      addProblem.run(this, {
        node: NO_NODE,
        code: 'noRate',
        subject: currency,
        message: `There is no exchange rate of ${currency} for ${plan.today} or before: what suppliers ask in ${currency} is left out.`,
        itemId: null,
        warehouseId: null,
      });
  }

  /** Says in the place of other problems that belong to no item why nothing could be planned. */
  writeFailure(message: string): void {
    atOnce(this.store, () => {
      dropOfNode[OF_NODES.indexOf(problem)]?.run(this, { node: NO_NODE });
      addProblem.run(this, { node: NO_NODE, code: 'notPlanned', subject: '', message, itemId: null, warehouseId: null });
    });
  }

  private writeProblem(plan: PlanToWrite, node: number, { code, subject, message }: Problem): void {
    const [item = '', warehouse = ''] = subject.split(' > ')[0]?.split(/[@/]/) ?? [];
    addProblem.run(this, { node, code, subject, message, itemId: plan.items.get(item)?.id ?? null, warehouseId: plan.places.get(warehouse) ?? null });
  }
}

interface Problem {
  readonly code: string;
  readonly subject: string;
  readonly message: string;
}

const MOST_NAMED = 3;

/** Where an item that was given up is wanted no rule is missing: whoever wants it is told of. */
function ofInactive({ live, items }: PlanToWrite, node: number, problem: Problem): Problem {
  const { book } = live;
  const item = items.get(book.itemCodes[book.itemOf(node)] ?? '');
  if (problem.code !== 'noRule' || !item || item.active) return problem;
  const wanting = live.wantedBy(node);
  const more = wanting.length > MOST_NAMED ? ` and ${wanting.length - MOST_NAMED} more` : '';
  return {
    ...problem,
    code: 'inactiveItem',
    message: `${item.code} is not active any more, but ${wanting.slice(0, MOST_NAMED).join(', ')}${more} still ${wanting.length === 1 ? 'wants' : 'want'} it in ${book.warehouseCodes[book.warehouseOf(node)] ?? ''}: nothing is suggested.`,
  };
}

/** A quantity as the database keeps them. A plan may hold more than may be typed, so it is not parsed as typed text. */
function unitsOf(quantity: string): number {
  return Math.round(Number(quantity) * 100_000);
}
