/** The item on the screen. */
import { signalStore } from '@ngrx/signals';
import { api, type ItemView } from '@terrace/contract';
import { withRecord } from '../ui/record.store';

export const ItemStore = signalStore(withRecord<ItemView>(api.catalogue.getItem, 'item'));
