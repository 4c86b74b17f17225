/** What the planner's desk shows: the plan's state, its suggestions, exceptions and problems, and looks into it. */
import { z } from 'zod';

export const planState = z.object({
  /** Counts every planning; 0 before the first. */
  seq: z.number(),
  at: z.string(),
  today: z.string(),
  horizon: z.string(),
  milliseconds: z.number(),
  /** Items in warehouses that were planned anew the last time. */
  planned: z.number(),
  whole: z.boolean(),
  /** True while something has changed that the plan does not know of yet. */
  behind: z.boolean(),
  suggestions: z.number(),
  exceptions: z.number(),
  problems: z.number(),
  endangered: z.number(),
});
export type PlanState = z.output<typeof planState>;

const peg = z.object({ demand: z.string(), quantity: z.string() });

export const suggestionRow = z.object({
  /** Its name, `item@warehouse#n`, or the number under which it is kept. */
  id: z.string(),
  /** Where somebody keeps it: as it is or changed. */
  firmId: z.number().nullable(),
  kind: z.enum(['buy', 'make', 'transfer']),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  group: z.string(),
  warehouseId: z.number(),
  warehouse: z.string(),
  from: z.string().nullable(),
  quantity: z.string(),
  placeBy: z.string(),
  due: z.string(),
  neededBy: z.string(),
  daysLate: z.number(),
  supplierId: z.number().nullable(),
  supplier: z.string().nullable(),
  cost: z.string(),
  level: z.number(),
  /** Until when nobody wants to look at it. */
  ignoredUntil: z.string().nullable(),
  note: z.string().nullable(),
  /** The first demand that it serves: a document's line, another suggestion, a forecast or `safety`; and how many more there are. */
  serves: z.string().nullable(),
  servesMore: z.number(),
});
export type SuggestionRow = z.output<typeof suggestionRow>;

export const suggestionView = suggestionRow.omit({ serves: true, servesMore: true }).extend({
  why: z.string(),
  pegs: z.array(peg),
  /** Who could supply it: price at this quantity, and when it would come. */
  choices: z.array(
    z.object({
      supplierId: z.number(),
      supplier: z.string(),
      preferred: z.boolean(),
      price: z.string(),
      cost: z.string(),
      leadDays: z.number(),
      minimum: z.string(),
      /** What would be ordered: as much as is suggested, or what they deliver at least. */
      ordered: z.string(),
      comes: z.string(),
      daysLate: z.number(),
    }),
  ),
  version: z.number().nullable(),
});
export type SuggestionView = z.output<typeof suggestionView>;

