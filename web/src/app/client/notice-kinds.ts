import type { NoticeKind } from '@terrace/contract';

/** What each kind is called where one chooses what to be told of. */
export const NOTICE_KINDS: Readonly<Record<NoticeKind, string>> = {
  finished: 'Production finished',
  arrived: 'Purchases that arrived',
  shipped: 'Shipments that left',
  onItsWay: 'Transfers on their way',
  stockAskedFor: 'Stock that another warehouse asks for',
  lotBlocked: 'Blocked lots',
  lotChanged: 'Changed lots',
  released: 'Released reservations',
  promise: 'Promises that changed',
  keeping: 'The keeping of the company',
  other: 'Other',
};
