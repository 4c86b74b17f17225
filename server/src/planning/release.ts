/** Releasing suggestions: one purchase order per supplier and warehouse, one production order per suggestion. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type DocumentKind, type ReleaseDocument } from '@terrace/contract';
import { Refusal, asAmount, asPrice, extend, parseAmount, parsePositiveQuantity, writeAmount } from '@terrace/core';
import { createPurchase } from '../buying';
import { askedPrice, itemFacts, supplierOf, warehouseOf } from '../catalogue';
import { atField, type Work } from '../platform/work';
import { createProduction } from '../production';

type Input = BodyOf<typeof api.planning.release>;
type Outcome = AnswerOf<typeof api.planning.release>;

interface Chosen {
  readonly id: number;
  readonly name: string;
  readonly kind: 'buy' | 'make';
  readonly itemId: number;
  readonly warehouseId: number;
  readonly level: number;
  readonly placeBy: string;
  readonly quantity: string;
  readonly due: string;
  readonly supplierId: number | null;
  readonly pegs: readonly { demand: string }[];
}

interface Row {
  readonly id: number;
  readonly name: string;
  readonly kind: 'buy' | 'make' | 'transfer';
  readonly itemId: number;
  readonly warehouseId: number;
  readonly level: number;
  readonly placeBy: string;
  readonly quantity: string;
  readonly due: string;
  readonly supplierId: number | null;
  readonly pegs: string;
  readonly releasedNumber: string | null;
}

const ROW = `select id, name, kind, item_id as itemId, warehouse_id as warehouseId, level, place_by as placeBy, quantity, due, supplier_id as supplierId, pegs, released_number as releasedNumber
  from plan_suggestion where id = ? and run_id = ?`;

function choose(work: Work, input: Input): Chosen[] {
  const chosen = input.suggestions.map((wish, index): Chosen => {
    const row = work.row<Row>(ROW, wish.id, input.runId);
    const field = `suggestions.${index}`;
    if (!row) throw new Refusal('staleVersion', 'The plan was run anew meanwhile: look at the new suggestions and choose again.', { field });
    if (row.releasedNumber !== null) throw new Refusal('wrongState', `${row.name} is released already, as ${row.releasedNumber}.`, { field });
    const item = itemFacts(work, row.itemId);
    if (row.kind === 'transfer') throw new Refusal('notOffered', `${row.name} is a transfer: it can't be released from here.`, { field });
    const supplierId = row.kind === 'buy' ? (wish.supplierId ?? row.supplierId) : null;
    if (row.kind === 'buy' && supplierId === null)
      throw new Refusal('noSupplier', `${item.code} has no supplier: choose one for it, or set up a supplier's terms on the item.`, {
        field,
        item: item.code,
      });
    const quantity = wish.quantity ?? row.quantity;
    atField(`${field}.quantity`, () => parsePositiveQuantity(quantity, item.decimals, `the quantity of ${item.code}`));
    const due = wish.due ?? row.due;
    return {
      ...row,
      kind: row.kind,
      quantity,
      due: due < work.today ? work.today : due,
      supplierId,
      pegs: JSON.parse(row.pegs) as { demand: string }[],
    };
  });
  return chosen.sort((a, b) => a.level - b.level || a.id - b.id);
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
  return { suggestion: each.name, code: item.code, quantity: each.quantity, unit: item.unit, due: each.due };
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

function productionDocument(work: Work, each: Chosen, made: { id: number; number: string } | null): ReleaseDocument {
  return {
    kind: 'productionOrder',
    id: made?.id ?? null,
    number: made?.number ?? null,
    partner: itemFacts(work, each.itemId).description,
    warehouse: warehouseOf(work, each.warehouseId).code,
    total: '0.00',
    lines: [lineOf(work, each)],
  };
}

/** What a release would make; nothing is changed. */
export function previewRelease(work: Work, input: Input): Outcome {
  const chosen = choose(work, input);
  const makes = chosen.filter((each) => each.kind === 'make');
  return {
    documents: [
      ...makes.map((each) => productionDocument(work, each, null)),
      ...groupPurchases(chosen).map((group) => purchaseDocument(work, group, null)),
    ],
  };
}

/** Releases: everything that is chosen, or nothing. */
export function releaseSuggestions(work: Work, input: Input): Outcome {
  const chosen = choose(work, input);
  const documents: ReleaseDocument[] = [];
  for (const each of chosen.filter((one) => one.kind === 'make')) {
    const startDate = each.placeBy < work.today ? work.today : each.placeBy > each.due ? each.due : each.placeBy;
    const order = createProduction(work, {
      itemId: each.itemId,
      warehouseId: each.warehouseId,
      quantity: each.quantity,
      dueDate: each.due,
      startDate,
      note: '',
    });
    keepReleased(work, each, 'productionOrder', order);
    documents.push(productionDocument(work, each, order));
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
    for (const each of group) keepReleased(work, each, 'purchaseOrder', order);
    documents.push(purchaseDocument(work, group, order));
  }
  work.touch('plan', input.runId, 'released suggestions');
  return { documents };
}

function keepReleased(work: Work, each: Chosen, kind: 'purchaseOrder' | 'productionOrder', order: { id: number; number: string }): void {
  work.run('update plan_suggestion set released_kind = ?, released_id = ?, released_number = ? where id = ?', kind, order.id, order.number, each.id);
  for (const { demand } of each.pegs) linkFromDemand(work, demand, kind, order.id, 0);
}

/** Follows a peg up to the documents that it comes from and links them to what was made. */
function linkFromDemand(work: Work, demand: string, kind: DocumentKind, id: number, depth: number): void {
  if (depth > 20) return;
  const parent = work.row<{ releasedKind: DocumentKind | null; releasedId: number | null; pegs: string }>(
    'select released_kind as releasedKind, released_id as releasedId, pegs from plan_suggestion where name = ?',
    demand,
  );
  if (parent) {
    if (parent.releasedKind !== null && parent.releasedId !== null) work.link(parent.releasedKind, parent.releasedId, kind, id);
    else for (const peg of JSON.parse(parent.pegs) as { demand: string }[]) linkFromDemand(work, peg.demand, kind, id, depth + 1);
    return;
  }
  const [number] = demand.split('/');
  const order = work.row<{ id: number }>('select id from customer_order where number = ?', number);
  if (order) work.link('customerOrder', order.id, kind, id);
  const production = work.row<{ id: number }>('select id from production_order where number = ?', number);
  if (production) work.link('productionOrder', production.id, kind, id);
}
