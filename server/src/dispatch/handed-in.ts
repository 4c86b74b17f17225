/** What dispatch must know of rooms that stand on it. */
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

interface FromOtherRooms {
  /** The number of a return on which something of a shipment comes back. */
  readonly returnOf: (work: Work, shipmentId: number) => string | undefined;
}

export const otherRooms = handedIn<FromOtherRooms>('dispatch');
