/** What screens call the kinds of documents that catalogue has. */
import { type RoomDocuments } from '../ui/documents';

export const catalogueDocuments: RoomDocuments = {
  kinds: [
    { kind: 'item', words: 'Item', page: '/catalogue/items' },
    { kind: 'customer', words: 'Customer', page: null },
    { kind: 'supplier', words: 'Supplier', page: null },
  ],
  states: { inactive: { words: 'inactive', steps: 0, ended: true } },
};
