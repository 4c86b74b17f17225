/** Quotes and blanket orders in words: why one was lost, and what is said of it. */
import type { OrderLine, OrderView, QuoteReason } from '@terrace/contract';
import type { Fact } from '../ui/document';
import { grouped, longDay, shortDay } from '../ui/format';
import type { LineColumn } from '../ui/lines';

export const LOST_WORDS: Readonly<Record<QuoteReason, string>> = {
  price: 'Too dear',
  date: 'Too late',
  product: 'Not what they need',
  elsewhere: 'Bought elsewhere',
  noNeed: 'No need any more',
  noAnswer: 'No answer',
  other: 'Another reason',
};

/** Why a quote was lost; of one that is ordered in part only the rest is. */
export function lostWords(reason: string, state = 'lost'): string {
  if (!(reason in LOST_WORDS)) return '';
  const words = LOST_WORDS[reason as QuoteReason];
  return state === 'won' ? `The rest: ${words.toLowerCase()}` : words;
}

/** What of a line has not become an order. */
export function leftOf({ quantity, cancelled, ordered }: OrderLine): number {
  return Number(quantity) - Number(cancelled) - Number(ordered);
}

export function quoteFacts(quote: OrderView, wide: boolean): readonly Fact[] {
  return [
    { title: 'Customer', value: quote.customer },
    { title: 'Holds until', value: longDay(quote.validUntil), trouble: quote.lapsed, below: quote.lapsed ? 'has lapsed' : '' },
    { title: 'Likely', value: quote.kind === 'quote' ? `${quote.probability} %` : '' },
    { title: 'Lost', value: lostWords(quote.lostReason, quote.state), trouble: true },
    { title: 'Wanted', value: longDay(quote.requiredDate) },
    { title: 'From', value: quote.warehouse },
    { title: 'Goes to', value: quote.shipTo },
    { title: 'Total', value: grouped(quote.total), kind: 'money', currency: quote.currency },
    { title: 'Their reference', value: quote.reference },
    { title: 'To be paid', value: wide ? quote.terms : '' },
    { title: 'Sold by', value: wide ? quote.salesPerson : '' },
    { title: 'Entered', value: wide ? longDay(quote.orderDate) : '' },
  ];
}

export function quoteColumns(wide: boolean): readonly LineColumn<OrderLine>[] {
  return [
    { title: 'Item', item: (line) => line, below: ({ note }) => note },
    {
      title: 'Offered',
      figure: true,
      value: (line) => grouped(line.quantity),
      unit: (line) => line.unit,
      below: (line) => (line.free === '0' ? '' : `${grouped(line.free)} free of charge`),
    },
    { title: 'Ordered', figure: true, value: (line) => grouped(line.ordered) },
    { title: 'Wanted', value: (line) => shortDay(line.requiredDate) },
    { title: 'Price', figure: true, shown: wide, cell: 'price' },
    { title: 'Disc. %', figure: true, shown: wide, value: (line) => line.discount },
    { title: 'Amount', figure: true, value: (line) => grouped(line.amount) },
  ];
}
