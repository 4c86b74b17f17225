/** What the plan counts with for an item, as the balance drawing draws it; a suggestion may be drawn as somebody types it. */
import type { BalanceStrip, ItemRecord, RecordEventView } from '@terrace/contract';

export interface Typed {
  readonly id: string;
  readonly quantity: string;
  readonly due: string;
}

/** What is not ordered by anybody yet. */
const OPEN: readonly RecordEventView['what'][] = ['suggestion', 'called', 'forecast', 'quote'];

/** The strip of a record; `typed` stands in place of what the plan says of it. */
export function stripOf(record: ItemRecord, typed: Typed | null = null): BalanceStrip {
  const unit = 10 ** record.decimals;
  const units = (text: string): number => Math.round(Number(text) * unit);
  const written = (value: number): string => String(value / unit);
  const events = record.events
    .map((event): RecordEventView => {
      if (typed === null || event.id !== typed.id || !(Number(typed.quantity) > 0)) return event;
      return { ...event, quantity: typed.quantity, day: typed.due < record.today ? record.today : typed.due };
    })
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : Number(Number(b.quantity) > 0) - Number(Number(a.quantity) > 0)));
  const opening = events.filter((event) => event.what === 'stock').reduce((sum, event) => sum + units(event.quantity), 0);
  let [balance, planned] = [opening, opening];
  let firstShort: string | null = null;
  const drawn = events
    .filter((event) => event.what !== 'stock')
    .map((event): BalanceStrip['events'][number] => {
      const quantity = units(event.quantity);
      const firm = !OPEN.includes(event.what);
      planned += quantity;
      if (firm) balance += quantity;
      if (planned < 0 && firstShort === null) firstShort = event.day;
      return {
        date: event.day,
        kind: quantity > 0 ? 'supply' : 'demand',
        quantity: written(Math.abs(quantity)),
        document: event.id,
        link: null,
        firm,
        balance: written(balance),
        planned: written(planned),
      };
    });
  const { itemId, code, description, unit: word, decimals, warehouse, today, horizon } = record;
  const available = written(opening);
  const comes = (kind: 'supply' | 'demand'): string =>
    written(drawn.filter((event) => event.firm && event.kind === kind).reduce((sum, event) => sum + units(event.quantity), 0));
  return {
    item: { id: itemId, code, description, unit: word, decimals },
    warehouse,
    onHand: available,
    reserved: '0',
    free: available,
    expectedIn: comes('supply'),
    expectedOut: comes('demand'),
    expiring: '0',
    today,
    through: horizon,
    safety: record.rule?.threshold ?? '0',
    available,
    firstShort,
    events: drawn,
  };
}
