/** Fields that a company adds by itself. */
import { z } from 'zod';

export const customRecords = ['item', 'customer', 'supplier', 'customerOrder', 'purchaseOrder'] as const;
export type CustomRecord = (typeof customRecords)[number];
export const customTypes = ['text', 'number', 'date', 'yesNo', 'choice'] as const;
export type CustomType = (typeof customTypes)[number];

export const customField = z.object({
  id: z.number(),
  record: z.enum(customRecords),
  title: z.string(),
  type: z.enum(customTypes),
  choices: z.array(z.string()),
  active: z.boolean(),
  version: z.number(),
});
export type CustomField = z.output<typeof customField>;

/** Values by the number of their field; an empty text takes a value away. */
export const customInput = z.record(z.string().regex(/^\d+$/), z.string().max(500)).default({});
export const customView = z.record(z.string(), z.string());
