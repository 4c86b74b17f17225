/** What can't be changed of an item any more, because stock of it has moved. */
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';

/** Why unit, tracking and costing are as they are, or nothing. */
export function locksOf(work: Work, id: number): Record<string, string> {
  const { firstMoves, valuedAtStandard } = otherRooms.get();
  const moves = firstMoves(work, id);
  if (moves.length === 0) return {};
  const reason = `Stock of it has moved (${[...new Set(moves)].join(', ')}${moves.length === 3 ? ' …' : ''}): what is kept was counted and valued this way. Set up a new item and make this one inactive.`;
  return {
    unit: reason,
    tracking: reason,
    costing: reason,
    ...(valuedAtStandard(work, id)
      ? { standardCost: 'Stock of it is valued at this standard: set a new one on the item’s page, which revalues what is there.' }
      : {}),
  };
}
