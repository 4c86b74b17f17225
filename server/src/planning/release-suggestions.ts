/** Releasing suggestions: one purchase order per supplier and warehouse, production orders, transfers. */
import { type AnswerOf, type BodyOf, type DocumentKind, type ReleaseDocument, type api } from '@terrace/contract';
import { and, desc, eq, gt, sql } from 'drizzle-orm';
import {
  Refusal,
  asAmount,
  asPrice,
  asQuantity,
  dateOf,
  dayOf,
  deliveredBy,
  extend,
  ordered,
  parseAmount,
  parsePositiveQuantity,
  writeAmount,
  writeQuantity,
} from '@terrace/core';
import { createPurchase } from '../buying';
import { askedPrice, calendarOf, itemFacts, supplierOf, validTerms, warehouseIdOf, warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRow, dropRow, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { createProduction, productionOrder } from '../production';
import { customerOrder } from '../selling';
import { requestTransfer } from '../stores';
import { planStateRow } from './plan-state';
import { planFirm, planRelease } from './schema';
import { deliveredWords, keptSuggestion, suggestionsToMakeFor, type KeptSuggestion } from './suggestions';

const releasedSince = query(
  ($: { name: string; historyId: number }) => (db) =>
    db
      .select({ number: planRelease.documentNumber })
      .from(planRelease)
      .where(and(eq(planRelease.name, $.name), gt(planRelease.historyId, $.historyId)))
      .orderBy(desc(planRelease.id))
      .limit(1),
);
const releasedAs = query(
  ($: { name: string }) => (db) =>
    db
      .select({ kind: planRelease.documentKind, id: planRelease.documentId })
      .from(planRelease)
      .where(and(eq(planRelease.name, $.name), gt(planRelease.documentId, sql`0`)))
      .orderBy(desc(planRelease.id))
      .limit(1),
);
const customerOrderNumbered = query(
  ($: { number: string }) => (db) => db.select({ id: customerOrder.id }).from(customerOrder).where(eq(customerOrder.number, $.number)),
);
const productionOrderNumbered = query(
  ($: { number: string }) => (db) => db.select({ id: productionOrder.id }).from(productionOrder).where(eq(productionOrder.number, $.number)),
);

type Input = BodyOf<typeof api.planning.release>;
type Outcome = AnswerOf<typeof api.planning.release>;

interface Chosen {
  readonly name: string;
  readonly firmId: number | null;
  readonly kind: 'buy' | 'make' | 'transfer';
  readonly itemId: number;
  readonly warehouseId: number;
  readonly fromId: number | null;
  readonly level: number;
  readonly placeBy: string;
  readonly quantity: string;
  readonly due: string;
  readonly supplierId: number | null;
  /** What is more than was asked for and why, or what is not known of the supplier. */
  readonly note: string;
  readonly pegs: readonly { readonly demand: string; readonly quantity: string }[];
}

/**
 * The plan, where it is still as it was seen in what is named: none of that was released meanwhile, and none stands
 * differently. Refuses `staleVersion`.
 */
export function assertFresh(work: Work, seq: number, names: readonly string[]): Work {
  const plan = work.plan();
  const state = planStateRow(plan);
  if (!state || seq > state.seq) throw new Refusal('staleVersion', 'There is no such plan: look at the suggestions again and choose anew.');
  for (const name of names) {
    const released = releasedSince.one(work, { name, historyId: state.historyId });
    if (released)
      throw new Refusal('wrongState', `${name} is done already, as ${released.number}: the plan is about to show it.`, { suggestion: name });
  }
  return plan;
}

/** What was made of a suggestion, or changed for an exception. */
export interface DoneAs {
  readonly kind: 'purchaseOrder' | 'productionOrder' | 'transfer';
  readonly id: number;
  readonly number: string;
}

/** Marks what was just done, so that it is not done twice before the plan knows of it. */
export function noteDone(work: Work, name: string, { kind, id, number }: DoneAs): void {
  addRow(work, planRelease, { name, historyId: work.lastHistory(), documentKind: kind, documentId: id, documentNumber: number });
}

function choose(work: Work, input: Input): Chosen[] {
  const plan = assertFresh(
    work,
    input.seq,
    input.suggestions.map((each) => each.name),
  );
  const chosen = new Map<string, Chosen>();
  input.suggestions.forEach((wish, index) => {
    const field = `suggestions.${index}`;
    const row = keptSuggestion(plan, wish.name);
    if (!row) throw new Refusal('staleVersion', `The plan no longer suggests ${wish.name}: look at the new suggestions and choose again.`, { field });
    if (wish.seen.quantity !== row.quantity || wish.seen.due !== row.due)
      throw new Refusal('staleVersion', `${wish.name} is now ${row.quantity} ${row.unit} due ${row.due}: look at it again.`, { field });
    const item = itemFacts(work, row.itemId);
    const supplierId = row.kind === 'buy' ? (wish.supplierId ?? row.supplierId) : null;
    if (row.kind === 'buy' && supplierId === null)
      throw new Refusal('noSupplier', `${item.code} has no supplier: choose one for it, or set up a supplier's terms on the item.`, {
        field,
        item: item.code,
      });
    const quantity = wish.quantity ?? row.quantity;
    atField(`${field}.quantity`, () => parsePositiveQuantity(quantity, item.decimals, `the quantity of ${item.code}`));
    chosen.set(row.id, chosenFrom(work, plan, row.id, { quantity, ...(wish.due === undefined ? {} : { due: wish.due }), supplierId }));
  });
  if (input.withLevels) {
    const makes = [...chosen.values()].filter((each) => each.kind === 'make').map((each) => each.name);
    for (const name of suggestionsToMakeFor(plan, makes)) if (!chosen.has(name)) chosen.set(name, chosenFrom(work, plan, name, {}));
  }
  return [...chosen.values()].sort((a, b) => a.level - b.level || (a.name < b.name ? -1 : 1));
}

function chosenFrom(work: Work, plan: Work, name: string, wish: { quantity?: string; due?: string; supplierId?: number | null }): Chosen {
  const row = orNotFound(keptSuggestion(plan, name), `suggestion ${name}`);
  const supplierId = row.kind === 'buy' ? (wish.supplierId ?? row.supplierId) : null;
  const wanted = wish.quantity ?? row.quantity;
  const {
    quantity,
    due: comes,
    note,
  } = supplierId === null ? { quantity: wanted, due: row.due, note: '' } : fromSupplier(work, row, supplierId, wanted);
  const due = wish.due ?? comes;
  return {
    name,
    firmId: row.firmId,
    kind: row.kind,
    itemId: row.itemId,
    warehouseId: row.warehouseId,
    fromId: row.from === null ? null : (warehouseIdOf(work, row.from) ?? null),
    level: row.level,
    placeBy: row.placeBy,
    quantity,
    due: due < work.today ? work.today : due,
    supplierId,
    note,
    pegs: row.pegs,
  };
}

/** How much of it, and when, a supplier delivers; what is more than was wanted is said, and what is not known of them. */
function fromSupplier(work: Work, row: KeptSuggestion, supplierId: number, wanted: string): { quantity: string; due: string; note: string } {
  const item = itemFacts(work, row.itemId);
  const terms = (validTerms(work, row.itemId).get(row.itemId) ?? []).find((each) => each.supplierId === supplierId);
  if (!terms)
    return {
      quantity: wanted,
      due: row.due,
      note: `${supplierOf(work, supplierId).name} has no terms for ${item.code}: no price and no lead time is known.`,
    };
  const asked = parsePositiveQuantity(wanted, item.decimals);
  const orders = asQuantity(ordered(terms, asked));
  const added = asQuantity(orders - asked);
  const due =
    supplierId === row.supplierId
      ? row.due
      : dateOf(deliveredBy(terms, dayOf(row.neededBy), calendarOf(work, row.warehouseId), dayOf(work.today)).due);
  return {
    quantity: added === 0 ? wanted : writeQuantity(orders),
    due,
    note: added === 0 ? '' : `${writeQuantity(added)} ${item.unit} more than suggested: ${deliveredWords(terms, item.unit)}.`,
  };
}

function groupPurchases(chosen: readonly Chosen[]): Chosen[][] {
  const groups = new Map<string, Chosen[]>();
  for (const each of chosen.filter((one) => one.kind === 'buy')) {
    const key = `${each.supplierId ?? 0} ${each.warehouseId}`;
    groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return [...groups.values()];
}

function lineOf(work: Work, each: Chosen): ReleaseDocument['lines'][number] {
  const item = itemFacts(work, each.itemId);
  return { suggestion: each.name, code: item.code, quantity: each.quantity, unit: item.unit, due: each.due, note: each.note };
}

function costOf(work: Work, each: Chosen): string {
  const quantity = parsePositiveQuantity(each.quantity, itemFacts(work, each.itemId).decimals);
  const asked = each.supplierId === null ? null : askedPrice(work, each.itemId, each.supplierId, quantity);
  return writeAmount(extend(quantity, asked ?? asPrice(0)));
}

function purchaseDocument(work: Work, group: readonly Chosen[], made: { id: number; number: string } | null): ReleaseDocument {
  const [first] = group;
  const total = group.reduce((sum, each) => sum + parseAmount(costOf(work, each)), 0);
  return {
    kind: 'purchaseOrder',
    id: made?.id ?? null,
    number: made?.number ?? null,
    partner: supplierOf(work, first?.supplierId ?? 0).name,
    warehouse: warehouseOf(work, first?.warehouseId ?? 0).code,
    total: writeAmount(asAmount(total)),
    lines: group.map((each) => lineOf(work, each)),
  };
}

function singleDocument(work: Work, each: Chosen, made: { id: number; number: string } | null): ReleaseDocument {
  const isTransfer = each.kind === 'transfer';
  return {
    kind: isTransfer ? 'transfer' : 'productionOrder',
    id: made?.id ?? null,
    number: made?.number ?? null,
    partner: isTransfer ? warehouseOf(work, each.fromId ?? 0).code : itemFacts(work, each.itemId).description,
    warehouse: warehouseOf(work, each.warehouseId).code,
    total: '0.00',
    lines: [lineOf(work, each)],
  };
}

/** What a release would make; nothing is changed. */
export function previewRelease(work: Work, input: Input): Outcome {
  const chosen = choose(work, input);
  return {
    documents: [
      ...chosen.filter((each) => each.kind !== 'buy').map((each) => singleDocument(work, each, null)),
      ...groupPurchases(chosen).map((group) => purchaseDocument(work, group, null)),
    ],
  };
}

/** Releases: everything that is chosen, or nothing. */
export function releaseSuggestions(work: Work, input: Input): Outcome {
  const chosen = choose(work, input);
  const documents: ReleaseDocument[] = [];
  const made: (DoneAs & { readonly each: Chosen })[] = [];
  for (const each of chosen.filter((one) => one.kind !== 'buy')) {
    const start = each.placeBy < work.today ? work.today : each.placeBy > each.due ? each.due : each.placeBy;
    const order = each.kind === 'make' ? makeProduction(work, each, start) : makeTransfer(work, each, start);
    made.push({ each, kind: each.kind === 'make' ? 'productionOrder' : 'transfer', id: order.id, number: order.number });
    documents.push(singleDocument(work, each, order));
  }
  for (const group of groupPurchases(chosen)) {
    const [first] = group;
    const order = createPurchase(work, {
      custom: {},
      supplierId: first?.supplierId ?? 0,
      warehouseId: first?.warehouseId ?? 0,
      note: '',
      lines: group.map((each) => ({ itemId: each.itemId, quantity: each.quantity, dueDate: each.due })),
    });
    for (const each of group) made.push({ each, kind: 'purchaseOrder', id: order.id, number: order.number });
    documents.push(purchaseDocument(work, group, order));
  }
  for (const { each, kind, id, number } of made) {
    if (each.firmId !== null) {
      dropRow(work, planFirm, each.firmId);
      work.record('plan', each.firmId, `released ${each.name} as ${number}`);
    }
    noteDone(work, each.name, { kind, id, number });
    for (const { demand } of each.pegs) linkFromDemand(work, demand, kind, id, 0);
  }
  work.touch('plan', input.seq, 'released suggestions');
  return { documents };
}

function makeProduction(work: Work, each: Chosen, startDate: string): { id: number; number: string } {
  return createProduction(work, {
    itemId: each.itemId,
    warehouseId: each.warehouseId,
    quantity: each.quantity,
    dueDate: each.due,
    startDate,
    note: '',
  });
}

function makeTransfer(work: Work, each: Chosen, shipDate: string): { id: number; number: string } {
  return requestTransfer(work, {
    fromId: each.fromId ?? 0,
    toId: each.warehouseId,
    shipDate,
    dueDate: each.due,
    carrier: '',
    note: '',
    lines: [{ itemId: each.itemId, quantity: each.quantity }],
  });
}

const MOST_LEVELS = 20;

/** Follows a peg up to the documents that it comes from and links them to what was made. */
function linkFromDemand(work: Work, demand: string, kind: DocumentKind, id: number, depth: number): void {
  if (depth > MOST_LEVELS) return;
  const released = releasedAs.one(work, { name: demand });
  const plan = work.inPlan();
  const parent = plan ? keptSuggestion(plan, demand) : undefined;
  if (parent) {
    // A part that was released with what needs it belongs to that; otherwise to whom that serves in turn.
    if (released) work.link(released.kind, released.id, kind, id);
    else for (const peg of parent.pegs) linkFromDemand(work, peg.demand, kind, id, depth + 1);
    return;
  }
  const [number = ''] = demand.split('/');
  const order = customerOrderNumbered.one(work, { number });
  if (order) work.link('customerOrder', order.id, kind, id);
  const production = productionOrderNumbered.one(work, { number });
  if (production) work.link('productionOrder', production.id, kind, id);
}
