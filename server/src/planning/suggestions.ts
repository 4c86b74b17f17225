/** Suggestions as the desk shows them, and what each calls for through all levels. */
import { and, desc, eq, inArray, isNotNull, isNull, like, lte, sql, type SQL, type SQLWrapper } from 'drizzle-orm';
import type { AnswerOf, ListQuery, SuggestionRow, SuggestionView, api } from '@terrace/contract';
import {
  addDays,
  asPrice,
  asQuantity,
  dateOf,
  dayOf,
  deliveredBy,
  explainSuggestion,
  extend,
  ordered,
  parseQuantity,
  type PlanningRule,
  priceAt,
  type Suggestion,
  writeAmount,
  writePrice,
  writeQuantity,
} from '@terrace/core';
import { calendarOf, validTerms, type BuyingTerms } from '../catalogue';
import { among, closure, entriesOf, fieldOf, inner } from '../platform/expressions';
import { asAmountText, asNumber, asOptionalNumber, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import { orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { customerOrder, customerOrderLine } from '../selling';
import { called, suggestion } from './plan-schema';
import { planStateRow } from './plan-state';
import { gatherItem } from './problem';
import { planFirm } from './schema';

const peg = entriesOf(suggestion.pegs, 'peg');
const pegDemand = fieldOf<string>('peg', 'demand');

/**
 * Names of suggestions and, through all levels, of those that they call for; `start` selects the names to begin with. A
 * level below is what is suggested where the one above calls, as far as that serves it.
 */
function withWhatTheyNeed(start: SQLWrapper): SQL {
  return closure(start, ({ table, value }) =>
    inner
      .select({ name: suggestion.name })
      .from(table)
      .innerJoin(called, eq(called.name, value))
      .innerJoin(suggestion, eq(suggestion.node, called.node))
      .crossJoin(peg)
      .where(eq(pegDemand, value)),
  );
}

type Wanted = {
  /** Only what is to be placed by this day. */
  until?: string | undefined;
  /** Those that nobody looks at for a while, in place of the others. */
  ignored?: true | undefined;
  /** Only what a customer's order needs: items of its lines, and how the plan calls its lines. */
  items?: readonly number[] | undefined;
  lines?: string | undefined;
};

const suggestions = list<Wanted>(($, has) => ({
  columns: {
    id: asText(suggestion.name),
    firmId: asOptionalNumber(suggestion.firmId),
    kind: asText(suggestion.kind),
    itemId: asNumber(suggestion.itemId),
    code: asText(suggestion.code),
    description: asText(suggestion.description),
    unit: asText(suggestion.unit),
    decimals: asNumber(suggestion.decimals),
    group: asText(suggestion.groupCode),
    warehouseId: asNumber(suggestion.warehouseId),
    warehouse: asText(suggestion.warehouse),
    from: asText(suggestion.source),
    quantity: { of: sql`cast(${suggestion.quantity} as real)`, type: 'text', written: suggestion.quantity },
    placeBy: asText(suggestion.placeBy),
    due: asText(suggestion.due),
    neededBy: asText(suggestion.neededBy),
    daysLate: asNumber(suggestion.daysLate),
    supplierId: asOptionalNumber(suggestion.supplierId),
    supplier: asText(suggestion.supplier),
    cost: asAmountText(suggestion.cost),
    level: asNumber(suggestion.level),
    ignoredUntil: asText(suggestion.ignoredUntil),
    note: asText(sql`coalesce(${suggestion.ignoredNote}, ${suggestion.note})`),
    serves: asText(sql`json_extract(${suggestion.pegs}, '$[0].demand')`),
    servesMore: asNumber(sql`max(json_array_length(${suggestion.pegs}) - 1, 0)`),
  },
  from: suggestion,
  where: and(
    has('ignored') ? isNotNull(suggestion.ignoredUntil) : isNull(suggestion.ignoredUntil),
    has('until') ? lte(suggestion.placeBy, $.until) : undefined,
    has('items')
      ? inArray(
          suggestion.name,
          withWhatTheyNeed(
            inner
              .select({ name: suggestion.name })
              .from(suggestion)
              .crossJoin(peg)
              .where(and(among(suggestion.itemId, $.items), like(pegDemand, $.lines))),
          ),
        )
      : undefined,
  ),
  find: [suggestion.code, suggestion.description, suggestion.supplier, suggestion.name],
  // Of what is to be placed soon, what comes too late already is the most urgent.
  order: has('until')
    ? [suggestion.placeBy, desc(suggestion.daysLate), suggestion.level, suggestion.code]
    : [suggestion.placeBy, suggestion.level, suggestion.code],
  tie: [suggestion.id],
}));

const linesOfOrder = query(
  ($: { orderId: number }) => (db) =>
    db
      .select({ number: customerOrder.number, item: customerOrderLine.itemId })
      .from(customerOrder)
      .innerJoin(customerOrderLine, eq(customerOrderLine.orderId, customerOrder.id))
      .where(eq(customerOrder.id, $.orderId)),
);

/** The suggestions that a customer's order needs. */
function neededBy(work: Work, orderId: number): Pick<Wanted, 'items' | 'lines'> {
  const lines = linesOfOrder.all(work, { orderId });
  return { items: [...new Set(lines.map((line) => line.item))], lines: `${lines[0]?.number ?? ''}/%` };
}

export function listSuggestions(
  work: Work,
  asked: ListQuery & { ignored: 'no' | 'only'; order?: number | undefined; within?: number | undefined },
): AnswerOf<typeof api.planning.listSuggestions> {
  const plan = work.plan();
  const known = asked.ignored === 'no' && asked.order === undefined && asked.within === undefined ? planStateRow(plan)?.suggestions : undefined;
  const wanted: Wanted = {
    ignored: asked.ignored === 'no' ? undefined : true,
    until: asked.within === undefined ? undefined : addDays(work.today, asked.within),
    ...(asked.order === undefined ? {} : neededBy(work, asked.order)),
  };
  return listPage<SuggestionRow, Wanted>(plan, suggestions, asked, wanted, { known });
}

const byName = query(
  ($: { name: string }) => (db) =>
    db
      .select({
        id: suggestion.name,
        firmId: suggestion.firmId,
        kind: suggestion.kind,
        itemId: suggestion.itemId,
        code: suggestion.code,
        description: suggestion.description,
        unit: suggestion.unit,
        decimals: suggestion.decimals,
        group: suggestion.groupCode,
        warehouseId: suggestion.warehouseId,
        warehouse: suggestion.warehouse,
        from: suggestion.source,
        quantity: suggestion.quantity,
        placeBy: suggestion.placeBy,
        due: suggestion.due,
        neededBy: suggestion.neededBy,
        daysLate: suggestion.daysLate,
        supplierId: suggestion.supplierId,
        supplier: suggestion.supplier,
        ordered: suggestion.ordered,
        insteadOf: suggestion.insteadOf,
        insteadLate: suggestion.insteadLate,
        cost: suggestion.cost,
        level: suggestion.level,
        ignoredUntil: suggestion.ignoredUntil,
        note: sql<string | null>`coalesce(${suggestion.ignoredNote}, ${suggestion.note})`,
        balance: suggestion.balance,
        threshold: suggestion.threshold,
        missing: suggestion.missing,
        sized: suggestion.sized,
        pegs: suggestion.pegs,
      })
      .from(suggestion)
      .where(eq(suggestion.name, $.name)),
);
export type KeptSuggestion = ReturnType<typeof byName.all>[number];
const versionOfKept = query(($: { id: number }) => (db) => db.select({ version: planFirm.version }).from(planFirm).where(eq(planFirm.id, $.id)));
const toMakeFor = query(
  ($: { names: readonly string[] }) => (db) =>
    db
      .select({ name: suggestion.name })
      .from(suggestion)
      .where(
        and(
          eq(suggestion.kind, 'make'),
          isNull(suggestion.firmId),
          inArray(suggestion.name, withWhatTheyNeed(inner.select({ name: sql`named.value` }).from(entriesOf(sql`${$.names}`, 'named')))),
        ),
      ),
);

/** The suggestions to make something that others call for, through all levels, and they themselves. */
export function suggestionsToMakeFor(plan: Work, names: readonly string[]): string[] {
  return toMakeFor.all(plan, { names }).map((each) => each.name);
}

/** One suggestion with its reasons and who could supply it. */
export function suggestionView(work: Work, name: string): SuggestionView {
  const plan = work.plan();
  const row = orNotFound(keptSuggestion(plan, name), `suggestion ${name} any more`);
  const { balance, threshold, missing, sized, pegs, ordered: _ordered, insteadOf: _instead, insteadLate: _late, ...shown } = row;
  const { kind, quantity, placeBy, due, neededBy, daysLate } = row;
  const suggestion: Suggestion = {
    id: row.id,
    kind,
    item: row.code,
    warehouse: row.warehouse,
    from: row.from,
    quantity,
    placeBy,
    due,
    neededBy,
    daysLate,
    pegs,
  };
  const version = row.firmId === null ? null : (versionOfKept.one(work, { id: row.firmId })?.version ?? null);
  const why =
    row.firmId === null
      ? [
          explainSuggestion(suggestion, { balance, threshold, missing, sized }, { unit: row.unit, decimals: row.decimals, rule: ruleOf(work, row) }),
          ...supplyWords(work, row),
        ].join(' ')
      : `Kept as ${row.id}: the plan counts with ${quantity} ${row.unit} on ${due} and suggests nothing in its place.`;
  return { ...shown, cost: writeAmount(shown.cost), why, pegs: [...pegs], choices: choicesOf(work, row), version };
}

function ruleOf(work: Work, { itemId, code, warehouse }: KeptSuggestion): PlanningRule | null {
  return gatherItem(work, itemId, code).rules.find((each) => each.warehouse === warehouse) ?? null;
}

/** A suggestion as the plan's file keeps it; the cost is a whole number of its own. */
export function keptSuggestion(plan: Work, name: string): KeptSuggestion | undefined {
  return byName.one(plan, { name });
}

const days = (count: number): string => `${count} ${count === 1 ? 'day' : 'days'}`;

/** Who delivers it and why they, how much they deliver at least, and at what price. */
function supplyWords(work: Work, row: KeptSuggestion): string[] {
  const terms = (validTerms(work, row.itemId).get(row.itemId) ?? []).find((each) => each.supplierId === row.supplierId);
  if (row.kind !== 'buy' || row.supplier === null || !terms) return [];
  const lead = `${terms.leadDays} working ${terms.leadDays === 1 ? 'day' : 'days'} of lead time`;
  const words =
    row.insteadOf === null
      ? [`From ${row.supplier}${terms.preferred ? ', who is preferred' : ''}: ${lead}.`]
      : [
          `From ${row.supplier} with ${lead}, ${row.daysLate === 0 ? 'in time' : `${days(row.daysLate)} late`}: ${row.insteadOf} would be ${days(row.insteadLate)} late.`,
        ];
  if (row.ordered !== row.quantity) words.push(`Ordered are ${row.ordered} ${row.unit}: ${deliveredWords(terms, row.unit)}.`);
  words.push(`At ${writePrice(priceAt(terms, parseQuantity(row.ordered, row.decimals)))} each.`);
  return words;
}

/** What a supplier delivers at least, and in what steps. */
export function deliveredWords({ minimum, multiple }: BuyingTerms, unit: string): string {
  const least = minimum > 0 ? `their minimum order is ${writeQuantity(minimum)} ${unit}` : '';
  const steps = multiple > 0 ? `they deliver in multiples of ${writeQuantity(multiple)}` : '';
  return [least, steps].filter((each) => each !== '').join(', and ');
}

function choicesOf(work: Work, row: KeptSuggestion): SuggestionView['choices'] {
  if (row.kind !== 'buy') return [];
  const calendar = calendarOf(work, row.warehouseId);
  const quantity = parseQuantity(row.quantity, row.decimals);
  return (validTerms(work, row.itemId).get(row.itemId) ?? []).map((terms) => {
    const orders = asQuantity(ordered(terms, quantity));
    const price = priceAt(terms, orders);
    const { due, daysLate } = deliveredBy(terms, dayOf(row.neededBy), calendar, dayOf(work.today));
    return {
      supplierId: terms.supplierId,
      supplier: terms.supplier,
      preferred: terms.preferred,
      price: writePrice(price),
      cost: writeAmount(extend(orders, asPrice(price))),
      leadDays: terms.leadDays,
      minimum: writeQuantity(terms.minimum),
      ordered: writeQuantity(orders),
      comes: dateOf(due),
      daysLate,
    };
  });
}
