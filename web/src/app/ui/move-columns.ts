import type { GridColumn } from './grid-cells';

/** Columns of a list of stock moves. */
export const MOVE_COLUMNS: readonly GridColumn[] = [
  { field: 'date', title: 'Date', kind: 'date', width: 82 },
  { field: 'code', title: 'Item', kind: 'code', width: 110 },
  { field: 'quantity', title: 'Change', kind: 'figure', width: 110, unit: 'unit' },
  { field: 'from', title: 'From', kind: 'text', sortable: false },
  { field: 'to', title: 'To', kind: 'text', sortable: false },
  { field: 'lot', title: 'Lot', kind: 'code', width: 110 },
  { field: 'serial', title: 'Serial no.', kind: 'code', width: 110, hidden: true },
  { field: 'state', title: 'State', kind: 'text', width: 110, hidden: true },
  { field: 'note', title: 'Note', kind: 'text', hidden: true },
  { field: 'value', title: 'Value', kind: 'figure', money: true, width: 104 },
  { field: 'after', title: 'Then there', kind: 'figure', width: 100, sortable: false },
  { field: 'document', title: 'Document', kind: 'code', width: 100 },
  { field: 'who', title: 'Who', kind: 'text', width: 140 },
  { field: 'reversed', title: 'Taken back', kind: 'flag', width: 96, hidden: true },
];
