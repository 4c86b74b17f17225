/** What the plan says of a customer's order: when all of it can be ready, and whether that is too late. */
import type { Work } from '../platform/work';

export interface PlannedOrder {
  /** `null` where a part has no supply at all. */
  readonly ready: string | null;
  readonly endangered: boolean;
}

const LINES =
  "select max(ready = '') as missing, max(ready) as ready, max(ready = '' or ready > wanted) as endangered from promise where demand >= ? and demand < ?";

/** `null` where the plan says nothing of the order: it is not confirmed, or all of it is shipped. */
export function plannedOrder(work: Work, number: string): PlannedOrder | null {
  // The ids of an order's lines are its number, a stroke and the place; "0" is the character after the stroke.
  const row = work.inPlan()?.row<{ missing: number | null; ready: string | null; endangered: number }>(LINES, `${number}/`, `${number}0`);
  if (!row || row.missing === null) return null;
  return { ready: row.missing === 1 ? null : row.ready, endangered: row.endangered === 1 };
}
