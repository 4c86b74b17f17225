import { api, type AnswerOf, type QueryOf } from '@terrace/contract';
import { chainOf, parsePositiveQuantity } from '@terrace/core';
import { itemFacts, itemView, warehouseOf } from '../catalogue';
import type { RouteBinder } from '../platform/http';
import type { Work } from '../platform/work';
import { adopt } from './adopt';
import { listEndangered } from './endangered';
import { listExceptions } from './exceptions';
import type { Forecasts } from './forecast-job';
import { forecastView, keepPastDemand, listForecasts, typeForecast } from './forecasts';
import { changeRules, setItemPlanning, setRule } from './inherited-rules';
import { applyExceptions, changeFirm, dropFirm, ignoreSuggestions, keepSuggestion } from './keep-suggestions';
import type { LivePlanner } from './live-planner';
import { orderChart } from './order-chart';
import { reviewSafeties } from './computed-safety';
import { listDifferences, listProblems } from './plan-changes';
import { planState, planStateRow } from './plan-state';
import { listRules } from './planning-rule-list';
import { previewRelease, releaseSuggestions } from './release-suggestions';
import { listSuggestions, suggestionView } from './suggestions';
export { gatherProblem } from './problem';
export { releaseSuggestions } from './release-suggestions';
export type { LivePlanner } from './live-planner';
export { keepPlan } from './plan-upkeep';
export { PLAN_FILE, closeKept, dropPlanFile, openKept, openPlanFile } from './plan-file';
export { Planner } from './planner';
export { followRules, ruleGiven, setItemPlanning, setRule } from './inherited-rules';
export { orderChart } from './order-chart';
export { planState } from './plan-state';
export { endangeredOrders, plannedOrder } from './planned-order';
export { plainTexts } from './planning-rule-texts';
export { reviewSafeties, reviewSomeSafeties } from './computed-safety';
export { finerRules, isPlanned, planAs, ruleOf, rulesOf } from './planning-rules';
export { listSuggestions } from './suggestions';
export { plannedFor } from './endangered';
export { planningEvents } from './events';
export { Forecasts } from './forecast-job';
export { forecastHere, keepPastDemand, typeForecast } from './forecasts';
export { ignoreSuggestions, keepSuggestion } from './keep-suggestions';
export { suggestion } from './plan-schema';
export * from './schema';

/** Binds the lists. */
export function bindPlanningLists(binder: RouteBinder): void {
  const { planning } = api;
  binder.list(planning.listRules, (work, { query }) => listRules(work, query));
  binder.list(planning.listForecasts, (work, { query }) => listForecasts(work, query));
  binder.list(planning.listSuggestions, (work, { query }) => listSuggestions(work, query));
  binder.list(planning.listExceptions, (work, { query }) => listExceptions(work, query));
  binder.list(planning.listProblems, (work, { query }) => listProblems(work, query));
  binder.list(planning.listDifferences, (work, { query }) => listDifferences(work, query));
  binder.list(planning.listEndangered, (work, { query }) => listEndangered(work, query));
}

/** Binds the routes of planning rules. */
function bindRules(binder: RouteBinder): void {
  const { planning } = api;
  const item = (work: Work, { params }: { readonly params: { readonly id: number } }): ReturnType<typeof itemView> => itemView(work, params.id);
  binder.command(planning.changeRules, (work, { body }) => changeRules(work, body.changes));
  binder.change(planning.setRule, (work, { params, body }) => setRule(work, params.id, body), item);
  binder.change(planning.setItemPlanning, (work, { params, body }) => setItemPlanning(work, params.id, body), item);
}

/** Binds the routes of forecasting. */
export function bindForecasts(binder: RouteBinder, forecasts: Forecasts): void {
  const { planning } = api;
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

export function bindPlanning(binder: RouteBinder, planner: LivePlanner): void {
  const { planning } = api;
  const { commands } = binder;
  bindRules(binder);
  binder.read(planning.getPlan, (work) => planState(work));
  binder.task(planning.runPlan, async (_commands, actor) => {
    await reviewSafeties(commands);
    await planner.whole();
    return planState(commands.look(actor));
  });
  binder.read(planning.getSuggestion, (work, { query }) => suggestionView(work, query.name));
  binder.command(planning.applyExceptions, (work, { body }) => applyExceptions(work, body));
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
