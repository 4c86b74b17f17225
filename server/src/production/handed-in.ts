/** What production must know of planning. */
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

interface FromOtherRooms {
  /** Working days that an item takes to make in a warehouse by its rule; 0 where it has none. */
  readonly leadDays: (work: Work, item: number, warehouse: number) => number;
}

export const otherRooms = handedIn<FromOtherRooms>('production');
