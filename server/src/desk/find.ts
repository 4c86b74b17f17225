/** One field finds anything: a scanned barcode or an exact number first, then whatever has all the words. */
import type { DocumentKind, Found } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { findItems } from '../catalogue';
import { documentSpecs, findDocuments, type DocumentFacts } from '../platform/documents';
import type { Work } from '../platform/work';
import { readScan } from '../stores';

const MOST_PER_KIND = 6;
const MOST = 20;

export function findAnything(work: Work, text: string): Found[] {
  const words = text.trim().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const first = foundByScan(work, text);
  const exact = words.join(' ').toLowerCase();
  const items = findItems(work, text).map((item): Found => ({ kind: 'item', id: item.id, title: item.code, detail: item.description, state: null }));
  // What no document may name any more is looked for only where nothing else is meant.
  const kinds = documentSpecs()
    .filter((each) => each.found !== undefined && !(items.length > 0 && each.kind === 'item'))
    .sort((a, b) => (a.found ?? 0) - (b.found ?? 0))
    .map((each) => each.kind);
  const documents = kinds.flatMap((kind) => findDocuments(work, kind, words, MOST_PER_KIND).map((facts) => toFound(kind, facts)));
  const found = [...items.slice(0, MOST_PER_KIND), ...documents];
  const ranked = [...found].sort((a, b) => Number(b.title.toLowerCase() === exact) - Number(a.title.toLowerCase() === exact));
  return [...first, ...ranked.filter((each) => !first.some((one) => one.kind === each.kind && one.id === each.id))].slice(0, MOST);
}

/** What a scanned code stands for: its serial number, its lot or its item, the closest first. */
function foundByScan(work: Work, text: string): Found[] {
  try {
    const { item, lot, lotId, serial, serialId } = readScan(work, text);
    const detail = item === null ? '' : `${item.code} ${item.description}`;
    return [
      ...(serialId !== null && serial !== null ? [{ kind: 'serialNumber' as const, id: serialId, title: serial, detail, state: null }] : []),
      ...(lotId !== null && lot !== null ? [{ kind: 'lot' as const, id: lotId, title: lot, detail, state: null }] : []),
      ...(item === null || item.code.toLowerCase() === text.trim().toLowerCase()
        ? []
        : [{ kind: 'item' as const, id: item.id, title: item.code, detail: item.description, state: null }]),
    ];
  } catch (error) {
    // Words that are no code are looked for as words.
    if (error instanceof Refusal) return [];
    throw error;
  }
}

function toFound(kind: DocumentKind, facts: DocumentFacts): Found {
  return { kind, id: facts.id, title: facts.number, detail: facts.detail, state: facts.state };
}
