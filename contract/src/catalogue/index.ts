/** Items, units, groups, parties and suppliers' terms: the room's routes. */
import { z } from 'zod';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, page, version, versioned } from '../base/schemas';
import { familyRoutes } from './families';
import { groundRoutes } from './ground';
import { itemRow, itemView, itemInput, termInput, bomInput, itemChoice, likeItem, bulkFields } from './items';
import { partyRoutes } from './parties';

export * from './custom';
export * from './families';
export * from './ground';
export * from './items';
export * from './parties';

export const catalogueRoutes = {
  listItems: route({
    method: 'get',
    path: '/catalogue/items',
    summary: 'Items with what is there of them',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(itemRow),
  }),
  findItems: route({
    method: 'get',
    path: '/catalogue/items/find',
    summary: 'Items by code, barcode or words, best first',
    right: 'catalogue.see',
    query: z.object({
      text: z.string().max(200),
      /** The customer by whose own numbers it may be called. */
      customer: z.coerce.number().int().optional(),
    }),
    answer: z.array(itemChoice),
  }),
  getItem: route({ method: 'get', path: '/catalogue/items/:id', summary: 'One item', right: 'catalogue.see', params: idParams, answer: itemView }),
  createItem: route({
    method: 'post',
    path: '/catalogue/items',
    summary: 'Set up an item',
    right: 'catalogue.edit',
    body: itemInput,
    answer: itemView,
  }),
  changeItem: route({
    method: 'put',
    path: '/catalogue/items/:id',
    summary: 'Change an item',
    right: 'catalogue.edit',
    params: idParams,
    body: itemInput.extend({ version, active: z.boolean() }),
    answer: itemView,
  }),
  changeItems: route({
    method: 'put',
    path: '/catalogue/items',
    summary: 'Change many items in one transaction',
    right: 'catalogue.edit',
    body: z.object({
      changes: z
        .array(z.object({ id: z.number(), version, fields: z.partialRecord(z.enum(bulkFields), z.string().max(2000)) }))
        .min(1)
        .max(5000),
    }),
    answer: z.object({ changed: z.number() }),
  }),
  likeItems: route({
    method: 'get',
    path: '/catalogue/items/like',
    summary: 'Items that may be the same thing under another code',
    right: 'catalogue.see',
    query: z.object({
      description: z.string().max(200).default(''),
      barcodes: z.string().max(1000).default(''),
      supplierCode: z.string().max(120).default(''),
      except: z.coerce.number().default(0),
    }),
    answer: z.array(likeItem),
  }),
  groupGives: route({
    method: 'get',
    path: '/catalogue/items/given',
    summary: 'What a group gives to its items, and which group above it says so',
    right: 'catalogue.see',
    query: z.object({ group: z.string() }),
    answer: z.record(z.string(), z.object({ value: z.string(), group: z.string() })),
  }),
  setSubstitutes: route({
    method: 'put',
    path: '/catalogue/items/:id/substitutes',
    summary: 'Set which items can stand in for one',
    right: 'catalogue.edit',
    params: idParams,
    body: versioned.extend({
      lines: z.array(z.object({ itemId: z.number(), ratio: decimalText.default('1'), bothWays: z.boolean().default(false) })).max(30),
    }),
    answer: itemView,
  }),
  dropTerm: route({
    method: 'delete',
    path: '/catalogue/items/:id/terms/:term',
    summary: "Drop a supplier's terms for an item",
    right: 'catalogue.edit',
    params: z.object({ id: z.coerce.number().int().positive(), term: z.coerce.number().int().positive() }),
    answer: itemView,
  }),
  setTerm: route({
    method: 'put',
    path: '/catalogue/items/:id/terms',
    summary: "Set a supplier's terms for an item",
    right: 'catalogue.edit',
    params: idParams,
    body: termInput,
    answer: itemView,
  }),
  setBom: route({
    method: 'put',
    path: '/catalogue/items/:id/bom',
    summary: 'Set what an item is made from',
    right: 'catalogue.edit',
    params: idParams,
    body: bomInput,
    answer: itemView,
  }),
  ...familyRoutes,
  ...partyRoutes,
  ...groundRoutes,
};
