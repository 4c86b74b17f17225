import { signalStore } from '@ngrx/signals';
import { api, type OrderView } from '@terrace/contract';
import { withRecord } from '../ui/record.store';

export const OrderStore = signalStore(withRecord<OrderView>(api.selling.getOrder, 'customerOrder'));
