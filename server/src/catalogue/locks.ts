/** What can't be changed of an item any more, because stock of it has moved. */
import type { Work } from '../platform/work';

/** Numbers of the first documents that moved an item; empty where nothing has. */
export function movesOf(work: Work, id: number): string[] {
  return work
    .rows<{ number: string }>('select document_number as number from stock_move where item_id = ? order by id limit 3', id)
    .map((each) => each.number);
}

/** Why unit, tracking and costing are as they are, or nothing. */
export function locksOf(work: Work, id: number): Record<string, string> {
  const moves = movesOf(work, id);
  if (moves.length === 0) return {};
  const reason = `Stock of it has moved (${[...new Set(moves)].join(', ')}${moves.length === 3 ? ' …' : ''}): what is kept was counted and valued this way. Set up a new item and make this one inactive.`;
  const standard = work.row<{ n: number }>(
    "select 1 as n from item i join cost_pool c on c.item_id = i.id where i.id = ? and i.costing = 'standard' and c.quantity > 0",
    id,
  );
  return {
    unit: reason,
    tracking: reason,
    costing: reason,
    ...(standard ? { standardCost: 'Stock of it is valued at this standard: set a new one on the item’s page, which revalues what is there.' } : {}),
  };
}
