/**
 * Keeps the plan in step with the database: reads what history says has changed, plans anew what depends on it and writes
 * that to the plan's file. Works in a thread of its own, or in the caller's where nobody waits.
 */
import { PegTrail, PlanKeeper, PlanWriter, TooWide, dayOf, priceAt, supply, type Reserved, type WorkingCalendar } from '@terrace/core';
import type { DocumentKind } from '@terrace/contract';
import { eq, gt, sql, type SQL } from 'drizzle-orm';
import { purchaseOrder } from '../buying';
import { calendarOf, currenciesWithoutRate, item, unit, validTerms, type BuyingTerms } from '../catalogue';
import { shipment } from '../dispatch';
import { atOneMoment } from '../platform/database-file';
import type { Database, Store } from '../platform/database';
import { query } from '../platform/query';
import { history, user } from '../platform/schema';
import { NOBODY, Work } from '../platform/work';
import { productionOrder } from '../production';
import { customerOrder } from '../selling';
import { lot, lotsOnTheWay, stockMove, transfer } from '../stores';
import { answerQuestion, type Answer, type Question } from './ask-plan';
import { writePromises } from './plan-promises';
import { PlanRows } from './plan-rows';
import type { Cause, ItemWords } from './plan-to-write';
import { places } from './problem-queries';
import { planFirm, planIgnored } from './schema';
import { forecastName, gatherDocument, gatherForecast, gatherItem, gatherReserved, gatherRows, gatherStock, type PlannedDocument } from './problem';

const MOST_CHANGES = 2000;

/** What came of catching up. */
export interface PlanMade {
  readonly seq: number;
  /** Nodes that were planned anew. */
  readonly planned: number;
  readonly whole: boolean;
  readonly milliseconds: number;
}

/** What a change of a kind of record asks for. */
type Refresh = PlannedDocument | 'shipment' | 'item' | 'stockOfLot' | 'everything' | 'nothing';
const REFRESH: Readonly<Record<DocumentKind | 'plan' | 'setup', Refresh>> = {
  customerOrder: 'customerOrder',
  purchaseOrder: 'purchaseOrder',
  productionOrder: 'productionOrder',
  transfer: 'transfer',
  shipment: 'shipment',
  customerReturn: 'nothing',
  counterSale: 'nothing',
  incomingOrder: 'nothing',
  drawer: 'nothing',
  item: 'item',
  lot: 'stockOfLot',
  supplier: 'everything',
  setup: 'everything',
  plan: 'firm',
  // These move stock, which the moves themselves tell, or nothing that is planned.
  receipt: 'nothing',
  completion: 'nothing',
  adjustment: 'nothing',
  relocation: 'nothing',
  invoice: 'nothing',
  payment: 'nothing',
  lateCost: 'nothing',
  revaluation: 'nothing',
  reclassification: 'nothing',
  serialNumber: 'nothing',
  customer: 'nothing',
};

const historySince = query(
  ($: { id: number }) => (db) =>
    db
      .select({ id: history.id, kind: history.kind, recordId: history.recordId, what: history.what, who: user.name })
      .from(history)
      .innerJoin(user, eq(user.id, history.userId))
      .where(gt(history.id, $.id))
      .orderBy(history.id),
);
/** Items that have moved since, with the numbers of what moved them. */
const movedSince = query(
  ($: { id: number }) => (db) =>
    db
      .select({ item: stockMove.itemId, documents: sql<string>`group_concat(distinct ${stockMove.documentNumber})` })
      .from(stockMove)
      .where(gt(stockMove.id, $.id))
      .groupBy(stockMove.itemId),
);
const lastMove = query(() => (db) => db.select({ id: sql<number | null>`max(${stockMove.id})` }).from(stockMove));
type HistoryRow = ReturnType<typeof historySince.all>[number];
type Moved = ReturnType<typeof movedSince.all>[number];

