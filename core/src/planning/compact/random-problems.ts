/** Random planning problems that use every rule there is, for properties. */
import fc from 'fast-check';
import { addDays } from '../../base';
import type { LotSizing, PlanProblem, PlanningRule } from '../problem';

export const TODAY = '2027-03-01';
const ITEMS = ['A', 'B', 'B1', 'C', 'D', 'E#', 'F'];
const PHANTOMS = new Set(['B1', 'F']);
const PLACES = ['DEPOT', 'WORKS'];
const DECIMALS: Readonly<Record<string, number>> = { C: 2, D: 3 };

const item = fc.constantFrom(...ITEMS);
const warehouse = fc.constantFrom(...PLACES);
const date = fc.oneof(
  { weight: 9, arbitrary: fc.integer({ min: -8, max: 60 }).map((days) => addDays(TODAY, days)) },
  { weight: 1, arbitrary: fc.constantFrom('2027-02-30', '') },
);
const until = fc.option(
  fc.integer({ min: -4, max: 50 }).map((days) => addDays(TODAY, days)),
  { nil: null },
);
const quantity = fc.oneof(
  { weight: 12, arbitrary: fc.integer({ min: 1, max: 80 }).map(String) },
  { weight: 2, arbitrary: fc.constantFrom('2.50', '0.25', '12.5') },
  { weight: 1, arbitrary: fc.constantFrom('0', '-3', 'x') },
);
const level = fc.oneof(
  { weight: 12, arbitrary: fc.integer({ min: 0, max: 30 }).map(String) },
  { weight: 1, arbitrary: fc.constantFrom('-1', '0.5') },
);
const sizing: fc.Arbitrary<LotSizing> = fc.oneof(
  fc.constant({ kind: 'lotForLot' as const }),
  level.map((each) => ({ kind: 'fixed' as const, quantity: each })),
  fc.integer({ min: 0, max: 8 }).map((days) => ({ kind: 'period' as const, days })),
  fc.tuple(level, level).map(([point, each]) => ({ kind: 'reorderPoint' as const, point, quantity: each })),
  fc.tuple(level, level).map(([min, more]) => ({ kind: 'minMax' as const, min, max: String(Number(min) + Number(more)) })),
  fc.tuple(fc.integer({ min: 0, max: 50 }), fc.constantFrom('0', '0.1', '1')).map(([orderCost, holdingPerUnitDay]) => ({
    kind: 'leastCost' as const,
    orderCost: String(orderCost),
    holdingPerUnitDay,
  })),
);
const rule: fc.Arbitrary<PlanningRule> = fc.record({
  item,
  warehouse,
  source: fc.constantFrom('buy', 'make', 'make', 'transfer', 'none'),
  from: fc.option(warehouse, { nil: null, freq: 6 }),
  leadDays: fc.integer({ min: 0, max: 9 }),
  safety: level,
  lotSizing: sizing,
  minimum: fc.constantFrom('0', '0', '15'),
  multiple: fc.constantFrom('0', '0', '4'),
  maximum: fc.constantFrom(null, null, '20', '7'),
  yield: fc.constantFrom('1', '1', '0.9', '0.333', '0'),
  fenceDays: fc.constantFrom(0, 0, 4),
  slackDays: fc.constantFrom(0, 3),
  demand: fc.constantFrom('orders', 'forecast', 'both', 'consume'),
  consumeBack: fc.integer({ min: 0, max: 10 }),
  consumeForward: fc.integer({ min: 0, max: 10 }),
  quotesFrom: fc.constantFrom(null, '0.4', '0.50'),
  quotesWeighted: fc.boolean(),
});
const line = fc.record({
  component: fc.oneof({ weight: 14, arbitrary: item }, { weight: 1, arbitrary: fc.constant('NONE') }),
  // Through both phantoms the factors multiply: with more decimals they would no longer be exact numbers.
  quantity: fc.constantFrom('1', '2', '1.5', '0.33', '0'),
  scrap: fc.constantFrom('0', '0.05', '0.125'),
  offsetDays: fc.constantFrom(0, 0, 2),
  from: fc.constantFrom(null, null, addDays(TODAY, 10)),
  to: fc.constantFrom(null, null, addDays(TODAY, 25)),
});
const demand = fc.record({
  item,
  warehouse,
  date: fc.option(date, { nil: null, freq: 20 }),
  quantity,
  kind: fc.constantFrom('order', 'order', 'component', 'transfer', 'forecast', 'forecast', 'quote'),
  probability: fc.constantFrom(null, '0.3', '0.5', '0.75'),
});

const distinct = <T extends { item: string; warehouse?: string }>(rows: readonly T[]): T[] => [
  ...new Map(rows.map((row) => [`${row.item}@${row.warehouse ?? ''}`, row])).values(),
];

/** Problems of seven items (two of them phantoms) in two warehouses, some rows bad; loops are likely unless `layered`. */
export function randomProblems(layered: boolean): fc.Arbitrary<PlanProblem> {
  return fc
    .record({
      rules: fc.array(rule, { minLength: 4, maxLength: 14 }),
      boms: fc.array(fc.record({ item, lines: fc.array(line, { maxLength: 4 }) }), { maxLength: 7 }),
      stock: fc.array(fc.record({ item, warehouse, quantity, usableUntil: until }), { maxLength: 8 }),
      receipts: fc.array(fc.record({ item, warehouse, date, quantity, locked: fc.boolean() }), { maxLength: 8 }),
      demands: fc.array(demand, { maxLength: 14 }),
    })
    .map(({ rules, boms, stock, receipts, demands }) => ({
      today: TODAY,
      horizon: addDays(TODAY, 55),
      calendars: [
        { code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [addDays(TODAY, 9)] },
        { code: 'SHORT', workdays: [2, 6], holidays: [] },
      ],
      warehouses: [
        { code: 'WORKS', calendar: 'STD' },
        { code: 'DEPOT', calendar: 'SHORT' },
      ],
      items: ITEMS.map((code) => ({ code, decimals: DECIMALS[code] ?? 0, phantom: PHANTOMS.has(code) })),
      rules: distinct(rules),
      boms: distinct(boms).map((bom) => ({
        ...bom,
        lines: layered ? bom.lines.filter((each) => ITEMS.indexOf(each.component) > ITEMS.indexOf(bom.item) || each.component === 'NONE') : bom.lines,
      })),
      stock,
      receipts: receipts.map((row, index) => ({ ...row, id: `PO-${index}` })),
      demands: demands.map((row, index) => ({ ...row, id: `CO-${index}` })),
    }));
}
