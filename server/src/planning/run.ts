/** Running the plan and looking at its outcome. */
import { desc } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { type AnswerOf, type PlanView, type SuggestionRow } from '@terrace/contract';
import { asPrice, explainSuggestion, extend, parseQuantity, writeAmount, type Amount, type Quantity, type Suggestion } from '@terrace/core';
import { askedPrice } from '../catalogue';
import type { Commands, Actor, CommandKey, Work } from '../platform/work';
import type { WorkerPool } from './plan-pool';
import { gatherProblem } from './problem';
import type { WorkerPlan } from './plan-worker';
import * as tables from './schema';

/** Plans everything anew in a worker thread and keeps the outcome in one transaction. */
export async function runPlan(commands: Commands, pool: WorkerPool, actor: Actor, once: CommandKey): Promise<PlanView> {
  const work = commands.look(actor);
  const earlier = commands.answered(actor, once);
  if (earlier) return earlier.answer as PlanView;
  const problem = gatherProblem(work);
  const historyId = lastHistory(work);
  const outcome = await pool.plan(problem);
  return commands.performTogether(
    actor,
    (saving) => {
      keepPlan(saving, outcome, problem.horizon, historyId);
      return planView(saving);
    },
    once,
  );
}

function lastHistory(work: Work): number {
  return work.row<{ n: number | null }>('select max(id) as n from history')?.n ?? 0;
}

/** Keeps a plan in place of the last one. */
export function keepPlan(work: Work, plan: WorkerPlan, horizon: string, historyId: number): void {
  for (const table of ['plan_peg', 'plan_problem', 'plan_exception', 'plan_suggestion', 'plan_run']) work.run(`delete from ${table}`);
  const { id } = work.run(
    'insert into plan_run (at, today, horizon, milliseconds, history_id) values (?, ?, ?, ?, ?)',
    work.now,
    work.today,
    horizon,
    plan.milliseconds,
    historyId,
  );
  const items = new Map(
    work.rows<{ id: number; code: string; unit: string }>('select id, code, unit_code as unit from item').map((each) => [each.code, each]),
  );
  const warehouses = new Map(work.rows<{ id: number; code: string }>('select id, code from warehouse').map((each) => [each.code, each.id]));
  const suppliers = new Map(
    work
      .rows<{ item: number; supplier: number }>(
        'select item_id as item, supplier_id as supplier from supplier_term where valid_from <= ?1 and (valid_to is null or valid_to >= ?1) order by preferred, price desc',
        work.today,
      )
      .map((each) => [each.item, each.supplier]),
  );
  const reasons = new Map(plan.reasons);
  const levels = levelsOf(plan.result.suggestions);
  for (const suggestion of plan.result.suggestions) {
    const item = items.get(suggestion.item);
    const reason = reasons.get(suggestion.id);
    if (!item || !reason) throw new RangeError(`the plan suggests ${suggestion.item}, which is no item`);
    work.run(
      'insert into plan_suggestion (run_id, name, kind, item_id, warehouse_id, quantity, place_by, due, needed_by, days_late, supplier_id, why, level, pegs) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      id,
      suggestion.id,
      suggestion.kind,
      item.id,
      warehouses.get(suggestion.warehouse),
      suggestion.quantity,
      suggestion.placeBy,
      suggestion.due,
      suggestion.neededBy,
      suggestion.daysLate,
      suggestion.kind === 'buy' ? (suppliers.get(item.id) ?? null) : null,
      explainSuggestion(suggestion, reason, item.unit),
      levels.get(suggestion.id) ?? 0,
      JSON.stringify(suggestion.pegs),
    );
  }
  for (const each of plan.result.exceptions) {
    work.run(
      'insert into plan_exception (run_id, kind, subject, item, warehouse, from_date, to_date, quantity) values (?, ?, ?, ?, ?, ?, ?, ?)',
      id,
      each.kind,
      each.subject,
      each.item,
      each.warehouse,
      each.from,
      each.to,
      each.quantity,
    );
  }
  for (const each of plan.result.problems)
    work.run('insert into plan_problem (run_id, code, subject, message) values (?, ?, ?, ?)', id, each.code, each.subject, each.message);
  for (const each of plan.pegs) {
    work.run(
      'insert into plan_peg (run_id, item, warehouse, supply_kind, supply, day, demand, quantity) values (?, ?, ?, ?, ?, ?, ?, ?)',
      id,
      each.item,
      each.warehouse,
      each.supplyKind,
      each.supply,
      each.day,
      each.demand,
      each.quantity,
    );
  }
  work.touch('plan', id, 'planned');
}

