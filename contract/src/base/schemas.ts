/** Shapes that every room uses. Quantities, prices and amounts travel as decimal strings. */
import { z } from 'zod';

export const nothing = z.object({});
const NO_RECORD = 'The address names no record: look for it by its number.';
export const idParams = z.object({ id: z.coerce.number(NO_RECORD).int(NO_RECORD).positive(NO_RECORD) });
/** Decimal text; whether it fits its unit is checked where the unit is known. */
export const decimalText = z.string().trim().min(1, 'Give a figure.').max(40);
/** A real day between 2000 and 2199. */
export const dateText = z.iso
  .date('Give a date that exists, as YYYY-MM-DD.')
  .refine((date) => date >= '2000-01-01' && date <= '2199-12-31', 'Give a date between 2000 and 2199.');
export const shortText = z.string().trim().max(120);
export const longText = z.string().trim().max(2000);
export const version = z.number().int().nonnegative();
export const versioned = z.object({ version });

/** A page of a list: which rows, in which order, found and filtered how. */
export const listQuery = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(100),
  /** `field` or `-field` for falling order. */
  sort: z.string().max(60).optional(),
  find: z.string().max(200).optional(),
  /** JSON of `{ field: { op, value } }`. */
  filter: z.string().max(4000).optional(),
  /** Instead of JSON, the whole list as a file of these columns (`field:Title`, by comma). */
  file: z.enum(['csv', 'xlsx', 'pdf']).optional(),
  columns: z.string().max(2000).optional(),
});
export type ListQuery = z.output<typeof listQuery>;

export const filterSchema = z.record(
  z.string(),
  /** `between` takes the first and the last, both included. */
  z.object({ op: z.enum(['contains', 'equals', 'atLeast', 'atMost', 'between', 'among']), value: z.union([z.string(), z.array(z.string())]) }),
);
export type ListFilter = z.output<typeof filterSchema>;

/** A list's answer. */
export function page<T extends z.ZodType>(row: T): z.ZodObject<{ rows: z.ZodArray<T>; total: z.ZodNumber }> {
  return z.object({ rows: z.array(row), total: z.number().int() });
}

/** RFC 9457, with what Terrace adds. */
export const problemDetails = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number(),
  detail: z.string(),
  code: z.string(),
  details: z.record(z.string(), z.unknown()).optional(),
  errors: z.array(z.object({ field: z.string(), message: z.string() })).optional(),
  reference: z.string().optional(),
});
export type ProblemDetails = z.output<typeof problemDetails>;

export const documentKinds = [
  'customerOrder',
  'purchaseOrder',
  'productionOrder',
  'receipt',
  'shipment',
  'customerReturn',
  'incomingOrder',
  'counterSale',
  'drawer',
  'invoice',
  'payment',
  'completion',
  'adjustment',
  'transfer',
  'relocation',
  'lateCost',
  'revaluation',
  'reclassification',
  'lot',
  'serialNumber',
  'item',
  'customer',
  'supplier',
] as const;
export const documentKind = z.enum(documentKinds);
export type DocumentKind = z.output<typeof documentKind>;

/** A document as a link. */
export const documentLink = z.object({ kind: documentKind, id: z.number(), number: z.string(), state: z.string().nullable() });
export type DocumentLink = z.output<typeof documentLink>;
