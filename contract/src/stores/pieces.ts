/** Lots and serial numbers as documents name them. */
import { z } from 'zod';
import { dateText, decimalText, shortText } from '../base/schemas';

export const stockStates = ['available', 'held', 'rejected', 'inTransit'] as const;

/** A lot with its quantity, or serial numbers as a list or range. */
export const pieceInput = z.object({
  lot: z.string().trim().max(40, 'A lot has 40 signs at most.').optional(),
  madeOn: dateText.optional(),
  expiry: dateText.optional(),
  supplierLot: shortText.optional(),
  quantity: decimalText.optional(),
  serials: z.string().max(400_000).optional(),
});
export type PieceInput = z.output<typeof pieceInput>;

/** A lot or serial number that a document took or brought. */
export const pieceView = z.object({
  lot: z.string(),
  serial: z.string(),
  quantity: z.string(),
  bin: z.string(),
  expiry: z.string().nullable(),
});
export type PieceView = z.output<typeof pieceView>;
