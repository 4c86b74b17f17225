/**
 * Drizzle's dialect of SQLite, but that every column of a selection is named with its table. Drizzle leaves the table
 * out where a selection is of one table alone; then a column of an outer query in an expression becomes a column of the
 * inner one that happens to have the same name, and the answer is wrong without an error.
 */
import { SQLiteSyncDialect } from 'drizzle-orm/sqlite-core';

interface Insides {
  buildSelection: (fields: unknown, config?: { isSingleTable?: boolean }) => unknown;
  readonly casing: { getColumnCasing: (column: unknown) => string };
}

const dialect = new SQLiteSyncDialect({ casing: 'snake_case' });
const insides = dialect as unknown as Insides;
const build = insides.buildSelection.bind(dialect);
insides.buildSelection = (fields) => build(fields, { isSingleTable: false });

export const namingDialect = dialect as SQLiteSyncDialect & Pick<Insides, 'casing'>;