/** How deep below a customer's demand a suggestion lies: 0 where it serves that itself. */
function levelsOf(suggestions: readonly Suggestion[]): Map<string, number> {
  const byId = new Map(suggestions.map((each) => [each.id, each]));
  const levels = new Map<string, number>();
  const levelOf = (id: string): number => {
    const known = levels.get(id);
    if (known !== undefined) return known;
    const parents = (byId.get(id)?.pegs ?? []).filter((peg) => byId.has(peg.demand));
    const level = parents.length === 0 ? 0 : 1 + Math.max(...parents.map((peg) => levelOf(peg.demand)));
    levels.set(id, level);
    return level;
  };
  for (const each of suggestions) levelOf(each.id);
  return levels;
}

const SUGGESTIONS = `select s.id, s.name, s.kind, s.item_id as itemId, i.code, i.description, i.unit_code as unit, u.decimals, s.warehouse_id as warehouseId, w.code as warehouse, s.quantity, s.place_by as placeBy, s.due, s.needed_by as neededBy,
    s.days_late as daysLate, s.supplier_id as supplierId, p.name as supplier, s.why, s.level, s.pegs, s.released_number as released, s.released_kind as releasedKind, s.released_id as releasedId
  from plan_suggestion s join item i on i.id = s.item_id join unit u on u.code = i.unit_code join warehouse w on w.id = s.warehouse_id
  left join supplier p on p.id = s.supplier_id
  where s.run_id = ? order by s.level, s.place_by, i.code, s.id`;

const EXCEPTION_WORDS: Readonly<Record<string, (from: string, to: string | null, quantity: string) => string>> = {
  bringForward: (from, to, quantity) => `Bring ${quantity} forward from ${from} to ${to ?? ''}`,
  pushBack: (from, to, quantity) => `Push ${quantity} back from ${from} to ${to ?? ''}: nothing needs it before`,
  cancel: (from, _to, quantity) => `Cancel ${quantity} due ${from}: nothing needs it`,
  overdueReceipt: (from, to, quantity) => `${quantity} should have come on ${from}; counted on ${to ?? ''}`,
  overdueDemand: (from, _to, quantity) => `${quantity} were wanted on ${from}; counted as of today`,
  placeLate: (from, to, quantity) => `${quantity} needed by ${from} can’t come before ${to ?? ''}`,
  expires: (from, _to, quantity) => `${quantity} stop being usable on ${from}, unused`,
  short: (from, _to, quantity) => `${quantity} missing on ${from}, and no rule says where to get them`,
};

/** The last plan, as the desk shows it. */
export function planView(work: Work): AnswerOf<typeof api.planning.getPlan> {
  const [run] = work.db.select().from(tables.planRun).orderBy(desc(tables.planRun.id)).limit(1).all();
  if (!run) return { run: null, suggestions: [], exceptions: [], problems: [] };
  const rows = work.rows<Omit<SuggestionRow, 'pegs' | 'cost'> & { pegs: string; decimals: number }>(SUGGESTIONS, run.id);
  const items = new Map(work.rows<{ id: number; code: string }>('select id, code from item').map((each) => [each.code, each.id]));
  return {
    run: {
      id: run.id,
      at: run.at,
      today: run.today,
      horizon: run.horizon,
      milliseconds: run.milliseconds,
      stale: lastHistory(work) > run.historyId || run.today !== work.today,
    },
    suggestions: rows.map(({ pegs, decimals, ...row }) => ({
      ...row,
      cost: writeAmount(costOf(work, row.itemId, row.supplierId, parseQuantity(row.quantity, decimals))),
      pegs: JSON.parse(pegs) as SuggestionRow['pegs'],
    })),
    exceptions: work
      .rows<{ id: number; kind: string; subject: string; code: string; warehouse: string; from: string; to: string | null; quantity: string }>(
        'select id, kind, subject, item as code, warehouse, from_date as "from", to_date as "to", quantity from plan_exception where run_id = ? order by id',
        run.id,
      )
      .map((row) => ({
        ...row,
        itemId: items.get(row.code) ?? null,
        words: EXCEPTION_WORDS[row.kind]?.(row.from, row.to, row.quantity) ?? row.kind,
      })),
    problems: work
      .rows<{ code: string; subject: string; message: string }>(
        'select code, subject, message from plan_problem where run_id = ? order by id',
        run.id,
      )
      .map((row) => ({ ...row, itemId: items.get(row.subject.split('@')[0] ?? '') ?? null })),
  };
}

/** What a suggestion to buy costs by the supplier's terms of today, in the books' currency; nothing where none hold. */
function costOf(work: Work, itemId: number, supplierId: number | null, quantity: Quantity): Amount {
  const asked = supplierId === null ? null : askedPrice(work, itemId, supplierId, quantity);
  return extend(quantity, asked ?? asPrice(0));
}