const itemOfLot = query(($: { id: number }) => (db) => db.select({ item: lot.itemId }).from(lot).where(eq(lot.id, $.id)));
const orderOfShipment = query(($: { id: number }) => (db) => db.select({ order: shipment.orderId }).from(shipment).where(eq(shipment.id, $.id)));
const numbered = (table: typeof customerOrder | typeof purchaseOrder | typeof productionOrder | typeof transfer | typeof planFirm) =>
  query(($: { id: number }) => (db) => db.select({ number: table.number }).from(table).where(eq(table.id, $.id)));
const numberOf: Readonly<Record<PlannedDocument, ReturnType<typeof numbered>>> = {
  customerOrder: numbered(customerOrder),
  purchaseOrder: numbered(purchaseOrder),
  productionOrder: numbered(productionOrder),
  transfer: numbered(transfer),
  firm: numbered(planFirm),
};

const wordsOf = (db: Database, where?: SQL) =>
  db
    .select({
      id: item.id,
      code: item.code,
      description: item.description,
      unit: item.unitCode,
      decimals: unit.decimals,
      group: item.groupCode,
      kind: item.kind,
      active: item.active,
    })
    .from(item)
    .innerJoin(unit, eq(unit.code, item.unitCode))
    .where(where);
const allWords = query(() => (db) => wordsOf(db));
const wordsOfOne = query(($: { id: number }) => (db) => wordsOf(db, eq(item.id, $.id)));
const putAside = query(
  ($: { today: string }) => (db) =>
    db
      .select({ itemId: planIgnored.itemId, warehouseId: planIgnored.warehouseId, until: planIgnored.until, note: planIgnored.note })
      .from(planIgnored)
      .where(gt(planIgnored.until, $.today)),
);
const keptSuggestions = query(() => (db) => db.select().from(planFirm));

export class Planner {
  private readonly rows: PlanRows;
  private keeper: PlanKeeper | null = null;
  private items = new Map<string, ItemWords>();
  private readonly codes = new Map<number, string>();
  private readonly places = new Map<string, number>();
  private terms = new Map<number, BuyingTerms[]>();
  private firmNumbers = new Map<number, string>();
  private trail: PegTrail | null = null;
  private promised = true;
  private historyId = -1;
  private moveId = -1;

  constructor(
    private readonly store: Store,
    private readonly file: Store,
    private readonly clock: () => { readonly today: string; readonly now: string },
  ) {
    this.rows = new PlanRows(file);
  }

  /** Plans everything. */
  planAll(): PlanMade {
    return this.inSnapshot((work) => this.all(work, 'everything was planned'));
  }

  /** Plans what has changed since the last time; `null` where nothing has. */
  catchUp(): PlanMade | null {
    return this.inSnapshot((work) => {
      const { keeper } = this;
      if (!keeper || keeper.today !== work.today) return this.all(work, keeper ? 'a new day' : 'everything was planned');
      const changes = historySince.all(work, { id: this.historyId });
      const moved = movedSince.all(work, { id: this.moveId });
      if (changes.length === 0 && moved.length === 0) return null;
      // What a large file brought is read faster as a whole than record by record.
      if (changes.length > MOST_CHANGES || changes.some((each) => REFRESH[each.kind] === 'everything')) return this.all(work, causeOf(changes));
      const start = performance.now();
      try {
        const causes = this.follow(work, changes, moved);
        if (!causes) return this.all(work, causeOf(changes));
        const planned = keeper.live.catchUp();
        this.noteSeen(work);
        return this.write(work, planned, false, start, causes);
      } catch (error) {
        // Whatever was half told is told again from the start.
        this.keeper = null;
        throw error;
      }
    });
  }

  /** Notes in the kept plan that it could not be planned anew, and why; the next time that it can be, that goes. */
  noteFailure(message: string): void {
    this.rows.writeFailure(message);
  }

  /** Plans everything, with what orders can be promised. */
  planAllNow(): PlanMade {
    const made = this.planAll();
    this.keepPromises();
    return made;
  }

  /** Plans what has changed, with what orders can be promised; `null` where nothing has. */
  settleNow(): PlanMade | null {
    const made = this.catchUp();
    this.keepPromises();
    return made;
  }

