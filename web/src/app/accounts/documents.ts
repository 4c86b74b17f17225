/** What screens call the kinds of documents that accounts has. */
import { ENDED, type RoomDocuments } from '../ui/documents';

export const accountsDocuments: RoomDocuments = {
  kinds: [
    { kind: 'invoice', words: 'Invoice', page: '/accounts/invoices' },
    { kind: 'payment', words: 'Payment', page: '/accounts/payments' },
  ],
  states: {
    ...ENDED,
    open: { words: 'open', steps: 2 },
    paid: { words: 'paid', steps: 4 },
    usedUp: { words: 'used up', steps: 4 },
    received: { words: 'received', steps: 4 },
  },
};
