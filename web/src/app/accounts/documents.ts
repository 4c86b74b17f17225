/** What screens call the kinds of documents that accounts have. */
import { ENDED, type RoomDocuments } from '../ui/documents';

export const accountsDocuments: RoomDocuments = {
  kinds: [
    { kind: 'invoice', words: 'Invoice', page: '/accounts/invoices' },
    { kind: 'payment', words: 'Payment', page: null },
  ],
  states: { ...ENDED, open: { words: 'open', steps: 2 }, paid: { words: 'paid', steps: 4 } },
};
