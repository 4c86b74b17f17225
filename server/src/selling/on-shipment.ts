/** Lines that other documents have on them: on a shipment which has not left they stay as they are, and none of them is forgotten. */
import { Refusal, asAmount, asQuantity } from '@terrace/core';
import { dropRow, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { dropReservation } from '../stores';
import { otherRooms } from './handed-in';
import { customerOrderLine } from './schema';

/** Refuses `onShipment`. */
export function assertNotOnShipment(work: Work, lineId: number, position: number): void {
  const shipment = otherRooms.get().shipmentHolding(work, lineId);
  if (shipment !== undefined) throw new Refusal('onShipment', `Line ${position} is on shipment ${shipment}: drop that first.`, { field: 'lines' });
}

/**
 * Takes a line away of which nothing is wanted any more. Where another document has had it, as a shipment that was cancelled, the line stays
 * beneath that with nothing on it, at a place after all others; orders don't show it.
 */
export function dropLine(work: Work, lineId: number, position: number): void {
  dropReservation(work, 'customerOrder', lineId);
  if (!otherRooms.get().wasOnDocument(work, lineId)) {
    dropRow(work, customerOrderLine, lineId);
    return;
  }
  const none = asQuantity(0);
  setRow(work, customerOrderLine, lineId, { position, quantity: none, free: none, cancelled: none, correction: asAmount(0) });
}