  /** Writes when each order line can be served, where the plan has changed since; says whether any line changed. */
  keepPromises(): boolean {
    const { keeper } = this;
    if (!keeper || this.promised) return false;
    this.promised = true;
    return writePromises(this.file, this.trailOf(keeper).arrivals.ofOrders());
  }

  /** Answers a question about the plan as it is kept. */
  ask(question: Question): Answer {
    if (!this.keeper) this.settleNow();
    const { keeper } = this;
    if (!keeper) throw new RangeError('nothing is planned yet');
    return answerQuestion(keeper, { trail: () => this.trailOf(keeper), reserved: () => this.reserved() }, this.items, question);
  }

  private trailOf(keeper: PlanKeeper): PegTrail {
    this.trail ??= new PegTrail(keeper.live, this.reserved());
    return this.trail;
  }

  private reserved(): Reserved {
    return this.inSnapshot((work) => gatherReserved(work));
  }

  /** Tells the plan what history says has changed, and which nodes each change touched; `null` where it has to be read as a whole. */
  private follow(work: Work, changes: readonly HistoryRow[], moved: readonly Moved[]): readonly Cause[] | null {
    const { keeper } = this;
    if (!keeper) return null;
    const causes: Cause[] = [];
    const because = (words: string): void => {
      const nodes = keeper.takeTouched();
      if (nodes.length > 0) causes.push({ words, nodes: new Set(nodes) });
    };
    const seen = new Set<string>();
    const stock = new Map(moved.map((each) => [each.item, `${each.documents.replaceAll(',', ', ')} moved stock`]));
    for (const { kind, recordId, what, who } of changes) {
      const refresh = REFRESH[kind];
      const key = `${refresh} ${recordId}`;
      if (refresh === 'nothing' || seen.has(key)) continue;
      seen.add(key);
      if (refresh === 'item') {
        if (!this.followItem(work, keeper, recordId)) return null;
        stock.delete(recordId);
        this.followOnTheWay(work, keeper, recordId);
      } else if (refresh === 'stockOfLot') {
        const lot = itemOfLot.one(work, { id: recordId });
        if (lot) {
          stock.set(lot.item, `${who} ${what}`);
          this.followOnTheWay(work, keeper, lot.item);
        }
      } else if (refresh === 'shipment') {
        const shipment = orderOfShipment.one(work, { id: recordId });
        if (!shipment) return null;
        this.followDocument(work, keeper, 'customerOrder', shipment.order);
      } else if (refresh !== 'everything') this.followDocument(work, keeper, refresh, recordId);
      because(`${who} ${what}`);
    }
    for (const [item, words] of stock) {
      const code = this.codes.get(item);
      if (code !== undefined && keeper.knows(code)) keeper.tellStock(code, gatherStock(work, item));
      because(words);
    }
    keeper.touchAgain(causes.flatMap((each) => [...each.nodes]));
    return causes;
  }

  private followOnTheWay(work: Work, keeper: PlanKeeper, itemId: number): void {
    for (const { id } of lotsOnTheWay(work, itemId)) this.followDocument(work, keeper, 'transfer', id);
  }

  private followDocument(work: Work, keeper: PlanKeeper, kind: PlannedDocument, id: number): void {
    const number = numberOf[kind].one(work, { id })?.number ?? (kind === 'firm' ? this.firmNumbers.get(id) : undefined);
    if (number === undefined) return;
    if (kind === 'firm') this.firmNumbers.set(id, number);
    keeper.tellDocument(number, gatherDocument(work, kind, id));
  }

  private followItem(work: Work, keeper: PlanKeeper, id: number): boolean {
    const words = this.readItems(work, id).get(id);
    const known = this.codes.get(id);
    if (!words || known === undefined) return false;
    const before = this.items.get(known);
    if (words.code !== known || words.decimals !== before?.decimals || words.kind !== before.kind) return false;
    this.items.set(words.code, words);
    if (!keeper.knows(words.code)) return true;
    this.terms.set(id, validTerms(work, id).get(id) ?? []);
    keeper.tellItem(gatherItem(work, id, words.code));
    for (const [warehouse, place] of this.places) keeper.tellDocument(forecastName(words.code, warehouse), gatherForecast(work, id, place));
    keeper.touchItem(words.code);
    return true;
  }

