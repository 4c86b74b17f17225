/** Lines that stand on a shipment which has not left stay as they are. */
import { Refusal } from '@terrace/core';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';

/** Refuses `onShipment`. */
export function assertNotOnShipment(work: Work, lineId: number, position: number): void {
  const shipment = otherRooms.get().shipmentHolding(work, lineId);
  if (shipment !== undefined) throw new Refusal('onShipment', `Line ${position} is on shipment ${shipment}: drop that first.`, { field: 'lines' });
}