export const exceptionRow = z.object({
  id: z.number(),
  kind: z.string(),
  subject: z.string(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  warehouse: z.string(),
  from: z.string(),
  to: z.string().nullable(),
  quantity: z.string(),
  unit: z.string(),
  words: z.string(),
  /** What applying it does; empty where there is nothing to apply. */
  remedy: z.string(),
});
export type ExceptionRow = z.output<typeof exceptionRow>;

export const problemRow = z.object({
  id: z.number(),
  code: z.string(),
  subject: z.string(),
  message: z.string(),
  itemId: z.number().nullable(),
  warehouseId: z.number().nullable(),
});
export type ProblemRow = z.output<typeof problemRow>;

export const differenceRow = z.object({
  id: z.number(),
  seq: z.number(),
  at: z.string(),
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  warehouse: z.string(),
  kind: z.string(),
  change: z.enum(['new', 'gone', 'moved', 'changed']),
  before: z.string(),
  after: z.string(),
  cause: z.string(),
});
export type DifferenceRow = z.output<typeof differenceRow>;

export const endangeredRow = z.object({
  id: z.string(),
  orderId: z.number(),
  number: z.string(),
  customer: z.string(),
  code: z.string(),
  description: z.string(),
  itemId: z.number(),
  warehouseId: z.number(),
  quantity: z.string(),
  unit: z.string(),
  wanted: z.string(),
  /** When the plan has all of it; `null` where a part has no supply at all. */
  ready: z.string().nullable(),
  daysLate: z.number().nullable(),
  cause: z.string(),
});
export type EndangeredRow = z.output<typeof endangeredRow>;

export const recordEventView = z.object({
  day: z.string(),
  given: z.string(),
  what: z.enum(['stock', 'receipt', 'suggestion', 'order', 'component', 'transfer', 'forecast', 'quote', 'called', 'leaves']),
  id: z.string(),
  quantity: z.string(),
  placeBy: z.string().nullable(),
});
export type RecordEventView = z.output<typeof recordEventView>;

export interface PegView {
  readonly kind: 'stock' | 'receipt' | 'suggestion' | 'demand';
  readonly id: string;
  readonly itemId: number;
  readonly code: string;
  readonly description: string;
  readonly unit: string;
  readonly warehouse: string;
  readonly source: string | null;
  readonly quantity: string;
  readonly start: string;
  readonly due: string;
  /** `null` where something that it needs has no supply. */
  readonly ready: string | null;
  readonly wanted: string;
  readonly below: readonly PegView[];
}
export const pegView: z.ZodType<PegView> = z.lazy(() =>
  z.object({
    kind: z.enum(['stock', 'receipt', 'suggestion', 'demand']),
    id: z.string(),
    itemId: z.number(),
    code: z.string(),
    description: z.string(),
    unit: z.string(),
    warehouse: z.string(),
    source: z.string().nullable(),
    quantity: z.string(),
    start: z.string(),
    due: z.string(),
    ready: z.string().nullable(),
    wanted: z.string(),
    below: z.array(pegView),
  }),
);

export const itemRecord = z.object({
  itemId: z.number(),
  code: z.string(),
  description: z.string(),
  unit: z.string(),
  decimals: z.number(),
  warehouseId: z.number(),
  warehouse: z.string(),
  /** What is planned by; `null` where no rule is. */
  rule: z.object({ source: z.string(), leadDays: z.number(), threshold: z.string(), sizing: z.string() }).nullable(),
  today: z.string(),
  horizon: z.string(),
  events: z.array(recordEventView),
});
export type ItemRecord = z.output<typeof itemRecord>;

export const orderChart = z.object({
  orderId: z.number(),
  number: z.string(),
  customer: z.string(),
  today: z.string(),
  lines: z.array(
    z.object({
      id: z.string(),
      code: z.string(),
      description: z.string(),
      quantity: z.string(),
      unit: z.string(),
      wanted: z.string(),
      ready: z.string().nullable(),
      served: z.array(pegView),
    }),
  ),
});
export type OrderChart = z.output<typeof orderChart>;

export const capable = z.object({
  /** When all of it can be there if what is missing is bought and made for it; `null` where nothing says from where. */
  ready: z.string().nullable(),
  /** What decides that day, from the item down. */
  chain: z.array(
    z.object({
      kind: z.enum(['stock', 'receipt', 'suggestion', 'demand']),
      source: z.string().nullable(),
      id: z.string(),
      code: z.string(),
      quantity: z.string(),
      unit: z.string(),
      start: z.string(),
      ready: z.string().nullable(),
    }),
  ),
});
export type Capable = z.output<typeof capable>;

/** What a release makes, or would make. */
export const releaseDocument = z.object({
  kind: z.enum(['purchaseOrder', 'productionOrder', 'transfer']),
  id: z.number().nullable(),
  number: z.string().nullable(),
  partner: z.string(),
  warehouse: z.string(),
  total: z.string(),
  lines: z.array(
    z.object({
      suggestion: z.string(),
      code: z.string(),
      quantity: z.string(),
      unit: z.string(),
      due: z.string(),
      /** What is more than was suggested and why, or what is not known of the supplier; empty where there is nothing to say. */
      note: z.string(),
    }),
  ),
});
export type ReleaseDocument = z.output<typeof releaseDocument>;
