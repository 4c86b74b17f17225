/** Places: warehouses and their bins. */
import { z } from 'zod';
import { route } from '../base/route';
import { idParams, shortText, version } from '../base/schemas';

const bin = z.object({
  id: z.number().int(),
  code: z.string(),
  /** Where goods arrive where no other bin is named. */
  dock: z.boolean(),
  /** The order in which bins are walked by, the lowest first. */
  walk: z.number().int(),
  /** What fits in, in the house's own words. */
  size: z.string(),
  /** Nothing more is put there. */
  blocked: z.boolean(),
  /** What is closed is not used any more. */
  active: z.boolean(),
  /** Items that lie there. */
  items: z.number().int(),
});
export type BinView = z.output<typeof bin>;

const warehouse = z.object({
  id: z.number().int(),
  code: z.string(),
  name: z.string(),
  address: z.string(),
  calendar: z.string(),
  active: z.boolean(),
  bins: z.number().int(),
  version,
});

const placesView = z.object({ warehouses: z.array(warehouse) });
export type PlacesView = z.output<typeof placesView>;
const binsView = z.object({ bins: z.array(bin) });

const code = z
  .string()
  .trim()
  .min(1, 'Give a code.')
  .max(20, 'A code has at most 20 characters.')
  .regex(/^[^\s:][^:]*$/, 'A code has no colon: labels put one behind it.');
const fields = {
  code,
  name: shortText.min(1, 'Give a name.').max(120),
  address: z.string().trim().max(400, 'An address has at most 400 characters.'),
  calendar: shortText.min(1, 'Choose a calendar.'),
};
const ids = z.array(z.number().int().positive()).min(1, 'Choose a bin at least.').max(2000, 'At most 2,000 bins at once.');

export const placesRoutes = {
  places: route({ method: 'get', path: '/setup/places', summary: 'Warehouses', right: 'setup.see', answer: placesView }),
  bins: route({
    method: 'get',
    path: '/setup/places/:id/bins',
    summary: 'Bins of a warehouse in the order in which they are walked by',
    right: 'setup.see',
    params: idParams,
    answer: binsView,
  }),
  addWarehouse: route({
    method: 'post',
    path: '/setup/places',
    summary: 'Add a warehouse, with a dock',
    right: 'setup.edit',
    body: z.object({ ...fields, dock: code }),
    answer: placesView.extend({ id: z.number().int() }),
  }),
  changeWarehouse: route({
    method: 'put',
    path: '/setup/places/:id',
    summary: 'Change, close or open a warehouse; one that holds stock or has open documents stays open',
    right: 'setup.edit',
    params: idParams,
    body: z.object({ ...fields, active: z.boolean(), version }),
    answer: placesView,
  }),
  addBins: route({
    method: 'post',
    path: '/setup/places/:id/bins',
    summary: 'Add bins: codes by line, or ranges as A-01-01 … A-10-04',
    right: 'setup.edit',
    params: idParams,
    body: z.object({ codes: z.string().max(60_000, 'That is too long a list.'), size: shortText.max(40).default('') }),
    answer: binsView.extend({
      /** How many were added; those that were there already stay as they are. */
      added: z.number().int(),
    }),
  }),
  changeBins: route({
    method: 'put',
    path: '/setup/places/:id/bins',
    summary: 'Change several bins of a warehouse; what holds stock is not closed',
    right: 'setup.edit',
    params: idParams,
    body: z.object({
      bins: ids,
      size: shortText.max(40).optional(),
      blocked: z.boolean().optional(),
      active: z.boolean().optional(),
      /** They are walked by in the order in which they are named, from this number on in tens. */
      walkFrom: z.number().int().min(0).max(1_000_000).optional(),
    }),
    answer: binsView,
  }),
  changeBin: route({
    method: 'put',
    path: '/setup/places/:id/bins/:bin',
    summary: 'Rename a bin, or make it the dock',
    right: 'setup.edit',
    params: idParams.extend({ bin: z.coerce.number().int().positive() }),
    body: z.object({ code, dock: z.boolean() }),
    answer: binsView,
  }),
};
