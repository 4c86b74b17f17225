import { api, type AnswerOf, type PegView, type QueryOf } from '@terrace/contract';
import { chainOf, parsePositiveQuantity, writeQuantity } from '@terrace/core';
import { itemFacts, warehouseOf } from '../catalogue';
import type { Binder } from '../platform/http';
import { orNotFound, type Work } from '../platform/work';
import { adopt } from './adopt';
import { applyExceptions, changeFirm, dropFirm, ignoreSuggestions, keepSuggestion } from './desk-changes';
import type { Forecasts } from './forecast-job';
import { forecastView, keepPastDemand, listForecasts, typeForecast } from './forecasts';
import type { LivePlanner } from './live-planner';
import { previewRelease, releaseSuggestions } from './release';
import {
  listDifferences,
  listEndangered,
  listExceptions,
  listProblems,
  listSuggestions,
  planState,
  planStateRow,
  plannedFor,
  suggestionView,
} from './view';

export { gatherProblem } from './problem';
export { releaseSuggestions } from './release';
export { planHere, planInThread, type LivePlanner } from './live-planner';
export { PLAN_FILE, dropPlanFile, openPlanFile, openPlanToRead } from './plan-file';
export { Planner } from './planner';
export { listSuggestions, planState, plannedFor } from './view';
export { planningEvents } from './events';
export { Forecasts } from './forecast-job';
export { forecastHere, keepPastDemand, typeForecast } from './forecasts';
export { ignoreSuggestions, keepSuggestion } from './desk-changes';

/** Binds the routes of forecasting. */
export function bindForecasts(binder: Binder, forecasts: Forecasts): void {
  const { planning } = api;
  binder.list(planning.listForecasts, (work, { query }) => listForecasts(work, query));
  binder.read(planning.getForecast, (work, { params }) => forecastView(work, params.itemId, params.warehouseId));
  binder.task(planning.computeForecast, (_commands, actor, { body }) => forecasts.compute(actor, body));
  binder.command(planning.typeForecast, (work, { params, body }) => typeForecast(work, params, body));
  binder.command(planning.keepPastDemand, (work, { params, body }) => {
    keepPastDemand(work, params, body);
    return {};
  });
  binder.read(planning.getForecastJob, () => forecasts.state());
  binder.task(planning.runForecasts, (_commands, actor) => Promise.resolve(forecasts.start(actor)));
  binder.task(planning.stopForecasts, () => Promise.resolve(forecasts.stop()));
}

export function bindPlanning(binder: Binder, planner: LivePlanner): void {
  const { planning } = api;
  const { commands } = binder;
  binder.read(planning.getPlan, (work) => planState(work));
  binder.task(planning.runPlan, async (_commands, actor) => {
    await planner.whole();
    return planState(commands.look(actor));
  });
  binder.list(planning.listSuggestions, (work, { query }) => listSuggestions(work, query));
  binder.read(planning.getSuggestion, (work, { query }) => suggestionView(work, query.name));
  binder.list(planning.listExceptions, (work, { query }) => listExceptions(work, query));
  binder.command(planning.applyExceptions, (work, { body }) => applyExceptions(work, body));
  binder.list(planning.listProblems, (work, { query }) => listProblems(work, query));
  binder.list(planning.listDifferences, (work, { query }) => listDifferences(work, query));
  binder.list(planning.listEndangered, (work, { query }) => listEndangered(work, query));
  binder.ask(planning.getRecord, async (actor, { params }) => itemRecord(commands.look(actor), planner, params));
  binder.ask(planning.getOrderChart, async (actor, { params }) => orderChart(commands.look(actor), planner, params.id));
  binder.ask(planning.getServing, async (actor, { query }) => {
    const work = commands.look(actor);
    const place = { item: itemFacts(work, query.itemId).code, warehouse: warehouseOf(work, query.warehouseId).code };
    const { pegs } = await planner.ask({ about: 'serving', ...place, demand: query.demand });
    return { serving: [...(pegs?.[0] ?? [])] };
  });
  binder.ask(planning.getServed, async (_actor, { query }) => {
    const { pegs } = await planner.ask({ about: 'above', ...query });
    return { served: [...(pegs?.[0] ?? [])] };
  });
  binder.ask(planning.getCapable, async (actor, { query }) => capable(commands.look(actor), planner, query));
  binder.written(planning.getPlanCopy, () => planner.copy());
  binder.command(planning.adopt, (work, { body }) => adopt(work, body));
  binder.command(planning.keepSuggestion, (work, { body }) => keepSuggestion(work, body));
  binder.command(planning.changeFirm, (work, { params, body }) => changeFirm(work, params.id, body));
  binder.command(planning.dropFirm, (work, { params }) => {
    dropFirm(work, params.id);
    return {};
  });
  binder.command(planning.ignoreSuggestions, (work, { body }) => {
    ignoreSuggestions(work, body);
    return {};
  });
  binder.command(planning.previewRelease, (work, { body }) => previewRelease(work, body));
  binder.command(planning.release, (work, { body }) => releaseSuggestions(work, body));
}