  private all(work: Work, cause: string): PlanMade {
    const start = performance.now();
    // What was kept goes before what comes: there is not room for both.
    const first = this.keeper === null && !this.rows.hasPlan();
    this.items = new Map([...this.readItems(work, null).values()].map((each) => [each.code, each]));
    this.codes.clear();
    for (const each of this.items.values()) this.codes.set(each.id, each.code);
    this.places.clear();
    for (const each of places.all(work)) this.places.set(each.code, each.id);
    this.terms = validTerms(work);
    this.keeper = null;
    this.trail = null;
    this.firmNumbers = new Map(keptSuggestions.all(work).map((each) => [each.id, each.number]));
    try {
      this.keeper = new PlanKeeper(gatherRows(work));
    } catch (error) {
      if (error instanceof TooWide)
        throw new Error('some quantity is too large to plan with: look for a figure with too many digits', { cause: error });
      throw error;
    }
    this.noteSeen(work);
    return this.write(work, null, true, start, first ? [] : [{ words: cause, nodes: new Set() }]);
  }

  private noteSeen(work: Work): void {
    this.historyId = work.lastHistory();
    this.moveId = lastMove.one(work)?.id ?? 0;
  }

  private readItems(work: Work, id: number | null): Map<number, ItemWords> {
    const rows = id === null ? allWords.all(work) : wordsOfOne.all(work, { id });
    return new Map(rows.map((each) => [each.id, each]));
  }

  private write(work: Work, planned: readonly number[] | null, whole: boolean, start: number, causes: readonly Cause[]): PlanMade {
    const { keeper } = this;
    if (!keeper) throw new RangeError('nothing is planned yet');
    const { live } = keeper;
    this.trail = null;
    this.promised = false;
    const ignored = new Map(putAside.all(work, { today: work.today }).map((each) => [`${each.itemId} ${each.warehouseId}`, each]));
    const firm = new Map(keptSuggestions.all(work).map((each) => [each.number, each]));
    const calendars = new Map<number, WorkingCalendar>();
    const calendarAt = (warehouseId: number): WorkingCalendar => {
      const calendar = calendars.get(warehouseId) ?? calendarOf(work, warehouseId);
      calendars.set(warehouseId, calendar);
      return calendar;
    };
    const seq = this.rows.write({
      live,
      writer: new PlanWriter(live),
      nodes: planned ?? [...live.graph.order],
      whole,
      items: this.items,
      places: this.places,
      chooseSupplier: (row) => supply(this.terms.get(row.itemId) ?? [], row, calendarAt(row.warehouseId), dayOf(work.today)),
      priceOf: (itemId, supplierId, quantity) => {
        const terms = this.terms.get(itemId)?.find((each) => each.supplierId === supplierId);
        return terms ? priceAt(terms, quantity) : 0;
      },
      supplierOf: (itemId, supplierId) => this.terms.get(itemId)?.find((each) => each.supplierId === supplierId)?.supplier ?? null,
      ignored,
      firm,
      unpriced: currenciesWithoutRate(work),
      at: work.now,
      today: work.today,
      horizon: keeper.horizon,
      historyId: this.historyId,
      moveId: this.moveId,
      causes,
      since: start,
    });
    return { seq, planned: planned?.length ?? live.graph.order.length, whole, milliseconds: Math.round((performance.now() - start) * 10) / 10 };
  }

  /** Reads everything as it is at one moment, whatever others write meanwhile. */
  private inSnapshot<T>(read: (work: Work) => T): T {
    const { today, now } = this.clock();
    const work = new Work(this.store, NOBODY, today, now);
    return atOneMoment(this.store, () => read(work));
  }
}

function causeOf(changes: readonly HistoryRow[]): string {
  const said = [...new Set(changes.filter((each) => REFRESH[each.kind] !== 'nothing').map((each) => `${each.who} ${each.what}`))];
  if (said.length === 0) return 'stock moved';
  return said.slice(0, 3).join('; ') + (said.length > 3 ? ` and ${said.length - 3} more` : '');
}
