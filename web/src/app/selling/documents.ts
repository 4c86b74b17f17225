/** What screens call the kinds of documents that selling has. */
import { DRAFT, ENDED, type RoomDocuments } from '../ui/documents';

export const sellingDocuments: RoomDocuments = {
  kinds: [
    { kind: 'customerOrder', words: 'Customer order', page: '/selling/orders' },
    { kind: 'counterSale', words: 'Counter sale', page: '/selling/counter/sales' },
    { kind: 'incomingOrder', words: 'Incoming order', page: '/selling/incoming' },
    { kind: 'drawer', words: 'Cash drawer', page: null },
    { kind: 'customerReturn', words: 'Customer return', page: '/selling/returns' },
  ],
  states: {
    ...DRAFT,
    ...ENDED,
    confirmed: { words: 'confirmed', steps: 1 },
    partShipped: { words: 'shipped in part', steps: 2 },
    shipped: { words: 'shipped', steps: 3 },
    invoiced: { words: 'invoiced', steps: 3 },
    closed: { words: 'closed', steps: 4 },
    waiting: { words: 'to mend', steps: 1 },
    taken: { words: 'taken', steps: 4 },
    dropped: { words: 'laid aside', steps: 0, ended: true },
    openDrawer: { words: 'open', steps: 2 },
    closedDrawer: { words: 'counted', steps: 4 },
    authorised: { words: 'to come', steps: 1 },
    arrived: { words: 'to be decided', steps: 2 },
    done: { words: 'done', steps: 4 },
    offered: { words: 'offered', steps: 1 },
    agreed: { words: 'agreed', steps: 1 },
    won: { words: 'ordered', steps: 4 },
    lost: { words: 'lost', steps: 0, ended: true },
  },
};
