/** The planner's desk: what is asked of the plan, and what is done with it. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, decimalText, idParams, listQuery, longText, nothing, page, versioned } from '../base/schemas';
import {
  capable,
  differenceRow,
  endangeredRow,
  exceptionRow,
  itemRecord,
  orderChart,
  pegView,
  planState,
  problemRow,
  releaseDocument,
  suggestionRow,
  suggestionView,
} from './desk-views';

/** More would keep everybody else waiting. */
const MOST_AT_ONCE = 300;

const wish = z.object({
  name: z.string(),
  /** What was seen of it: refused where the plan says otherwise by now. */
  seen: z.object({ quantity: z.string(), due: z.string() }),
  quantity: decimalText.optional(),
  due: dateText.optional(),
  supplierId: z.number().optional(),
});
const releaseInput = z.object({
  /** The plan that was looked at. */
  seq: z.number(),
  suggestions: z.array(wish).min(1, 'Choose a suggestion.').max(MOST_AT_ONCE, `Choose at most ${MOST_AT_ONCE} suggestions at once.`),
  /** With the production of all that a production order needs to have made. */
  withLevels: z.boolean().default(false),
});
const exceptionChoice = z.object({
  seq: z.number(),
  exceptions: z
    .array(
      z.object({
        kind: z.string(),
        subject: z.string(),
        /** What was seen of it: the item, the day that it goes to and how much; where the plan says otherwise by now it is refused. */
        seen: z.object({ itemId: z.number(), to: z.string().nullable(), quantity: z.string() }),
      }),
    )
    .min(1, 'Choose an exception.')
    .max(MOST_AT_ONCE, `Choose at most ${MOST_AT_ONCE} exceptions at once.`),
});
const applied = z.object({ done: z.array(z.object({ subject: z.string(), words: z.string() })) });

const firmFigures = z.object({
  quantity: decimalText,
  placeBy: dateText,
  due: dateText,
  kind: z.enum(['buy', 'make', 'transfer']),
  supplierId: z.number().nullable().default(null),
  fromId: z.number().nullable().default(null),
  note: longText.default(''),
});

