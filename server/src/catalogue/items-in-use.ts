/** What speaks against making an item inactive. */
import type { Work } from '../platform/work';
import { billsNaming } from './bom';
import { otherRooms } from './handed-in';
import type { ItemRecord } from './item-facts';

const MOST_NAMED = 6;

/** What would be left hanging if an item became inactive. */
export function inUse(work: Work, { id }: ItemRecord): string[] {
  const { openDocuments, quantityThere } = otherRooms.get();
  const open = [...new Set([...openDocuments(work, id), ...billsNaming(work, id)])].sort().slice(0, MOST_NAMED);
  return quantityThere(work, id) > 0 ? ['stock on hand', ...open] : open;
}
