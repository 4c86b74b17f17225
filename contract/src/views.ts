/** Views of lists under names: screens offer them, and Today counts what they show. */
import type { ListFilter } from './base/schemas';
import { quoteReasons } from './selling/quotes';

export interface ListView {
  readonly key: string;
  readonly title: string;
  readonly filter: ListFilter;
}

const YES = { op: 'equals', value: 'true' } as const;
const is = (value: string) => ({ op: 'equals', value }) as const;
const among = (...value: string[]) => ({ op: 'among', value }) as const;
const ALL: ListView = { key: 'all', title: 'All', filter: {} };

export const VIEWS = {
  orders: [
    { key: 'open', title: 'Open', filter: { open: YES } },
    { key: 'drafts', title: 'To confirm', filter: { state: is('draft') } },
    // What is on a shipment that has not left is picked already.
    { key: 'ready', title: 'Can ship', filter: { ready: is('all'), open: YES, onShipment: is('false') } },
    { key: 'late', title: 'Late', filter: { late: YES } },
    { key: 'danger', title: 'In danger', filter: { endangered: YES, open: YES } },
    ALL,
  ],
  quotes: [
    { key: 'open', title: 'Open', filter: { open: YES } },
    { key: 'soon', title: 'About to lapse', filter: { soon: YES } },
    { key: 'lapsed', title: 'Lapsed', filter: { lapsed: YES } },
    // All of it, or the rest of what was ordered in part.
    { key: 'lost', title: 'Lost', filter: { lostReason: among(...quoteReasons) } },
    ALL,
  ],
  incoming: [
    { key: 'waiting', title: 'To mend', filter: { state: is('waiting') } },
    { key: 'taken', title: 'Taken', filter: { state: is('taken') } },
    ALL,
  ],
  returns: [
    { key: 'open', title: 'Open', filter: { state: among('authorised', 'arrived') } },
    { key: 'come', title: 'To come', filter: { state: is('authorised') } },
    { key: 'held', title: 'To decide', filter: { state: is('arrived') } },
    ALL,
  ],
  shipments: [
    ALL,
    { key: 'pick', title: 'To pick', filter: { state: among('draft', 'picking') } },
    { key: 'shipped', title: 'Shipped', filter: { state: is('shipped') } },
  ],
  purchases: [
    ALL,
    { key: 'drafts', title: 'To approve', filter: { state: is('draft') } },
    { key: 'send', title: 'To send', filter: { state: is('approved') } },
    { key: 'open', title: 'Expected', filter: { state: among('sent', 'partReceived') } },
    { key: 'due', title: 'Due within a week', filter: { state: among('sent', 'partReceived'), due: YES } },
    { key: 'late', title: 'Late', filter: { late: YES } },
  ],
  production: [
    { key: 'open', title: 'Open', filter: { state: among('draft', 'released', 'running') } },
    { key: 'due', title: 'To start or finish', filter: { due: YES } },
    { key: 'late', title: 'Late', filter: { late: YES } },
    ALL,
  ],
  transfers: [
    { key: 'open', title: 'Under way', filter: { state: among('requested', 'shipped', 'partReceived') } },
    { key: 'due', title: 'To ship or receive', filter: { due: YES } },
    { key: 'late', title: 'Late', filter: { late: YES } },
    ALL,
  ],
  audit: [
    ALL,
    { key: 'attempts', title: 'Failed sign-ins', filter: { what: among('signInFailed', 'signInSlowed') } },
    { key: 'refused', title: 'Refused', filter: { what: among('rightRefused', 'crossSite') } },
    { key: 'setup', title: 'Set-up changed', filter: { what: is('setupChanged') } },
    { key: 'files', title: 'Files in and out', filter: { what: among('fileTaken', 'fileSent') } },
  ],
  invoices: [{ key: 'open', title: 'Open', filter: { state: is('open') } }, { key: 'overdue', title: 'Overdue', filter: { overdue: YES } }, ALL],
} as const satisfies Readonly<Record<string, readonly ListView[]>>;

/** States in which an order was taken: all but a draft, and one that was cancelled as a whole. */
const TAKEN = among('confirmed', 'partShipped', 'shipped', 'invoiced', 'closed');

/** Views that only a figure opens: what of it was taken in a time, and what is to ship. */
export const figureViews = {
  /** `from` and `until` are YYYY-MM-DD, both included. */
  taken: (from: string, until: string): ListFilter => ({ state: TAKEN, orderDate: { op: 'between', value: [from, until] } }),
  toShip: (): ListFilter => ({ state: among('confirmed', 'partShipped') }),
  lost: (from: string, until: string): ListFilter => ({ lostReason: among(...quoteReasons), orderDate: { op: 'between', value: [from, until] } }),
};

/** The filter of a view. */
export function viewFilter(list: keyof typeof VIEWS, key: string): ListFilter {
  const view = (VIEWS[list] as readonly ListView[]).find((each) => each.key === key);
  if (!view) throw new RangeError(`the list of ${list} has no view ${key}`);
  return view.filter;
}
