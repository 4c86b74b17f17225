/** Whom a suggestion serves, in a word: an order’s line, what is made from it, what is forecast, or safety stock. */
import type { GridRow } from '../ui/grid-cells';

/** A demand as the plan names it, in words: `CO-1088/1`, `SUIT-M in DEPOT`, `forecast`, `safety stock`. */
export function demandWords(demand: string): string {
  if (demand === '') return '';
  if (demand === 'safety') return 'safety stock';
  if (demand.startsWith('forecast ')) return 'forecast';
  const [, item, warehouse] = /^(.+)@(.+?)#\d+$/.exec(demand) ?? [];
  return item === undefined || warehouse === undefined ? demand : `${item} in ${warehouse}`;
}

/** The first that a row of the list serves, and how many more. */
export function servedWords(row: GridRow): string {
  const { serves, servesMore } = row;
  const words = demandWords(typeof serves === 'string' ? serves : '');
  return typeof servesMore === 'number' && servesMore > 0 ? `${words} +${servesMore}` : words;
}
