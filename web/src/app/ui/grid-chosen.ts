/** What is said and copied of the rows that are chosen in a list. */
import type { GridApi } from 'ag-grid-community';
import { grouped } from './format';
import { text, type GridColumn, type GridRow } from './grid-cells';

/**
 * How many are chosen, and the sums of their figures; figures in units of their own are not added up, and those in a currency of
 * their own only where all are in the same.
 */
export function sumsOf(columns: readonly GridColumn[], rows: readonly GridRow[]): string {
  const sums = columns
    .filter((column) => column.kind === 'figure' && column.unit === undefined && column.editable !== true)
    .flatMap(({ title, field, currency }) => {
      const currencies = new Set(currency === undefined ? [''] : rows.map((row) => text(row[currency])));
      const [only = ''] = currencies;
      if (currencies.size > 1) return [];
      const sum = grouped(rows.reduce((all, row) => all + Number(row[field]), 0).toFixed(2));
      return [[title, sum, only].filter(Boolean).join(' ')];
    });
  return [`${rows.length} chosen`, ...sums].join(' · ');
}

/** The chosen rows as a spreadsheet takes them. */
export function asPasted(grid: GridApi<GridRow>): string {
  const fields = grid.getAllDisplayedColumns().map((column) => column.getColId());
  return grid
    .getSelectedRows()
    .map((row) => fields.map((field) => text(row[field])).join('\t'))
    .join('\n');
}
