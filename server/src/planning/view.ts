/** The plan as the desk shows it, read from the plan's file. */
import type {
  AnswerOf,
  DifferenceRow,
  EndangeredRow,
  ExceptionRow,
  ListQuery,
  PlanState,
  ProblemRow,
  SuggestionRow,
  SuggestionView,
  api,
} from '@terrace/contract';
import {
  asPrice,
  asQuantity,
  dateOf,
  dayOf,
  explainSuggestion,
  extend,
  parseQuantity,
  priceAt,
  writeAmount,
  writePrice,
  writeQuantity,
  type PlanningRule,
  type Suggestion,
} from '@terrace/core';
import { calendarOf, validTerms } from '../catalogue';
import { asAmountText, asNumber, asOptionalNumber, asQuantityText, asText, listPage, type ListDefinition } from '../platform/list';
import { orNotFound, type Work } from '../platform/work';
import { gatherItem } from './problem';

interface StateRow {
  readonly seq: number;
  readonly at: string;
  readonly today: string;
  readonly horizon: string;
  readonly milliseconds: number;
  readonly planned: number;
  readonly whole: number;
  readonly historyId: number;
  readonly suggestions: number;
  readonly exceptions: number;
  readonly endangered: number;
}

/** The number of the plan and what it knows of. */
export function planStateRow(plan: Work): StateRow | undefined {
  return plan.row<StateRow>(
    'select seq, at, today, horizon, milliseconds, planned, whole, history_id as historyId, suggestions, exceptions, endangered from plan_state',
  );
}

export function planState(work: Work): PlanState {
  const plan = work.inPlan();
  const state = plan && planStateRow(plan);
  const none = { seq: 0, at: '', today: work.today, horizon: '', milliseconds: 0, planned: 0, whole: true, behind: true };
  if (!plan || !state) return { ...none, suggestions: 0, exceptions: 0, problems: 0, endangered: 0 };
  const { historyId, ...rest } = state;
  const known = work.lastHistory();
  return {
    ...rest,
    whole: state.whole === 1,
    behind: known > historyId || state.today !== work.today,
    problems: plan.row<{ n: number }>('select count(*) as n from problem')?.n ?? 0,
  };
}

const SUGGESTIONS: ListDefinition = {
  columns: {
    id: asText('name'),
    firmId: asOptionalNumber('firm_id'),
    kind: asText('kind'),
    itemId: asNumber('item_id'),
    code: asText('code'),
    description: asText('description'),
    unit: asText('unit'),
    decimals: asNumber('decimals'),
    group: asText('group_code'),
    warehouseId: asNumber('warehouse_id'),
    warehouse: asText('warehouse'),
    from: asText('source'),
    quantity: { sql: 'cast(quantity as real)', type: 'text', written: 'quantity' },
    placeBy: asText('place_by'),
    due: asText('due'),
    neededBy: asText('needed_by'),
    daysLate: asNumber('days_late'),
    supplierId: asOptionalNumber('supplier_id'),
    supplier: asText('supplier'),
    cost: asAmountText('cost'),
    level: asNumber('level'),
    ignoredUntil: asText('ignored_until'),
    note: asText('coalesce(ignored_note, note)'),
  },
  from: 'suggestion',
  find: ['code', 'description', 'supplier', 'name'],
  order: 'place_by, level, code',
  tie: 'id',
};

/**
 * Names of suggestions and, through all levels, of those that they call for; `start` is a query of the names to begin with.
 * A level below is what is suggested where the one above calls, as far as that serves it.
 */
export function withWhatTheyNeed(start: string): string {
  return `with recursive needed (name) as (${start}
    union select s.name from needed n join called c on c.name = n.name join suggestion s on s.node = c.node, json_each(s.pegs) p where json_extract(p.value, '$.demand') = n.name)
    select name from needed`;
}

/** A condition for the suggestions that a customer's order needs, with its values. */
function neededBy(work: Work, orderId: number): { readonly where: string; readonly values: readonly unknown[] } {
  const lines = work.rows<{ number: string; item: number }>(
    'select o.number, l.item_id as item from customer_order o join customer_order_line l on l.order_id = o.id where o.id = ?',
    orderId,
  );
  const items = JSON.stringify([...new Set(lines.map((line) => line.item))]);
  const start = `select s.name from suggestion s, json_each(s.pegs) p where s.item_id in (select value from json_each(?)) and json_extract(p.value, '$.demand') like ?`;
  return { where: `name in (${withWhatTheyNeed(start)})`, values: [items, `${lines[0]?.number ?? ''}/%`] };
}

export function listSuggestions(
  work: Work,
  query: ListQuery & { ignored: 'no' | 'only'; order?: number | undefined },
): AnswerOf<typeof api.planning.listSuggestions> {
  const plan = work.inPlan();
  if (!plan) return { rows: [], total: 0 };
  const looked = `ignored_until is ${query.ignored === 'no' ? 'null' : 'not null'}`;
  const { where, values } = query.order === undefined ? { where: looked, values: [] } : neededBy(work, query.order);
  const known = query.ignored === 'no' && query.order === undefined ? planStateRow(plan)?.suggestions : undefined;
  return listPage<SuggestionRow>(plan, { ...SUGGESTIONS, where, values, ...(known === undefined ? {} : { known }) }, query);
}

