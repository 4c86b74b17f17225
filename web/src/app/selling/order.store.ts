import { signalStore } from '@ngrx/signals';
import { api, type OrderView } from '@terrace/contract';
import { withRecord } from '../ui/record.store';

/** Whether something of an order is still to go out. */
export function isOpen(state: OrderView['state'] | undefined): boolean {
  return state === 'confirmed' || state === 'partShipped';
}

/** The plan follows an order a moment after it is kept: what it says of it comes then. */
export const OrderStore = signalStore(withRecord<OrderView>(api.selling.getOrder, 'customerOrder', ({ state }) => (isOpen(state) ? ['plan'] : [])));
