/** Releasing a reservation, so that somebody else can have the stock. */
import { writeQuantity } from '@terrace/core';
import { orNotFound, type Work } from '../platform/work';
import type { HolderKind } from './schema';

export function releaseReservation(work: Work, id: number): { released: string } {
  const held = orNotFound(
    work.row<{ itemId: number; code: string; quantity: number; kind: HolderKind; documentId: number; document: string }>(
      'select r.item_id as itemId, i.code, r.quantity, r.holder_kind as kind, r.document_id as documentId, r.document_number as document from reservation r join item i on i.id = r.item_id where r.id = ?',
      id,
    ),
    'reservation',
  );
  work.run('delete from reservation where id = ?', id);
  const released = writeQuantity(held.quantity);
  work.record(held.kind, held.documentId, `released ${released} ${held.code} held for ${held.document}`);
  work.touch('stock', held.itemId, held.document);
  return { released };
}
