/** What a change of a confirmed order brings about, line by line. */
import type { Quantity } from '../base';

/** A line as it stood before a change, or would stand after it; quantities in 10⁻⁵ units. */
export interface LineStanding {
  readonly id: number;
  /** A line of another item is another line, though it has taken the id of one that went. */
  readonly itemId: number;
  readonly position: number;
  readonly reserved: Quantity;
  /** Still to ship. */
  readonly open: Quantity;
  readonly requiredDate: string;
  /** Whether it is goods: nothing is promised of services and charges. */
  readonly goods: boolean;
  /** `null` where nothing can be promised. */
  readonly promiseDate: string | null;
}

/** What becomes of one line. */
export type Consequence =
  | { readonly kind: 'gone'; readonly before: LineStanding }
  | { readonly kind: 'added'; readonly after: LineStanding }
  /** Stock becomes free, or is taken. */
  | { readonly kind: 'reserved'; readonly before: LineStanding; readonly after: LineStanding }
  /** It is promised for another day, or not any more. `later` where that is worse for whoever waits. */
  | { readonly kind: 'promised'; readonly before: LineStanding; readonly after: LineStanding; readonly later: boolean }
  /** Less is wanted than was counted on. */
  | { readonly kind: 'fewer'; readonly before: LineStanding; readonly after: LineStanding };

/**
 * What a change does to each line of an order, in the order of the lines after it, those that go last. A line of which nothing
 * changes that others count on says nothing.
 *
 * @example a line of 5, all reserved, that becomes 3: `reserved` from 5 to 3, and `fewer`.
 */
export function consequences(before: readonly LineStanding[], after: readonly LineStanding[]): Consequence[] {
  const same = (a: LineStanding, b: LineStanding): boolean => a.id === b.id && a.itemId === b.itemId;
  const stays = after.flatMap((line): Consequence[] => {
    const was = before.find((each) => same(each, line));
    if (!was) return [{ kind: 'added', after: line }];
    const found: Consequence[] = [];
    if (line.reserved !== was.reserved) found.push({ kind: 'reserved', before: was, after: line });
    if (line.goods && line.promiseDate !== was.promiseDate) found.push({ kind: 'promised', before: was, after: line, later: isLater(was, line) });
    if (line.open < was.open) found.push({ kind: 'fewer', before: was, after: line });
    return found;
  });
  const gone = before.filter((line) => !after.some((each) => same(each, line))).map((line): Consequence => ({ kind: 'gone', before: line }));
  return [...stays, ...gone];
}

/** Whether a promise is worse than it was: later and past the day on which it is wanted, or none. */
function isLater(was: LineStanding, now: LineStanding): boolean {
  if (now.promiseDate === null) return was.promiseDate !== null;
  return was.promiseDate !== null && now.promiseDate > was.promiseDate && now.promiseDate > now.requiredDate;
}
