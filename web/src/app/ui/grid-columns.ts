/** A list's column as the grid takes it: drawn, sorted, filtered and typed into. */
import type { ColDef, ICellEditorParams, ICellRendererParams } from 'ag-grid-community';
import { draw, text, type GridColumn, type GridEdit, type GridRow } from './grid-cells';
import { leastWidth } from './grid-fit';
import { readTypedDate, readTypedNumber } from './number-and-date-input';

/** Typing that pauses for so long is taken. */
export const TOGETHER_MS = 250;

/** How the list that a column belongs to stands. */
export interface ColumnSetting {
  /** Whether the server sorts and filters. */
  readonly server: boolean;
  readonly filtering: boolean;
  readonly editing: () => boolean;
  /** The day as of which a date is typed. */
  readonly today: () => string;
  /** What was typed into a cell and is not saved yet. */
  readonly typed: (row: GridRow | undefined, field: string) => string | undefined;
  readonly edited: (edit: GridEdit) => void;
}

export function columnOf(column: GridColumn, setting: ColumnSetting): ColDef<GridRow> {
  const numeric = column.kind === 'figure' || column.kind === 'count';
  const { server } = setting;
  const plain = column.sortable !== false;
  const filterable = plain && !['state', 'ready', 'late', 'flag'].includes(column.kind);
  return {
    field: column.field,
    headerName: column.title,
    ...(column.width === undefined ? { flex: column.beside === undefined ? 1 : 2, minWidth: leastWidth(column) } : { width: column.width }),
    // Only to begin with: what is shown since then stays, whenever columns are told anew.
    initialHide: column.hidden === true,
    sortable: plain,
    resizable: true,
    suppressHeaderFilterButton: true,
    floatingFilter: setting.filtering && filterable && server,
    suppressFloatingFilterButton: true,
    headerClass: numeric ? 'ag-right-aligned-header' : '',
    cellClass: numeric ? 'figure' : column.kind === 'code' ? 'code' : column.kind === 'late' ? 'trouble' : '',
    ...(column.editable === true ? editorOf(column, setting) : {}),
    cellRenderer: (params: ICellRendererParams<GridRow, unknown>) => draw(column, params),
    ...(numeric && !server ? { comparator: (a: unknown, b: unknown) => Number(a) - Number(b) } : {}),
    ...(filterable && server
      ? {
          filter: numeric ? 'agNumberColumnFilter' : 'agTextColumnFilter',
          filterParams: {
            filterOptions: numeric ? ['greaterThanOrEqual', 'lessThanOrEqual', 'equals'] : ['contains', 'equals'],
            maxNumConditions: 1,
            debounceMs: TOGETHER_MS,
          },
        }
      : {}),
  };
}

function editorOf(
  column: GridColumn,
  { editing, today, typed, edited }: ColumnSetting,
): Pick<ColDef<GridRow>, 'editable' | 'valueGetter' | 'valueSetter' | 'cellClassRules' | 'cellEditor' | 'cellEditorParams'> {
  const { field, choices } = column;
  return {
    ...(choices
      ? {
          cellEditor: 'agSelectCellEditor',
          cellEditorParams: ({ data }: ICellEditorParams<GridRow>) => ({ values: choices(data) }),
        }
      : {}),
    editable: editing,
    valueGetter: ({ data }) => typed(data, field) ?? data?.[field],
    valueSetter: ({ data, newValue }) => {
      const plain = text(newValue);
      const value = column.kind === 'figure' ? readTypedNumber(plain) : column.kind === 'date' ? readTypedDate(plain, today()) : { text: plain };
      edited({ row: data, field, value: 'text' in value ? value.text : plain });
      return true;
    },
    cellClassRules: { typed: ({ data }) => typed(data, field) !== undefined, open: editing },
  };
}
