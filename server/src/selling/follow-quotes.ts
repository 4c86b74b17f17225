/** What has become of quotes and blanket orders follows the orders that were made of them: what is wanted no more can be ordered again. */
import { eq, sql } from 'drizzle-orm';
import { asQuantity, leastQuantity, standing, type Quantity } from '@terrace/core';
import { total } from '../platform/expressions';
import { query } from '../platform/query';
import { changeRow, fetching, setRow } from '../platform/rows';
import type { Work } from '../platform/work';
import { linesOf, orderOf, type LineRecord } from './order-view';
import { customerOrder, customerOrderLine as line } from './schema';

/** What is left of a line that has not become an order. */
export const leftOf = (row: LineRecord): Quantity => asQuantity(standing(row) - row.ordered);

const lineOf = fetching(line, 'line');
const wantedOf = query(
  ($: { lineId: number }) => (db) =>
    db
      .select({
        quantity: total(sql<Quantity>`${line.quantity} - ${line.cancelled}`),
        free: total(sql<Quantity>`min(${line.free}, ${line.quantity} - ${line.cancelled})`),
      })
      .from(line)
      .where(eq(line.quotedLineId, $.lineId)),
);

/** After lines of an order want more or less, as they were before: what they were made of has that less or more left. */
export function followQuotes(work: Work, before: readonly Pick<LineRecord, 'quotedLineId'>[]): void {
  const sources = [...new Set(before.flatMap(({ quotedLineId }) => quotedLineId ?? []))].map((id) => lineOf(work, id));
  for (const quoteId of new Set(sources.map(({ orderId }) => orderId))) {
    const isWhole = (): boolean => linesOf(work, quoteId).every((row) => leftOf(row) === 0);
    const wasWhole = isWhole();
    for (const source of sources.filter(({ orderId }) => orderId === quoteId)) {
      const wanted = wantedOf.one(work, { lineId: source.id });
      setRow(work, line, source.id, {
        ordered: leastQuantity(standing(source), wanted?.quantity ?? asQuantity(0)),
        freeOrdered: leastQuantity(source.free, wanted?.free ?? asQuantity(0)),
      });
      work.touch('stock', source.itemId, 'what is offered');
    }
    if (wasWhole !== isWhole()) turn(work, quoteId, wasWhole);
    else changeRow(work, customerOrder, quoteId, {});
  }
}

/** Of what was wholly ordered something is left again, or the other way round; what was given up stays so. */
function turn(work: Work, quoteId: number, wasWhole: boolean): void {
  const { number, kind, open } = orderOf(work, quoteId);
  if (wasWhole === open) {
    changeRow(work, customerOrder, quoteId, {});
    return;
  }
  const [going, done] = kind === 'quote' ? (['offered', 'won'] as const) : (['agreed', 'closed'] as const);
  changeRow(work, customerOrder, quoteId, { state: wasWhole ? going : done, open: wasWhole });
  work.record('customerOrder', quoteId, wasWhole ? `something of ${number} can be ordered again` : `all of ${number} is ordered`);
}
