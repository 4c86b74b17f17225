/** What people call the kinds of files that come in and go out. */
import type { ImportKind } from '@terrace/contract';

export const KIND_WORDS: Readonly<Record<ImportKind, string>> = {
  items: 'Items',
  groups: 'Item groups',
  units: 'Units',
  terms: 'Suppliers’ terms',
  prices: 'Prices',
  customers: 'Customers',
  suppliers: 'Suppliers',
  boms: 'Bills of materials',
  openingStock: 'Opening stock',
};