interface Kept extends SuggestionRow {
  readonly balance: string;
  readonly threshold: string;
  readonly missing: string;
  readonly sized: string;
  readonly pegs: string;
}

/** One suggestion with its reasons and who could supply it. */
export function suggestionView(work: Work, name: string): SuggestionView {
  const plan = orNotFound(work.inPlan() ?? undefined, 'plan');
  const row = orNotFound(keptSuggestion(plan, 'name = ?', name), `suggestion ${name} any more`);
  const { balance, threshold, missing, sized, pegs: written, ...shown } = row;
  const pegs = JSON.parse(written) as Suggestion['pegs'];
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
  const version =
    row.firmId === null ? null : (work.row<{ version: number }>('select version from plan_firm where id = ?', row.firmId)?.version ?? null);
  const why =
    row.firmId === null
      ? explainSuggestion(suggestion, { balance, threshold, missing, sized }, { unit: row.unit, decimals: row.decimals, rule: ruleOf(work, row) })
      : `Kept as ${row.id}: the plan counts with ${quantity} ${row.unit} on ${due} and suggests nothing in its place.`;
  return { ...shown, cost: writeAmount(Number(shown.cost)), why, pegs: [...pegs], choices: choicesOf(work, row), version };
}

function ruleOf(work: Work, { itemId, code, warehouse }: SuggestionRow): PlanningRule | null {
  return gatherItem(work, itemId, code).rules.find((each) => each.warehouse === warehouse) ?? null;
}

/** A suggestion as the plan's file keeps it; the cost is a whole number of its own. */
export function keptSuggestion(plan: Work, where: string, ...values: readonly unknown[]): Kept | undefined {
  return plan.row<Kept>(
    `select name as id, firm_id as firmId, kind, item_id as itemId, code, description, unit, decimals, group_code as "group", warehouse_id as warehouseId, warehouse, source as "from",
       quantity, place_by as placeBy, due, needed_by as neededBy, days_late as daysLate, supplier_id as supplierId, supplier, cost, level, ignored_until as ignoredUntil,
       coalesce(ignored_note, note) as note, balance, threshold, missing, sized, pegs
     from suggestion where ${where}`,
    ...values,
  );
}

function choicesOf(work: Work, row: SuggestionRow): SuggestionView['choices'] {
  if (row.kind !== 'buy') return [];
  const calendar = calendarOf(work, row.warehouseId);
  const quantity = parseQuantity(row.quantity, row.decimals);
  const start = calendar.onOrAfter(dayOf(work.today));
  return (validTerms(work, row.itemId).get(row.itemId) ?? []).map((terms) => {
    const price = priceAt(terms, quantity);
    const soonest = calendar.ahead(start, terms.leadDays);
    const comes = Math.max(soonest, dayOf(row.neededBy) < soonest ? soonest : calendar.onOrBefore(dayOf(row.neededBy)));
    return {
      supplierId: terms.supplierId,
      supplier: terms.supplier,
      preferred: terms.preferred,
      price: writePrice(price),
      cost: writeAmount(extend(quantity, asPrice(price))),
      leadDays: terms.leadDays,
      minimum: writeQuantity(asQuantity(terms.minimum)),
      comes: dateOf(comes),
      daysLate: Math.max(0, comes - dayOf(row.neededBy)),
    };
  });
}

const WORDS: Readonly<Record<string, (figure: string) => string>> = {
  bringForward: (figure) => `Bring ${figure} forward`,
  pushBack: (figure) => `Push ${figure} back`,
  cancel: (figure) => `Cancel ${figure}: not needed`,
  overdueReceipt: (figure) => `Should have come already: ${figure}`,
  overdueDemand: (figure) => `Wanted already: ${figure}`,
  expires: (figure) => `Will expire unused: ${figure}`,
  short: (figure) => `Missing, and nothing says from where: ${figure}`,
};

/** What can be done about an exception by itself: only orders to suppliers and to our own floor can be moved. */
export function remedyOf(kind: string, subject: string): 'redate' | 'cancel' | null {
  if (!/^(PO-\d+\/\d+|PRD-\d+)$/.test(subject)) return null;
  if (kind === 'bringForward' || kind === 'pushBack' || kind === 'overdueReceipt') return 'redate';
  return kind === 'cancel' ? 'cancel' : null;
}

const EXCEPTIONS: ListDefinition = {
  columns: {
    id: asNumber('id'),
    kind: asText('kind'),
    subject: asText('subject'),
    itemId: asNumber('item_id'),
    code: asText('code'),
    description: asText('description'),
    warehouse: asText('warehouse'),
    from: asText('from_date'),
    to: asText('to_date'),
    quantity: { sql: 'cast(quantity as real)', type: 'text', written: 'quantity' },
    unit: asText('unit'),
  },
  from: 'exception',
  // A suggestion that is placed late says so itself.
  where: "kind <> 'placeLate'",
  find: ['code', 'description', 'subject', 'kind'],
  order:
    "case kind when 'overdueReceipt' then 1 when 'bringForward' then 2 when 'short' then 3 when 'overdueDemand' then 4 when 'cancel' then 5 else 6 end, from_date",
  tie: 'id',
};

