/** What screens call the kinds of documents that dispatch has. */
import { DRAFT, ENDED, type RoomDocuments } from '../ui/documents';

export const dispatchDocuments: RoomDocuments = {
  kinds: [{ kind: 'shipment', words: 'Shipment', page: '/dispatch/shipments' }],
  states: { ...DRAFT, ...ENDED, picking: { words: 'picking', steps: 2 }, shipped: { words: 'shipped', steps: 3 } },
};
