/** What screens call the kinds of documents that stores have. */
import { ENDED, type RoomDocuments } from '../ui/documents';

export const storesDocuments: RoomDocuments = {
  kinds: [
    { kind: 'adjustment', words: 'Adjustment', page: '/stores/adjustments' },
    { kind: 'transfer', words: 'Transfer', page: '/stores/transfers' },
    { kind: 'relocation', words: 'Move', page: null },
    { kind: 'lateCost', words: 'Late cost', page: null },
    { kind: 'revaluation', words: 'New standard', page: null },
    { kind: 'reclassification', words: 'Account change', page: null },
    { kind: 'lot', words: 'Lot', page: '/stores/lots' },
    { kind: 'serialNumber', words: 'Serial number', page: '/stores/serials' },
  ],
  states: {
    ...ENDED,
    requested: { words: 'requested', steps: 1 },
    shipped: { words: 'shipped', steps: 3 },
    partReceived: { words: 'received in part', steps: 3 },
    received: { words: 'received', steps: 4 },
    available: { words: 'available', steps: 4 },
    held: { words: 'held', steps: 1 },
    rejected: { words: 'rejected', steps: 0, ended: true },
    inTransit: { words: 'in transit', steps: 2 },
    blocked: { words: 'blocked', steps: 0, ended: true },
    gone: { words: 'gone', steps: 0, ended: true },
    used: { words: 'built in', steps: 4 },
  },
};
