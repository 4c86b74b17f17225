/** Prices of an order asked for again, as of today: looked at first, then taken for the lines that are chosen. */
import type { AnswerOf, BodyOf, OrderView, api } from '@terrace/contract';
import { Refusal, amountToBooks, asAmount, totalOf, writeAmount, writePrice, type Amount, type UnitPrice } from '@terrace/core';
import { changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { customerOf } from '../catalogue';
import { assertCredit } from './credit';
import { sumsOf } from './orders';
import { lineRows, linesOf, orderOf, orderView, worthOf, type LineRow, type OrderRecord } from './order-view';
import { priceFor } from './pricing';
import { customerOrder, customerOrderLine } from './schema';

interface Fresh {
  readonly line: LineRow;
  readonly price: UnitPrice;
  readonly steps: readonly string[];
}

/** Lines that would have another price today; what is invoiced in part or in full keeps its own. */
function freshPrices(work: Work, order: OrderRecord): Fresh[] {
  return lineRows(work, order.id).flatMap((line) => {
    // A charge by rule follows its rule as long as nothing is agreed, and no list.
    if (line.invoiced > 0 || line.quantity === line.cancelled || line.byRule) return [];
    const asked = {
      itemId: line.itemId,
      quantity: line.quantity,
      day: work.today,
      customerId: order.customerId,
      warehouseId: order.warehouseId,
      currency: order.currency,
    };
    const { price, steps } = priceFor(work, asked);
    return price === line.price ? [] : [{ line, price, steps }];
  });
}

function totalWith(rows: readonly LineRow[], fresh: readonly Fresh[], taxRate: number): Amount {
  const priced = rows.map((row) => {
    const now = fresh.find((each) => each.line.id === row.id);
    return worthOf(now ? { ...row, price: now.price, correction: asAmount(0) } : row);
  });
  return totalOf(priced, taxRate).total;
}

/** What the prices of today would change of an order. */
export function pricesAgain(work: Work, id: number): AnswerOf<typeof api.selling.pricesAgain> {
  const order = orderOf(work, id);
  const rows = lineRows(work, id);
  const fresh = freshPrices(work, order);
  return {
    lines: fresh.map(({ line, price, steps }) => ({
      id: line.id,
      position: line.position,
      code: line.code,
      description: line.description,
      from: writePrice(line.price),
      to: writePrice(price),
      steps: [...steps],
    })),
    currency: order.currency,
    from: writeAmount(totalWith(rows, [], order.taxRate)),
    to: writeAmount(totalWith(rows, fresh, order.taxRate)),
  };
}

/**
 * Takes today's prices for lines of an order. Refuses `nothingChanges`, orders on which nothing is open, and what takes a
 * confirmed one beyond its customer's credit.
 */
export function priceAgain(work: Work, id: number, { version, lines: chosen, beyondCredit }: BodyOf<typeof api.selling.priceAgain>): OrderView {
  const order = orderOf(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (!order.open) throw new Refusal('wrongState', `${order.number} is ${order.state}: its prices stay.`);
  const fresh = freshPrices(work, order).filter((each) => chosen.includes(each.line.id));
  if (fresh.length === 0)
    throw new Refusal('nothingChanges', 'The prices of these lines are what they were: nothing would change.', { field: 'lines' });
  const total = totalWith(lineRows(work, id), fresh, order.taxRate);
  if (order.kind === 'order' && order.state !== 'draft' && total > order.total)
    assertCredit(work, customerOf(work, order.customerId), { ...order, booksTotal: amountToBooks(total, order.rate) }, beyondCredit);
  for (const { line, price, steps } of fresh) setRow(work, customerOrderLine, line.id, { price, priceSteps: [...steps], correction: asAmount(0) });
  changeRow(work, customerOrder, id, sumsOf(linesOf(work, id), order));
  work.record(
    'customerOrder',
    id,
    `priced ${order.number} again`,
    fresh.map(({ line, price }) => ({ field: `price of ${line.code}`, from: writePrice(line.price), to: writePrice(price) })),
  );
  return orderView(work, id);
}
