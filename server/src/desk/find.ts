/** One field finds anything: a scanned barcode or an exact number first, then whatever has all the words. */
import type { DocumentKind, Found } from '@terrace/contract';
import { findItems } from '../catalogue';
import type { Work } from '../platform/work';
import { findDocuments, type DocumentFacts } from './documents';

const KINDS: readonly DocumentKind[] = ['item', 'customerOrder', 'purchaseOrder', 'productionOrder', 'shipment', 'invoice', 'customer', 'supplier'];
const MOST_PER_KIND = 6;
const MOST = 20;

export function findAnything(work: Work, text: string): Found[] {
  const words = text.trim().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const scanned = work.rows<DocumentFacts>(
    "select i.id, i.code as number, case i.active when 0 then 'inactive' end as state, null as date, i.description as detail from item_barcode b join item i on i.id = b.item_id where b.barcode = ?",
    words.join(' '),
  );
  const exact = words.join(' ').toLowerCase();
  const items = findItems(work, text).map((item): Found => ({ kind: 'item', id: item.id, title: item.code, detail: item.description, state: null }));
  // What no document may name any more is looked for only where nothing else is meant.
  const kinds = items.length > 0 ? KINDS.filter((kind) => kind !== 'item') : KINDS;
  const documents = kinds.flatMap((kind) => findDocuments(work, kind, words, MOST_PER_KIND).map((facts) => toFound(kind, facts)));
  const found = [...items.slice(0, MOST_PER_KIND), ...documents];
  const ranked = [...found].sort((a, b) => Number(b.title.toLowerCase() === exact) - Number(a.title.toLowerCase() === exact));
  const first = scanned.map((facts) => toFound('item', facts));
  return [...first, ...ranked.filter((each) => !first.some((one) => one.kind === each.kind && one.id === each.id))].slice(0, MOST);
}

function toFound(kind: DocumentKind, facts: DocumentFacts): Found {
  return { kind, id: facts.id, title: facts.number, detail: facts.detail, state: facts.state };
}
