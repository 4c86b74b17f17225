/** What screens call the kinds of documents that buying has. */
import { DRAFT, ENDED, type RoomDocuments } from '../ui/documents';

export const buyingDocuments: RoomDocuments = {
  kinds: [
    { kind: 'purchaseOrder', words: 'Purchase order', page: '/buying/orders' },
    { kind: 'receipt', words: 'Receipt', page: null },
  ],
  states: {
    ...DRAFT,
    ...ENDED,
    approved: { words: 'approved', steps: 1 },
    sent: { words: 'sent', steps: 2 },
    partReceived: { words: 'received in part', steps: 3 },
    received: { words: 'received', steps: 4 },
  },
};
