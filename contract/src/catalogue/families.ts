/** Families: items that differ by attributes. */
import { z } from 'zod';
import { route } from '../base/route';
import { decimalText, idParams, listQuery, page, shortText, version, versioned } from '../base/schemas';

const attribute = z.object({
  name: shortText.min(1, 'Name the attribute.'),
  values: z.array(z.object({ code: shortText.min(1, 'Give a code.').max(12), name: shortText.min(1, 'Give a name.') })).max(60),
});
export const familyInput = z.object({
  code: z.string().trim().min(1, 'Give a code.').max(30),
  description: z.string().trim().min(1, 'Give a description.').max(150),
  group: z.string(),
  attributes: z.array(attribute).max(4),
});
export const variantRow = z.object({
  code: z.string(),
  description: z.string(),
  values: z.record(z.string(), z.string()),
  /** The item that it is already. */
  itemId: z.number().nullable(),
  sellPrice: z.string(),
  onHand: z.string(),
  /** Another item that has the code. */
  taken: z.string(),
});
export const familyView = familyInput.extend({ id: z.number(), version, variants: z.array(variantRow) });
export type FamilyView = z.output<typeof familyView>;

export const familyRoutes = {
  listFamilies: route({
    method: 'get',
    path: '/catalogue/families',
    summary: 'Families of items',
    right: 'catalogue.see',
    query: listQuery,
    answer: page(z.object({ id: z.number(), code: z.string(), description: z.string(), group: z.string(), items: z.number() })),
  }),
  getFamily: route({
    method: 'get',
    path: '/catalogue/families/:id',
    summary: 'A family with all its variants, made or not',
    right: 'catalogue.see',
    params: idParams,
    answer: familyView,
  }),
  createFamily: route({
    method: 'post',
    path: '/catalogue/families',
    summary: 'Set up a family',
    right: 'catalogue.edit',
    body: familyInput,
    answer: familyView,
  }),
  changeFamily: route({
    method: 'put',
    path: '/catalogue/families/:id',
    summary: 'Change a family',
    right: 'catalogue.edit',
    params: idParams,
    body: familyInput.extend({ version }),
    answer: familyView,
  }),
  makeVariants: route({
    method: 'post',
    path: '/catalogue/families/:id/variants',
    summary: 'Make items of chosen variants, each with what differs',
    right: 'catalogue.edit',
    params: idParams,
    body: versioned.extend({
      variants: z
        .array(
          z.object({
            values: z.record(z.string(), z.string()),
            code: shortText.min(1),
            description: shortText.min(1),
            sellPrice: decimalText.default('0'),
          }),
        )
        .min(1, 'Choose a variant at least.')
        .max(500),
    }),
    answer: familyView,
  }),
};
