/** Records of the demo company by what people call them. */
import type { Work } from '@terrace/server';
import { binCalled, byCode } from './looks';

/** Does something as a person on a day of the story. */
export type Perform = <T>(who: string, date: string, command: (work: Work) => T) => T;

/** The id of a record known by its code. */
export function idOf(work: Work, table: 'customer' | 'supplier' | 'warehouse' | 'item', code: string): number {
  const row = byCode[table].one(work, { code });
  if (!row) throw new RangeError(`the demo company has no ${table} ${code}`);
  return row.id;
}

/** The id of a bin known by its warehouse and code. */
export function binIdOf(work: Work, warehouse: string, code: string): number {
  const row = binCalled.one(work, { warehouse, code });
  if (!row) throw new RangeError(`the demo company has no bin ${code} in ${warehouse}`);
  return row.id;
}