async function itemRecord(
  work: Work,
  planner: LivePlanner,
  { itemId, warehouseId }: { itemId: number; warehouseId: number },
): Promise<AnswerOf<typeof api.planning.getRecord>> {
  const item = itemFacts(work, itemId);
  const warehouse = warehouseOf(work, warehouseId).code;
  const { events, rule = null } = await planner.ask({ about: 'record', item: item.code, warehouse });
  const plan = work.inPlan();
  const state = plan && planStateRow(plan);
  return {
    itemId,
    code: item.code,
    description: item.description,
    unit: item.unit,
    decimals: item.decimals,
    warehouseId,
    warehouse,
    rule,
    today: state?.today ?? work.today,
    horizon: state?.horizon ?? work.today,
    events: [...(events ?? [])],
  };
}

/** All that must happen for a customer's order, by its lines; for one that is not confirmed, nothing must. */
export async function orderChart(work: Work, planner: LivePlanner, id: number): Promise<AnswerOf<typeof api.planning.getOrderChart>> {
  const order = orNotFound(
    work.row<{ number: string; customer: string }>(
      'select o.number, c.name as customer from customer_order o join customer c on c.id = o.customer_id where o.id = ?',
      id,
    ),
    'order',
  );
  const lines = work.rows<{ position: number; code: string; description: string; unit: string; quantity: number; wanted: string }>(
    `select l.position, i.code, i.description, i.unit_code as unit, l.quantity - l.shipped - l.cancelled as quantity, l.required_date as wanted
     from customer_order_line l join customer_order o on o.id = l.order_id join item i on i.id = l.item_id
     where l.order_id = ? and o.state in ('confirmed', 'partShipped') and l.quantity > l.shipped + l.cancelled and i.kind = 'stocked' order by l.position`,
    id,
  );
  const demands = lines.map((line) => `${order.number}/${line.position}`);
  const { pegs } = await planner.ask({ about: 'below', demands });
  return {
    orderId: id,
    ...order,
    today: work.today,
    lines: lines.map(({ position, quantity, ...line }, index) => {
      const demand = `${order.number}/${position}`;
      const served: readonly PegView[] = pegs?.[index] ?? [];
      return { id: demand, ...line, quantity: writeQuantity(quantity), ready: plannedFor(work, demand)?.ready ?? null, served: [...served] };
    }),
  };
}

/** When a quantity could be there, were it ordered now. */
async function capable(
  work: Work,
  planner: LivePlanner,
  { itemId, warehouseId, quantity, wanted }: QueryOf<typeof api.planning.getCapable>,
): Promise<AnswerOf<typeof api.planning.getCapable>> {
  const item = itemFacts(work, itemId);
  parsePositiveQuantity(quantity, item.decimals, `the quantity of ${item.code}`);
  const { ready = null, pegs } = await planner.ask({
    about: 'capable',
    item: item.code,
    warehouse: warehouseOf(work, warehouseId).code,
    quantity,
    wanted,
  });
  const chain = chainOf(pegs?.[0] ?? [], work.today)
    .filter((row) => row.critical)
    .map(({ link }) => ({
      kind: link.kind,
      source: link.source,
      id: link.id,
      code: link.code,
      quantity: link.quantity,
      unit: link.unit,
      start: link.start,
      ready: link.ready,
    }));
  return { ready, chain };
}
