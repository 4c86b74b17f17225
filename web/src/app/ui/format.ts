/** How figures, dates and states are written on screens. */
import { Pipe, type PipeTransform } from '@angular/core';
import { dayOf, dayWords, weekdayOf } from '@terrace/core';

/** Groups a decimal text by thousands; every decimal stays visible. */
export function grouped(figure: string | number | null | undefined): string {
  if (figure === null || figure === undefined || figure === '') return '';
  const text = String(figure);
  const [whole = '', fraction] = text.split('.');
  const sign = whole.startsWith('-') ? '−' : '';
  const digits = whole.replace('-', '').replace(/\B(?=(\d{3})+$)/g, ',');
  return `${sign}${digits}${fraction === undefined ? '' : `.${fraction}`}`;
}

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** "Fri 12 Mar 2027". */
export function longDay(date: string | null | undefined): string {
  if (!date) return '';
  return `${WEEKDAYS[weekdayOf(dayOf(date)) - 1] ?? ''} ${shortDay(date)} ${date.slice(0, 4)}`;
}

/** "12 Mar". */
export function shortDay(date: string | null | undefined): string {
  if (!date) return '';
  return dayWords(date);
}

/** "12 Mar 09:41", in the reader's own time. */
export function moment(at: string): string {
  const time = new Date(at);
  return `${time.getDate()} ${MONTHS[time.getMonth()] ?? ''} ${String(time.getHours()).padStart(2, '0')}:${String(time.getMinutes()).padStart(2, '0')}`;
}

@Pipe({ name: 'grouped' })
export class GroupedPipe implements PipeTransform {
  transform = grouped;
}

/** A unit cost with as many decimals as are looked at: four at most. */
export function shortCost(cost: string): string {
  return grouped(cost.replace(/(\.\d{4})\d+$/, '$1'));
}

@Pipe({ name: 'cost' })
export class CostPipe implements PipeTransform {
  transform = shortCost;
}

@Pipe({ name: 'longDay' })
export class LongDayPipe implements PipeTransform {
  transform = longDay;
}

@Pipe({ name: 'shortDay' })
export class ShortDayPipe implements PipeTransform {
  transform = shortDay;
}

@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  transform = moment;
}

/** A state in words and how far a document has gone, from 0 to 4 steps. */
export interface StateWords {
  readonly words: string;
  readonly steps: number;
  readonly ended?: boolean;
}

const STATES: Readonly<Record<string, StateWords>> = {
  draft: { words: 'draft', steps: 0 },
  confirmed: { words: 'confirmed', steps: 1 },
  partShipped: { words: 'shipped in part', steps: 2 },
  shipped: { words: 'shipped', steps: 3 },
  invoiced: { words: 'invoiced', steps: 3 },
  closed: { words: 'closed', steps: 4 },
  approved: { words: 'approved', steps: 1 },
  sent: { words: 'sent', steps: 2 },
  partReceived: { words: 'received in part', steps: 3 },
  received: { words: 'received', steps: 4 },
  released: { words: 'released', steps: 1 },
  running: { words: 'running', steps: 2 },
  finished: { words: 'finished', steps: 4 },
  settled: { words: 'settled', steps: 4 },
  picking: { words: 'picking', steps: 2 },
  open: { words: 'open', steps: 2 },
  paid: { words: 'paid', steps: 4 },
  cancelled: { words: 'cancelled', steps: 0, ended: true },
  reversed: { words: 'taken back', steps: 0, ended: true },
  requested: { words: 'requested', steps: 1 },
  available: { words: 'available', steps: 4 },
  held: { words: 'held', steps: 1 },
  rejected: { words: 'rejected', steps: 0, ended: true },
  inTransit: { words: 'in transit', steps: 2 },
  blocked: { words: 'blocked', steps: 0, ended: true },
  gone: { words: 'gone', steps: 0, ended: true },
  used: { words: 'built in', steps: 4 },
  inactive: { words: 'inactive', steps: 0, ended: true },
};

export function stateWords(state: string): StateWords {
  return STATES[state] ?? { words: state, steps: 0 };
}

const READY: Readonly<Record<string, string>> = { all: 'all of it', part: 'a part', nothing: 'nothing yet', done: '' };

/** Whether an order can ship, in words. */
export function readyWords(ready: string): string {
  return READY[ready] ?? ready;
}

const KINDS: Readonly<Record<string, string>> = {
  customerOrder: 'Customer order',
  purchaseOrder: 'Purchase order',
  productionOrder: 'Production order',
  receipt: 'Receipt',
  shipment: 'Shipment',
  invoice: 'Invoice',
  payment: 'Payment',
  completion: 'Completion',
  adjustment: 'Adjustment',
  transfer: 'Transfer',
  relocation: 'Move',
  lateCost: 'Late cost',
  revaluation: 'New standard',
  lot: 'Lot',
  serialNumber: 'Serial number',
  item: 'Item',
  customer: 'Customer',
  supplier: 'Supplier',
};

export function kindWords(kind: string): string {
  return KINDS[kind] ?? kind;
}

const PAGES: Readonly<Record<string, string>> = {
  customerOrder: '/selling/orders',
  purchaseOrder: '/buying/orders',
  productionOrder: '/production/orders',
  shipment: '/dispatch/shipments',
  invoice: '/accounts/invoices',
  item: '/catalogue/items',
  transfer: '/stores/transfers',
  adjustment: '/stores/adjustments',
  lot: '/stores/lots',
  serialNumber: '/stores/serials',
};

/** The page of a document, or `null` where it is shown on another's. */
export function pageOf(kind: string, id: number): string | null {
  const page = PAGES[kind];
  return page === undefined ? null : `${page}/${id}`;
}
