/** What screens call the kinds of documents that production has. */
import { DRAFT, ENDED, type RoomDocuments } from '../ui/documents';

export const productionDocuments: RoomDocuments = {
  kinds: [
    { kind: 'productionOrder', words: 'Production order', page: '/production/orders' },
    { kind: 'completion', words: 'Completion', page: null },
  ],
  states: {
    ...DRAFT,
    ...ENDED,
    released: { words: 'released', steps: 1 },
    running: { words: 'running', steps: 2 },
    finished: { words: 'finished', steps: 4 },
    settled: { words: 'settled', steps: 4 },
  },
};
