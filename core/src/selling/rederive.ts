/** Promises derived again, when something that they count on has changed. */
import { asQuantity, type Quantity } from '../base';
import { firstPromiseFrom, type PromiseDemand, type PromiseStep } from './promise';

/** A line of an order that waits for stock, and the day that it was promised for. */
export interface PromisedLine {
  readonly id: number;
  /** The day on which it is wanted. */
  readonly wanted: string;
  /** What of it is still to ship. */
  readonly quantity: Quantity;
  /** What of that is reserved for it; others can't be promised that, whether or not the line has a promise. */
  readonly reserved?: Quantity;
  /** `null` where it could not be promised. */
  readonly promise: string | null;
}

const dayOf = ({ promise, wanted }: PromisedLine): string => promise ?? wanted;
/** The company's rule, who comes first: the earlier promise, the earlier wish, the older line. */
const inOrder = (a: PromisedLine, b: PromisedLine): number => dayOf(a).localeCompare(dayOf(b)) || a.wanted.localeCompare(b.wanted) || a.id - b.id;

/**
 * The days that the lines can be promised for now, by id. A promise that still holds stays unless an earlier day has come
 * within reach; of those that do not hold all together the later ones give way first. No promise takes what another line
 * that has one, or anybody else, counts on.
 *
 * `others` is what everybody else takes; `steps` says from when on what can be promised, with such demands.
 *
 * @example rederive([{ id: 1, wanted: '2027-03-08', quantity: 5, promise: '2027-03-10' }], [], steps, '2027-03-01')
 *   is a map of 1 to the day on which five are there, from 8 March on.
 */
export function rederive(
  lines: readonly PromisedLine[],
  others: readonly PromiseDemand[],
  steps: (demands: readonly PromiseDemand[]) => readonly PromiseStep[],
  today: string,
): ReadonlyMap<number, string | null> {
  const now = new Map(lines.map((line) => [line.id, line]));
  const counted = new Map<string, { quantity: number; reserved: number }>();
  const count = (date: string, quantity: number, reserved: number): void => {
    const before = counted.get(date) ?? { quantity: 0, reserved: 0 };
    counted.set(date, { quantity: before.quantity + quantity, reserved: before.reserved + reserved });
  };
  for (const { date, quantity, reserved = 0 } of others) count(date, quantity, reserved);
  /** Who has no promise counts on nothing yet but what they have. */
  const countLine = ({ promise, wanted, quantity, reserved = asQuantity(0) }: PromisedLine, times: 1 | -1): void => {
    count(promise ?? wanted, times * (promise === null ? reserved : quantity), times * reserved);
  };
  for (const line of lines) countLine(line, 1);
  /** The first day from `from` on for a line, as if it asked for nothing yet. */
  const first = (line: PromisedLine, from: string): string | null => {
    countLine(line, -1);
    const demands = [...counted].flatMap(([date, { quantity, reserved }]) =>
      quantity > 0 ? [{ date, quantity: asQuantity(quantity), reserved: asQuantity(reserved) }] : [],
    );
    const date = firstPromiseFrom(steps(demands), line.quantity, from);
    countLine(line, 1);
    return date;
  };
  const put = (line: PromisedLine, promise: string | null): void => {
    countLine(line, -1);
    const next = { ...line, promise };
    now.set(line.id, next);
    countLine(next, 1);
  };
  const later = (a: string, b: string): string => (a > b ? a : b);
  for (const line of [...lines].sort(inOrder).reverse()) {
    if (line.promise === null) continue;
    const from = later(line.promise, today);
    const date = first(line, from);
    if (date !== line.promise) put(line, date);
  }
  for (const line of [...now.values()].sort(inOrder)) {
    const date = first(line, later(line.wanted, today));
    if (date !== null && (line.promise === null || date < line.promise)) put(line, date);
  }
  return new Map([...now].map(([id, line]) => [id, line.promise]));
}
