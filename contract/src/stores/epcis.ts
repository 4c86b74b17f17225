/**
 * The part of EPCIS 2.0 (GS1, ISO/IEC 19987) that Terrace writes: what its JSON schema asks of a document, of object and
 * of transformation events. Business steps and dispositions are those of the Core Business Vocabulary 2.0.
 */
import { z } from 'zod';

const uri = z.string().regex(/^[a-z][a-z0-9+.-]*:[^\s]+$/i, 'must be a URI');
const place = z.object({ id: uri });
const quantityElement = z.object({
  epcClass: uri,
  quantity: z.number().positive(),
  uom: z
    .string()
    .regex(/^[A-Z0-9]{2,3}$/)
    .optional(),
});
const transaction = z.object({ type: z.enum(['po', 'desadv', 'prodorder', 'recadv', 'rma']), bizTransaction: uri });

const common = {
  eventID: uri,
  eventTime: z.iso.datetime({ offset: true }),
  eventTimeZoneOffset: z.string().regex(/^[+-](0\d|1[0-4]):[0-5]\d$/),
  bizStep: z.enum(['receiving', 'transforming', 'shipping']),
  disposition: z.enum(['in_progress', 'in_transit', 'active', 'returned']),
  readPoint: place,
  bizLocation: place.optional(),
  bizTransactionList: z.array(transaction).min(1),
};

const objectEvent = z
  .object({
    type: z.literal('ObjectEvent'),
    action: z.enum(['ADD', 'OBSERVE', 'DELETE']),
    epcList: z.array(uri).optional(),
    quantityList: z.array(quantityElement).optional(),
    sourceList: z.array(z.object({ type: z.literal('owning_party'), source: uri })).optional(),
    destinationList: z.array(z.object({ type: z.literal('owning_party'), destination: uri })).optional(),
    ...common,
  })
  .refine((event) => (event.epcList?.length ?? 0) + (event.quantityList?.length ?? 0) > 0, 'an object event is about something');

const transformationEvent = z
  .object({
    type: z.literal('TransformationEvent'),
    transformationID: uri,
    inputEPCList: z.array(uri).optional(),
    inputQuantityList: z.array(quantityElement).optional(),
    outputEPCList: z.array(uri).optional(),
    outputQuantityList: z.array(quantityElement).optional(),
    ...common,
  })
  .refine((event) => (event.inputEPCList?.length ?? 0) + (event.inputQuantityList?.length ?? 0) > 0, 'something goes in')
  .refine((event) => (event.outputEPCList?.length ?? 0) + (event.outputQuantityList?.length ?? 0) > 0, 'something comes out');

export const epcisDocument = z.object({
  '@context': z.array(z.string()).min(1),
  type: z.literal('EPCISDocument'),
  schemaVersion: z.literal('2.0'),
  creationDate: z.iso.datetime({ offset: true }),
  epcisBody: z.object({ eventList: z.array(z.discriminatedUnion('type', [objectEvent, transformationEvent])) }),
});
export type EpcisDocument = z.output<typeof epcisDocument>;
