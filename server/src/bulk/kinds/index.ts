/** Every kind of file, in the order in which a company is set up. */
import type { ImportKind } from '@terrace/contract';
import type { FileKind } from '../kind';
import { boms } from './boms';
import { groups } from './groups';
import { items } from './items';
import { openingStock } from './opening-stock';
import { customers, suppliers } from './parties';
import { prices } from './prices';
import { terms } from './terms';
import { units } from './units';

export const kinds: Readonly<Record<ImportKind, FileKind>> = { units, groups, items, suppliers, terms, customers, prices, boms, openingStock };
