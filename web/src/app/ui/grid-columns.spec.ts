import '@angular/compiler';
import type { ICellRendererParams, ValueSetterParams } from 'ag-grid-community';
import { describe, expect, it } from 'vitest';
import { draw, type GridColumn, type GridEdit, type GridRow } from './grid-cells';
import { columnOf, type ColumnSetting } from './grid-columns';

const row: GridRow = { id: 'FRAME@WORKS#1', code: 'FRAME', unit: 'each', quantity: '1250.5', due: '2027-03-09', supplier: '', late: true };
const edits: GridEdit[] = [];
const setting: ColumnSetting = {
  server: true,
  filtering: true,
  editing: () => true,
  today: () => '2027-03-01',
  typed: (each, field) => (each === row && field === 'due' ? '2027-03-12' : undefined),
  edited: (edit) => edits.push(edit),
};
const column = (more: Partial<GridColumn>): GridColumn => ({ field: 'quantity', title: 'Quantity', kind: 'figure', editable: true, ...more });

/** What a cell takes when somebody types into it. */
function typed(of: GridColumn, text: string): string | undefined {
  edits.length = 0;
  const { valueSetter } = columnOf(of, setting);
  if (typeof valueSetter === 'function') valueSetter({ data: row, newValue: text } as ValueSetterParams<GridRow>);
  return edits[0]?.value;
}

function drawn(of: GridColumn, each: GridRow = row): HTMLElement {
  const cell = draw(of, { value: each[of.field], data: each } as ICellRendererParams<GridRow, unknown>);
  const span = document.createElement('span');
  span.append(cell);
  return span;
}

describe('a cell that can be typed into', () => {
  it('takes figures and days as people type them, and leaves what is neither for the server to refuse', () => {
    expect(typed(column({}), '1.250,5')).toBe('1250.5');
    expect(typed(column({}), '=12*5')).toBe('60');
    expect(typed(column({}), 'many')).toBe('many');
    expect(typed(column({ field: 'due', kind: 'date' }), '+5')).toBe('2027-03-06');
    expect(typed(column({ field: 'due', kind: 'date' }), 'fri')).toBe('2027-03-05');
    expect(typed(column({ field: 'due', kind: 'date' }), 'someday')).toBe('someday');
    expect(typed(column({ field: 'supplier', kind: 'text' }), '12')).toBe('12');
  });

  it('shows what was typed and is not kept yet, and is open only while the list is edited', () => {
    const { valueGetter, cellClassRules, editable } = columnOf(column({ field: 'due', kind: 'date' }), setting);
    expect(typeof valueGetter === 'function' && valueGetter({ data: row } as never)).toBe('2027-03-12');
    const marked = cellClassRules?.['typed'];
    expect(typeof marked === 'function' && marked({ data: row } as never)).toBe(true);
    expect(typeof editable === 'function' && editable({} as never)).toBe(true);
    expect(columnOf(column({ editable: false }), setting).editable).toBeUndefined();
  });

  it('offers the choices of its row', () => {
    const choices = (each: GridRow): string[] => ['buy', `transfer of ${String(each['code'])}`];
    const offered = columnOf(column({ kind: 'text', choices }), setting) as {
      readonly cellEditor: string;
      readonly cellEditorParams: (of: { readonly data: GridRow }) => unknown;
    };
    expect(offered.cellEditor).toBe('agSelectCellEditor');
    expect(offered.cellEditorParams({ data: row })).toEqual({ values: ['buy', 'transfer of FRAME'] });
  });
});

describe('a column', () => {
  it('is filtered by the server by what its kind can be compared by', () => {
    const options = (of: GridColumn): unknown => (columnOf(of, setting).filterParams as { filterOptions: string[] } | undefined)?.filterOptions;
    expect(options(column({}))).toEqual(['greaterThanOrEqual', 'lessThanOrEqual', 'equals']);
    expect(options(column({ kind: 'text' }))).toEqual(['contains', 'equals']);
    expect(options(column({ kind: 'state' }))).toBeUndefined();
    expect(options(column({ sortable: false }))).toBeUndefined();
    expect(columnOf(column({}), { ...setting, server: false }).filter).toBeUndefined();
  });

  it('compares figures that are here already as figures, not as words', () => {
    const { comparator } = columnOf(column({}), { ...setting, server: false });
    expect(typeof comparator === 'function' && comparator('9', '10', {} as never, {} as never, false)).toBeLessThan(0);
  });
});

describe('a cell', () => {
  it('groups figures with their unit quietly behind, and never takes text for HTML', () => {
    const figure = drawn(column({ unit: 'unit' }));
    expect(figure.textContent).toBe('1,250.5 each');
    expect(figure.querySelector('.quiet')?.textContent).toBe(' each');
    const nasty = drawn(column({ kind: 'text', field: 'code' }), { ...row, code: '<img src=x onerror=alert(1)>' });
    expect(nasty.querySelector('img')).toBeNull();
    expect(nasty.textContent).toContain('<img');
  });

  it('says what it lacks in words and a shape, and something else where its value would mislead', () => {
    const lacking = drawn(column({ kind: 'text', field: 'supplier', lacking: () => 'nobody known' }));
    expect([lacking.textContent, lacking.querySelector('.trouble') !== null]).toEqual(['▲ nobody known', true]);
    expect(drawn(column({ kind: 'text', field: 'supplier' })).textContent).toBe('');
    expect(drawn(column({ says: () => 'supplier’s' })).textContent).toBe('supplier’s');
    expect(drawn(column({ says: () => undefined })).textContent).toBe('1,250.5');
  });

  it('shows a moment in the reader’s own time, and nothing where there was none', () => {
    const at = '2027-02-25T08:30:00.000Z';
    expect(drawn(column({ field: 'at', kind: 'moment' }), { ...row, at }).textContent).toMatch(/^2[56] Feb \d\d:[03]0$|^24 Feb \d\d:[03]0$/);
    expect(drawn(column({ field: 'at', kind: 'moment' }), { ...row, at: null }).textContent).toBe('');
  });

  it('shows a day short, with its year where that matters, and all of it when pointed at', () => {
    const day = drawn(column({ field: 'due', kind: 'date' }));
    expect([day.textContent, day.querySelector('span')?.title]).toEqual(['9 Mar', 'Tue 9 Mar 2027']);
    expect(drawn(column({ field: 'due', kind: 'date', year: true })).textContent).toBe('9 Mar 2027');
    expect(drawn(column({ field: 'late', kind: 'late', mark: 'in danger' })).textContent).toBe('▲ in danger');
    expect(drawn(column({ field: 'late', kind: 'flag' })).textContent).toBe('yes');
  });
});
