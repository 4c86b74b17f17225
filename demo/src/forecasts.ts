/** What the demo company knows of demand from years before, what it forecasts, and what the planner has decided today. */
import { forecastInput, ruleInput } from '@terrace/contract';
import { addDays, periodStart } from '@terrace/core';
import { catalogue, planning, type Work } from '@terrace/server';
import { idOf } from './known';

interface Past {
  readonly code: string;
  /** Pieces a month, three years ago. */
  readonly level: number;
  /** More by this share every year. */
  readonly growth: number;
  /** January to December, 1 being usual. */
  readonly season: readonly number[];
  readonly counted: 'consume' | 'both' | 'orders';
}

const SPRING = [0.5, 0.8, 1.6, 2.0, 1.9, 1.3, 0.8, 0.6, 0.5, 0.4, 0.4, 0.6];
const HARVEST = [0.6, 0.6, 0.6, 0.7, 0.9, 1.3, 1.9, 2.1, 1.5, 0.8, 0.6, 0.9];
const WINTER = [1.8, 1.5, 0.9, 0.4, 0.2, 0.2, 0.3, 0.6, 1.2, 1.7, 1.9, 2.0];
const EVEN = Array.from({ length: 12 }, () => 1);

const PAST: readonly Past[] = [
  { code: 'FRAMES-10', level: 44, growth: 0.12, season: SPRING, counted: 'consume' },
  { code: 'HIVE-10', level: 9, growth: 0.1, season: SPRING, counted: 'consume' },
  { code: 'JAR-500', level: 1500, growth: 0.06, season: HARVEST, counted: 'consume' },
  { code: 'FONDANT', level: 30, growth: 0.04, season: WINTER, counted: 'consume' },
  { code: 'GLOVES', level: 20, growth: 0.05, season: EVEN, counted: 'orders' },
];
/** An extractor is sold now and then. */
const SELDOM = [0, 0, 1, 2, 0, 3, 2, 0, 0, 1, 0, 0];
const MONTHS = 36;
const COUNTED: readonly string[] = ['demand', 'consumeBack', 'consumeForward'];

/** Brings the demand of earlier years along and forecasts from it. */
export function tellForecasts(work: Work, opening: string): void {
  const warehouseId = idOf(work, 'warehouse', 'WORKS');
  for (const { code, level, growth, season, counted } of PAST) {
    const itemId = idOf(work, 'item', code);
    bringAlong(work, itemId, opening, (month, age, wave) => level * (1 + growth * (3 - age / 12)) * (season[month] ?? 1) * (0.92 + 0.16 * wave));
    const [kept] = catalogue.itemView(work, itemId).rules.filter((rule) => rule.warehouseId === warehouseId);
    if (kept && counted !== 'orders')
      planning.setRule(
        work,
        itemId,
        ruleInput.parse({
          ...kept,
          demand: counted,
          consumeBack: 14,
          consumeForward: 14,
          follows: kept.follows.filter((field) => !COUNTED.includes(field)),
        }),
      );
    planning.forecastHere(work, forecastInput.parse({ itemId, warehouseId }));
  }
  const extractor = idOf(work, 'item', 'EXTRACT-9');
  bringAlong(work, extractor, opening, (month, age) => SELDOM[(month + Math.floor(age / 12)) % 12] ?? 0);
  planning.forecastHere(work, forecastInput.parse({ itemId: extractor, warehouseId }));
  // The fair brings more than any year before: somebody knows better than the figures.
  const frames = idOf(work, 'item', 'FRAMES-10');
  const fair = periodStart(addDays(periodStart(work.today, 'month'), 32), 'month');
  planning.typeForecast(work, { itemId: frames, warehouseId, start: fair }, { typed: '140', note: 'spring fair' });
}

function bringAlong(work: Work, itemId: number, opening: string, demand: (month: number, age: number, wave: number) => number): void {
  const months: { start: string; quantity: string }[] = [];
  let start = periodStart(opening, 'month');
  for (let age = 0; age < MONTHS; age += 1) {
    const month = Number(start.slice(5, 7)) - 1;
    // The month in which the story begins was half over by then.
    const share = age === 0 ? Math.max(0, Number(opening.slice(8, 10)) - 1) / 30 : 1;
    const wave = (Math.sin(age * 12.9898 + itemId * 78.233) + 1) / 2;
    months.push({ start, quantity: String(Math.round(demand(month, age, wave) * share)) });
    start = periodStart(addDays(start, -1), 'month');
  }
  planning.keepPastDemand(work, { itemId, warehouseId: idOf(work, 'warehouse', 'WORKS') }, { months });
}

/** What the planner has decided by this morning: one suggestion kept larger, one item put aside. */
export function decide(work: Work): void {
  const { seq } = planning.planState(work);
  const { rows } = planning.listSuggestions(work, { offset: 0, limit: 1000, ignored: 'no' });
  const make = rows.find((each) => each.kind === 'make' && each.decimals === 0 && each.placeBy > addDays(work.today, 4));
  if (make)
    planning.keepSuggestion(work, {
      seq,
      name: make.id,
      kind: 'make',
      quantity: String(Math.ceil(Number(make.quantity) / 10) * 10),
      placeBy: make.placeBy,
      due: make.due,
      supplierId: null,
      fromId: null,
      note: 'one batch for the spring',
    });
  const buy = rows.find((each) => each.kind === 'buy' && each.placeBy > addDays(work.today, 4));
  if (buy)
    planning.ignoreSuggestions(work, {
      itemId: buy.itemId,
      warehouseId: buy.warehouseId,
      until: addDays(work.today, 14),
      note: 'prices are being asked for',
    });
}
