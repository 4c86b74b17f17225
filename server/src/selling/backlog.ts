/** The backlog: what is confirmed and still to ship, order by order, and for which day. */
import { and, eq, type SQL } from 'drizzle-orm';
import { amountToBooks, asAmount, parseAmount, splitByWeights, toShipWorth, type Amount } from '@terrace/core';
import type { Database } from '../platform/database';
import { among } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { IN_WORK, IS_ORDER } from './events';
import { customerOrder, customerOrderLine as line } from './schema';

const linesIn = (db: Database, where?: SQL) =>
  db
    .select({
      orderId: line.orderId,
      promised: line.promiseDate,
      wanted: line.requiredDate,
      quantity: line.quantity,
      shipped: line.shipped,
      cancelled: line.cancelled,
      free: line.free,
      price: line.price,
      discount: line.discount,
      correction: line.correction,
      net: customerOrder.net,
      booksNet: customerOrder.booksNet,
      rate: customerOrder.rate,
    })
    .from(line)
    // From the lines to their orders: of some orders there are few lines, and the database takes all that are in work to be fewer.
    .crossJoin(customerOrder)
    .where(and(where, eq(customerOrder.id, line.orderId), IS_ORDER, IN_WORK));
const all = query(() => (db) => linesIn(db));
const some = query(($: { orders: readonly number[] }) => (db) => linesIn(db, among(line.orderId, $.orders)));

/** What of an order is still to ship, without tax, in the books' currency. */
interface Backlog {
  readonly value: Amount;
  /** For which day how much of it: as promised, or else as wanted. */
  readonly days: readonly { readonly day: string; readonly value: Amount }[];
}

/** The backlog of some orders, or of all, by order; what is not in work has none. */
export function backlogOf(work: Work, orders?: readonly number[]): Map<number, Backlog> {
  const byOrder = new Map<number, ReturnType<typeof all.all>>();
  for (const row of orders === undefined ? all.all(work) : some.all(work, { orders })) {
    const rows = byOrder.get(row.orderId);
    if (rows) rows.push(row);
    else byOrder.set(row.orderId, [row]);
  }
  return new Map([...byOrder].map(([id, rows]) => [id, sumOf(rows)]));
}

function sumOf(rows: ReturnType<typeof all.all>): Backlog {
  const worth = rows.map((row) => Number(toShipWorth(row)));
  const open = asAmount(worth.reduce((sum, each) => sum + each, 0));
  const [first] = rows;
  // Of what nothing has left all is to ship, at what the order is worth in the books.
  const value = !first ? open : open === first.net ? first.booksNet : amountToBooks(open, first.rate);
  const weights = worth.map((each) => Math.max(0, each));
  const parts = weights.some((each) => each > 0) ? splitByWeights(value, weights) : weights;
  return { value, days: rows.map(({ promised, wanted }, index) => ({ day: promised ?? wanted, value: asAmount(parts[index] ?? 0) })) };
}

/** What of orders of a list is still to ship, in minor units: of what nothing has left, all that they are worth in the books. */
export function toShipOf(work: Work, rows: readonly { readonly id: number; readonly state: string; readonly net: string }[]): Map<number, Amount> {
  const begun = rows.filter(({ state }) => state === 'partShipped').map(({ id }) => id);
  const some = begun.length === 0 ? [] : [...backlogOf(work, begun)].map(([id, { value }]) => [id, value] as const);
  const whole = rows.filter(({ state }) => state === 'confirmed').map(({ id, net }) => [id, parseAmount(net)] as const);
  return new Map([...some, ...whole]);
}
