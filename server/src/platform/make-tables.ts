/** Tables made from their description, for files that are derived and thrown away when their tables change. */
import { hash } from 'node:crypto';
import { getTableConfig, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { SQL, is } from 'drizzle-orm';
import { namingDialect } from './dialect';
import { columnName } from './expressions';

function textOf(expression: SQL): string {
  return namingDialect.sqlToQuery(expression.inlineParams()).sql;
}

function columnText(column: SQLiteColumn): string {
  const parts = [`"${columnName(column)}"`, column.getSQLType()];
  if (column.primary) parts.push('primary key');
  if (column.notNull) parts.push('not null');
  return parts.join(' ');
}

/** The statements that make tables with their indexes. A condition of an index names its columns alone, as SQLite asks. */
export function tablesAsText(tables: readonly SQLiteTable[]): string {
  return tables
    .flatMap((table) => {
      const { name, columns, indexes } = getTableConfig(table);
      return [
        `create table "${name}" (${columns.map(columnText).join(', ')});`,
        ...indexes.map(({ config }) => {
          const on = config.columns.map((each) => (is(each, SQL) ? textOf(each) : `"${columnName(each)}"`));
          const where = config.where ? ` where ${textOf(config.where).replaceAll(`"${name}".`, '')}` : '';
          return `create ${config.unique ? 'unique ' : ''}index "${config.name}" on "${name}" (${on.join(', ')})${where};`;
        }),
      ];
    })
    .join('\n');
}

const POSITIVE = 0x7fffffff;

/** A number that differs where the tables do. */
export function shapeOf(text: string): number {
  return Number.parseInt(hash('sha256', text, 'hex').slice(0, 8), 16) & POSITIVE;
}
