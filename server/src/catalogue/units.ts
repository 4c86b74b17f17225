/** Units: in what items are counted, and how finely. */
import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { otherRooms, type FinerThan } from './handed-in';
import { supplierTerm } from './party-schema';
import { item, packUnit, unit } from './schema';

const byCode = query(($: { code: string }) => (db) => db.select().from(unit).where(eq(unit.code, $.code)));

export function unitOf(work: Work, code: string): typeof unit.$inferSelect | undefined {
  return byCode.one(work, { code });
}

/** Says how a room finds kept quantities that are finer than a unit would allow; `column` holds them, `itemId` of which item. */
export function finerIn(table: SQLiteTable, itemId: SQLiteColumn, ...columns: readonly SQLiteColumn[]): FinerThan[] {
  return columns.map((column) => {
    const finer = query(
      ($: { unit: string; step: number }) => (db) =>
        db
          .select({ code: item.code })
          .from(table)
          .innerJoin(item, eq(item.id, itemId))
          .where(and(eq(item.unitCode, $.unit), ne(remainder(column, $.step), sql`0`)))
          .limit(1),
    );
    return (work, code, step) => finer.one(work, { unit: code, step })?.code;
  });
}

const remainder = (column: SQLiteColumn, step: number): SQL => sql`${column} % ${step}`;

const OWN = [
  ...finerIn(packUnit, packUnit.itemId, packUnit.factor),
  ...finerIn(supplierTerm, supplierTerm.itemId, supplierTerm.minimum, supplierTerm.multiple),
];

/** Adds or changes a unit. Its decimals may be widened, never narrowed below what is kept. */
export function saveUnit(work: Work, input: BodyOf<typeof api.catalogue.saveUnit>): void {
  const before = unitOf(work, input.code);
  assertSeen(before, input.version, `Unit ${input.code}`);
  if (before && input.decimals < before.decimals) {
    const step = 10 ** (5 - input.decimals);
    for (const finerThan of [...otherRooms.get().finerThan, ...OWN]) {
      const finer = finerThan(work, input.code, step);
      if (finer !== undefined)
        throw new Refusal(
          'finerKept',
          `${input.code} can't go down to ${input.decimals} decimals: ${finer} has finer quantities in its records. Widen it, or set up another unit.`,
          { field: 'decimals', item: finer },
        );
    }
  }
  keepRow(work, unit, ['code'], { code: input.code, name: input.name, decimals: input.decimals });
  work.record('setup', 0, before ? `changed unit ${input.code}` : `set up unit ${input.code}`);
}
