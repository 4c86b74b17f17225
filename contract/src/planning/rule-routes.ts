/** Routes of planning rules, one by one and many at once. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, listQuery, page, version } from '../base/schemas';
import { itemView } from '../catalogue/items';
import { ruleColumns, ruleInput, ruleRow, ruleTexts } from './rules';

export const ruleRoutes = {
  listRules: route({
    method: 'get',
    path: '/catalogue/rules',
    summary: 'How items are planned in each warehouse',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(ruleRow),
  }),
  changeRules: route({
    method: 'put',
    path: '/catalogue/rules',
    summary: 'Change how many items are planned, in one transaction; an empty figure is taken from the item or its group',
    right: 'catalogue.edit',
    body: z.object({
      changes: z
        .array(z.object({ id: z.number(), version, fields: z.partialRecord(z.enum(ruleColumns), z.string().max(100)) }))
        .min(1)
        .max(5000),
    }),
    answer: z.object({ changed: z.number() }),
  }),
  setItemPlanning: route({
    method: 'put',
    path: '/catalogue/items/:id/planning',
    summary: 'Say how an item is planned where its rules do not; they follow',
    right: 'catalogue.edit',
    params: idParams,
    body: z.object({ planning: ruleTexts, version }),
    answer: itemView,
  }),
  setRule: route({
    method: 'put',
    path: '/catalogue/items/:id/rules',
    summary: 'Set how an item is planned in a warehouse',
    right: 'catalogue.edit',
    params: idParams,
    body: ruleInput,
    answer: itemView,
  }),
};
