/** Serial numbers: where each is, its whole life, warranty and service contract. */
import { z } from 'zod';
import { route } from '../base/route';
import { dateText, documentKind, idParams, listQuery, longText, page, shortText, version } from '../base/schemas';

export const serialRow = z.object({
  id: z.number(),
  itemId: z.number(),
  item: z.string(),
  description: z.string(),
  serial: z.string(),
  place: z.string(),
  state: z.string(),
  customer: z.string(),
  shippedOn: z.string().nullable(),
  warrantyUntil: z.string().nullable(),
  contractUntil: z.string().nullable(),
});

export const serialView = z.object({
  id: z.number(),
  itemId: z.number(),
  item: z.string(),
  description: z.string(),
  serial: z.string(),
  madeOn: z.string().nullable(),
  supplier: z.string(),
  cost: z.string().nullable(),
  place: z.string().nullable(),
  state: z.string(),
  customer: z.string(),
  customerId: z.number().nullable(),
  shippedOn: z.string().nullable(),
  warrantyUntil: z.string().nullable(),
  contractUntil: z.string().nullable(),
  contract: z.string(),
  note: z.string(),
  version,
  moves: z.array(
    z.object({
      date: z.string(),
      from: z.string(),
      to: z.string(),
      document: z.string(),
      documentKind,
      documentId: z.number(),
      who: z.string(),
      value: z.string(),
    }),
  ),
  components: z.array(
    z.object({
      itemId: z.number(),
      item: z.string(),
      description: z.string(),
      quantity: z.string(),
      unit: z.string(),
      lot: z.string(),
      serial: z.string(),
      pieceId: z.number().nullable(),
    }),
  ),
  insideOf: z.array(z.object({ id: z.number(), item: z.string(), serial: z.string() })),
});
export type SerialView = z.output<typeof serialView>;

export const serialRoutes = {
  listSerials: route({
    method: 'get',
    path: '/stores/serials',
    summary: 'Serial numbers and where they are',
    right: 'stores.see',
    query: listQuery.extend({ item: z.coerce.number().optional(), warehouse: z.coerce.number().optional() }),
    answer: page(serialRow),
  }),
  getSerial: route({
    method: 'get',
    path: '/stores/serials/:id',
    summary: 'A serial number with its whole life',
    right: 'stores.see',
    params: idParams,
    answer: serialView,
  }),
  changeSerial: route({
    method: 'put',
    path: '/stores/serials/:id',
    summary: 'Warranty, service contract and notes of a serial number',
    right: 'stores.adjust',
    params: idParams,
    body: z.object({ version, warrantyUntil: dateText.nullable(), contractUntil: dateText.nullable(), contract: shortText, note: longText }),
    answer: serialView,
  }),
  nextSerials: route({
    method: 'get',
    path: '/stores/items/:id/next-serials',
    summary: 'The next numbers of an item’s pattern; none is taken by asking',
    right: 'stores.see',
    params: idParams,
    query: z.object({ count: z.coerce.number().int().min(1).max(10_000) }),
    answer: z.object({ serials: z.array(z.string()) }),
  }),
};
