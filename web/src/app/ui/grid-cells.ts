/** What a grid is told of its columns, and how it draws their cells. */
import { themeQuartz, type ICellRendererParams } from 'ag-grid-community';
import type { ListFilter } from '@terrace/contract';
import { stateWords } from './documents';
import { grouped, longDay, moment, readyWords, shortDay } from './format';
import { stateGlyph } from './state';

export interface GridColumn {
  readonly field: string;
  readonly title: string;
  readonly kind: 'text' | 'code' | 'count' | 'figure' | 'date' | 'moment' | 'state' | 'ready' | 'late' | 'flag';
  readonly width?: number;
  readonly hidden?: boolean;
  /** Gives way where the list is too narrow for all its columns, the highest first; others stay. */
  readonly spare?: number;
  /** Of a code: the field whose text stands quietly behind it, as far as there is room. */
  readonly beside?: string;
  /** Whether it is an amount in the company's currency, which its title then says. */
  readonly money?: boolean;
  /** The field that says what currency a figure is in, where that is not the books'. */
  readonly currency?: string;
  /** False where the server can't sort or filter by it. */
  readonly sortable?: boolean;
  /** Field whose value stands quietly behind the figure. */
  readonly unit?: string;
  /** Of a date: whether its year matters. */
  readonly year?: boolean;
  /** What a mark says where it is not "late". */
  readonly mark?: string;
  /** Whether it can be changed in the list while that is being edited. */
  readonly editable?: boolean;
  /** What a cell says in place of its value, where that would mislead. */
  readonly says?: (row: GridRow) => string | undefined;
  /** What an empty cell of a row says, where that is trouble. */
  readonly lacking?: (row: GridRow) => string;
  /** What a row's cell may be changed to, where that is not just typed. */
  readonly choices?: (row: GridRow) => readonly string[];
}

export interface GridEdit {
  readonly row: GridRow;
  readonly field: string;
  readonly value: string;
}

/** Values typed and not saved yet, by row and field. */
export type GridPending = ReadonlyMap<number | string, Readonly<Record<string, string>>>;

export interface GridView {
  readonly key: string;
  readonly title: string;
  readonly filter: ListFilter;
}

export type GridRow = Readonly<Record<string, unknown>> & { readonly id: number | string };

/** A view that somebody kept: what is narrowed, sorted and shown. */
export interface OwnView {
  readonly title: string;
  /** The view it narrows. */
  readonly base: string;
  readonly find: string;
  readonly filter: Readonly<Record<string, unknown>>;
  readonly columns: readonly {
    readonly colId: string;
    readonly hide?: boolean | null;
    readonly width?: number;
    readonly sort?: 'asc' | 'desc' | null;
  }[];
}

export const theme = themeQuartz.withParams({
  fontFamily: 'var(--text)',
  fontSize: 13,
  rowHeight: 28,
  headerHeight: 30,
  spacing: 5,
  cellHorizontalPadding: 7,
  backgroundColor: 'var(--surface)',
  foregroundColor: 'var(--ink)',
  headerBackgroundColor: 'var(--raised)',
  headerTextColor: 'var(--quiet)',
  borderColor: 'var(--line)',
  selectedRowBackgroundColor: 'var(--chosen)',
  rowHoverColor: 'var(--raised)',
  accentColor: 'var(--accent)',
  borderRadius: 2,
  wrapperBorderRadius: 0,
  wrapperBorder: false,
  browserColorScheme: 'inherit',
});

export function text(value: unknown): string {
  return typeof value === 'string' ? value : typeof value === 'number' ? String(value) : '';
}

function escaped(value: string): HTMLElement {
  const span = document.createElement('span');
  span.textContent = value;
  return span;
}

/** Draws a cell; texts of people go in as text, never as HTML. */
export function draw(column: GridColumn, params: ICellRendererParams<GridRow, unknown>): HTMLElement | string {
  const { value, data } = params;
  if (!data) return '';
  const said = column.says?.(data);
  if (said !== undefined) return escaped(said);
  const lacking = value === null || value === '' ? (column.lacking?.(data) ?? '') : '';
  if (lacking !== '') {
    const span = escaped(`▲ ${lacking}`);
    span.className = 'trouble';
    return span;
  }
  if (column.kind === 'state') {
    const state = stateWords(text(value));
    const span = escaped(` ${state.words}`);
    span.insertAdjacentHTML('afterbegin', `<span style="color:var(--supply)">${stateGlyph(state.steps, state.ended === true)}</span>`);
    return span;
  }
  if (column.kind === 'figure' || column.kind === 'count') {
    const span = escaped(grouped(text(value)));
    const unit = column.unit === undefined ? '' : text(data[column.unit]);
    if (unit !== '') {
      const quiet = escaped(` ${unit}`);
      quiet.className = 'quiet';
      span.append(quiet);
    }
    return span;
  }
  if (column.kind === 'date') {
    const day = text(value);
    const span = escaped(day !== '' && column.year === true ? `${shortDay(day)} ${day.slice(0, 4)}` : shortDay(day));
    span.title = longDay(text(value));
    if (data['late'] === true && column.field === 'requiredDate') span.className = 'trouble';
    return span;
  }
  if (column.kind === 'moment') {
    const at = text(value);
    const span = escaped(at === '' ? '' : moment(at));
    span.title = at;
    return span;
  }
  if (column.beside !== undefined) {
    const span = escaped(text(value));
    const quiet = escaped(` ${text(data[column.beside])}`);
    quiet.className = 'quiet beside';
    span.append(quiet);
    return span;
  }
  if (column.kind === 'ready') return escaped(readyWords(text(value)));
  if (column.kind === 'late') return escaped(value === true ? `▲ ${column.mark ?? 'late'}` : '');
  if (column.kind === 'flag') return escaped(value === true ? 'yes' : 'no');
  return escaped(text(value));
}