export const deskRoutes = {
  getPlan: route({ method: 'get', path: '/planning/plan', summary: 'How the plan stands', right: 'planning.see', answer: planState }),
  runPlan: route({ method: 'post', path: '/planning/plan', summary: 'Plan everything anew', right: 'planning.run', answer: planState }),
  listSuggestions: route({
    method: 'get',
    path: '/planning/suggestions',
    summary: 'What the plan suggests',
    right: 'planning.see',
    query: listQuery.extend({
      ignored: z.enum(['no', 'only']).default('no'),
      /** Only what this customer's order needs, through all levels. */
      order: z.coerce.number().int().positive().optional(),
      /** Only what is to be placed within so many days from today, the most urgent first. */
      within: z.coerce.number().int().min(0).max(3660).optional(),
    }),
    answer: page(suggestionRow),
  }),
  getSuggestion: route({
    method: 'get',
    path: '/planning/suggestion',
    summary: 'One suggestion: why, for whom, and who could supply it',
    right: 'planning.see',
    query: z.object({ name: z.string() }),
    answer: suggestionView,
  }),
  listExceptions: route({
    method: 'get',
    path: '/planning/exceptions',
    summary: 'What the plan says about what is ordered',
    right: 'planning.see',
    query: listQuery,
    answer: page(exceptionRow),
  }),
  applyExceptions: route({
    method: 'post',
    path: '/planning/exceptions/apply',
    summary: 'Re-date or cancel what exists, as the plan says',
    right: 'planning.release',
    body: exceptionChoice,
    answer: applied,
  }),
  listProblems: route({
    method: 'get',
    path: '/planning/problems',
    summary: 'Rows that the plan had to leave out',
    right: 'planning.see',
    query: listQuery,
    answer: page(problemRow),
  }),
  listDifferences: route({
    method: 'get',
    path: '/planning/differences',
    summary: 'How the plan differs from before, and because of what',
    right: 'planning.see',
    query: listQuery.extend({ since: z.coerce.number().default(0) }),
    answer: page(differenceRow),
  }),
  listEndangered: route({
    method: 'get',
    path: '/planning/endangered',
    summary: 'Order lines that the plan can not serve in time',
    right: 'planning.see',
    query: listQuery,
    answer: page(endangeredRow),
  }),
  getRecord: route({
    method: 'get',
    path: '/planning/records/:itemId/:warehouseId',
    summary: 'What the plan counts with for an item in a warehouse',
    right: 'planning.see',
    params: z.object({ itemId: z.coerce.number().int().positive(), warehouseId: z.coerce.number().int().positive() }),
    answer: itemRecord,
  }),
  getOrderChart: route({
    method: 'get',
    path: '/planning/orders/:id',
    summary: 'All that must happen for a customer’s order',
    right: 'planning.see',
    params: idParams,
    answer: orderChart,
  }),
  getServed: route({
    method: 'get',
    path: '/planning/served',
    summary: 'Whom a receipt or suggestion serves, up to the customers',
    right: 'planning.see',
    query: z.object({ kind: z.enum(['receipt', 'suggestion']), id: z.string() }),
    answer: z.object({ served: z.array(pegView) }),
  }),
  getServing: route({
    method: 'get',
    path: '/planning/serving',
    summary: 'What serves a demand of an item, down through all levels',
    right: 'planning.see',
    query: z.object({
      itemId: z.coerce.number().int().positive(),
      warehouseId: z.coerce.number().int().positive(),
      demand: z.string(),
    }),
    answer: z.object({ serving: z.array(pegView) }),
  }),
  getCapable: route({
    method: 'get',
    path: '/planning/capable',
    summary: 'When a quantity could be there, by lead times and components, and what decides that',
    right: 'planning.see',
    query: z.object({
      itemId: z.coerce.number().int().positive(),
      warehouseId: z.coerce.number().int().positive(),
      quantity: decimalText,
      wanted: dateText,
    }),
    answer: capable,
  }),
  keepSuggestion: route({
    method: 'post',
    path: '/planning/firm',
    summary: 'Keep a suggestion, as it is or changed',
    right: 'planning.release',
    body: firmFigures.extend({ seq: z.number(), name: z.string() }),
    answer: z.object({ id: z.number(), number: z.string() }),
  }),
  changeFirm: route({
    method: 'put',
    path: '/planning/firm/:id',
    summary: 'Change a suggestion that is kept',
    right: 'planning.release',
    params: idParams,
    body: firmFigures.extend(versioned.shape),
    answer: z.object({ id: z.number(), number: z.string() }),
  }),
  dropFirm: route({
    method: 'post',
    path: '/planning/firm/:id/drop',
    summary: 'Leave a kept suggestion to the plan again',
    right: 'planning.release',
    params: idParams,
    answer: nothing,
  }),
  ignoreSuggestions: route({
    method: 'post',
    path: '/planning/ignored',
    summary: 'Not look at what is suggested for an item until a date',
    right: 'planning.release',
    body: z.object({ itemId: z.number(), warehouseId: z.number(), until: dateText.nullable(), note: longText.default('') }),
    answer: nothing,
  }),
  previewRelease: route({
    method: 'post',
    path: '/planning/release/preview',
    summary: 'What a release would make',
    right: 'planning.see',
    body: releaseInput,
    answer: z.object({ documents: z.array(releaseDocument) }),
  }),
  release: route({
    method: 'post',
    path: '/planning/release',
    summary: 'Release suggestions: a purchase order per supplier, production orders, transfers',
    right: 'planning.release',
    body: releaseInput,
    answer: z.object({ documents: z.array(releaseDocument) }),
  }),
};