export function listExceptions(work: Work, query: ListQuery): AnswerOf<typeof api.planning.listExceptions> {
  const plan = work.inPlan();
  if (!plan) return { rows: [], total: 0 };
  const { rows, total } = listPage<Omit<ExceptionRow, 'words' | 'remedy'>>(plan, EXCEPTIONS, query);
  const remedies = { redate: 'Move it', cancel: 'Cancel it' } as const;
  return {
    rows: rows.map((row) => {
      const remedy = remedyOf(row.kind, row.subject);
      return { ...row, words: WORDS[row.kind]?.(`${row.quantity} ${row.unit}`) ?? row.kind, remedy: remedy === null ? '' : remedies[remedy] };
    }),
    total,
  };
}

const PROBLEMS: ListDefinition = {
  columns: {
    id: asNumber('id'),
    code: asText('code'),
    subject: asText('subject'),
    message: asText('message'),
    itemId: asOptionalNumber('item_id'),
    warehouseId: asOptionalNumber('warehouse_id'),
  },
  from: 'problem',
  find: ['message', 'subject'],
  order: 'code, subject',
  tie: 'id',
};

export function listProblems(work: Work, query: ListQuery): AnswerOf<typeof api.planning.listProblems> {
  const plan = work.inPlan();
  return plan ? listPage<ProblemRow>(plan, PROBLEMS, query) : { rows: [], total: 0 };
}

const DIFFERENCES: ListDefinition = {
  columns: {
    id: asNumber('id'),
    seq: asNumber('seq'),
    at: asText('at'),
    itemId: asNumber('item_id'),
    code: asText('code'),
    description: asText('description'),
    warehouse: asText('warehouse'),
    kind: asText('kind'),
    change: asText('change'),
    before: asText('before'),
    after: asText('after'),
    cause: asText('cause'),
  },
  from: 'difference',
  find: ['code', 'description', 'cause'],
  order: 'seq desc, code',
  tie: 'id',
};

export function listDifferences(work: Work, query: ListQuery & { since: number }): AnswerOf<typeof api.planning.listDifferences> {
  const plan = work.inPlan();
  return plan ? listPage<DifferenceRow>(plan, { ...DIFFERENCES, where: 'seq > ?', values: [query.since] }, query) : { rows: [], total: 0 };
}

/** What an order line waits for, in words; a suggestion is said by what it does. */
const WAITS_FOR = `coalesce((select s.kind || ' ' || s.code from suggestion s where s.name = p.cause), nullif(p.cause, ''),
  case when p.ready = '' then 'nobody supplies it' else 'its day has passed' end)`;
const LATE = "case when p.ready = '' then null else cast(julianday(p.ready) - julianday(p.wanted) as integer) end";

const ENDANGERED_LINES: ListDefinition = {
  columns: {
    id: asText('p.demand'),
    orderId: asNumber('o.id'),
    number: asText('o.number'),
    customer: asText('c.name'),
    code: asText('i.code'),
    description: asText('i.description'),
    itemId: asNumber('i.id'),
    warehouseId: asNumber('o.warehouse_id'),
    quantity: asQuantityText('l.quantity - l.shipped - l.cancelled'),
    unit: asText('i.unit_code'),
    wanted: asText('p.wanted'),
    ready: asText("nullif(p.ready, '')"),
    daysLate: asOptionalNumber(LATE),
    cause: asText(WAITS_FOR),
  },
  // The ids of an order's lines are its number, a stroke and the line's place.
  from: `promise p join kept.customer_order o on o.number = substr(p.demand, 1, instr(p.demand, '/') - 1)
    join kept.customer_order_line l on l.order_id = o.id and l.position = cast(substr(p.demand, instr(p.demand, '/') + 1) as integer)
    join kept.customer c on c.id = o.customer_id join kept.item i on i.id = l.item_id`,
  where: "(p.ready = '' or p.ready > p.wanted)",
  find: ['o.number', 'c.name', 'i.code', 'i.description'],
  order: `p.ready = '' desc, ${LATE} desc`,
  tie: 'p.demand',
};

/** Order lines that the plan can't serve in time, the latest first. */
export function listEndangered(work: Work, query: ListQuery): AnswerOf<typeof api.planning.listEndangered> {
  const plan = work.inPlan();
  return plan ? listPage<EndangeredRow>(plan, ENDANGERED_LINES, query) : { rows: [], total: 0 };
}

/** When the plan has a line of an order; `undefined` where it says nothing of it. */
export function plannedFor(work: Work, demand: string): { readonly ready: string | null; readonly cause: string } | undefined {
  const row = work.inPlan()?.row<{ ready: string; cause: string }>('select ready, cause from promise where demand = ?', demand);
  return row && { ready: row.ready === '' ? null : row.ready, cause: row.cause };
}
