import '@angular/compiler';
import type { GridApi, IGetRowsParams } from 'ag-grid-community';
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { AskedRows } from './grid-asked';
import type { GridRow, GridView } from './grid-cells';
import { asPasted, sumsOf } from './grid-chosen';

const pageOf = (startRow: number, sorts: IGetRowsParams['sortModel'] = []) =>
  ({ startRow, endRow: startRow + 100, sortModel: sorts }) as unknown as IGetRowsParams;
const filtered = (model: object): GridApi<GridRow> => ({ getFilterModel: () => model }) as unknown as GridApi<GridRow>;

describe('what a list asks', () => {
  const late: GridView = { key: 'late', title: 'Late', filter: { late: { op: 'equals', value: 'true' } } };
  const asked = (view?: GridView, find = '') => new AskedRows(() => ({ query: { warehouse: 1 }, view, find }));

  it('is a page at a time, with its view, what is looked for and the filters of its columns; a filter goes before the view’s own', () => {
    const rows = asked(late, 'tarn');
    rows.readFilters(
      filtered({
        customer: { type: 'contains', filter: 'hill' },
        total: { type: 'greaterThanOrEqual', filter: 10 },
        late: { type: 'equals', filter: 'false' },
        gone: { type: 'blank' },
        empty: { type: 'contains' },
      }),
    );
    const { filter, ...rest } = rows.page(pageOf(200, [{ colId: 'total', sort: 'desc' }]));
    expect(rest).toEqual({ warehouse: 1, find: 'tarn', sort: '-total', offset: 200, limit: 100 });
    expect(JSON.parse(String(filter))).toEqual({
      late: { op: 'equals', value: 'false' },
      customer: { op: 'contains', value: 'hill' },
      total: { op: 'atLeast', value: '10' },
    });
    expect(asked().page(pageOf(0))).toEqual({ warehouse: 1, offset: 0, limit: 100 });
  });

  it('as a file has the same rows in the same order, and the columns that are shown', () => {
    const rows = asked(late);
    rows.page(pageOf(0, [{ colId: 'number', sort: 'asc' }]));
    const address = new URL(
      rows.file(api.selling.listOrders, {}, 'csv', [
        { field: 'number', title: 'Order', kind: 'code' },
        { field: 'total', title: 'Total, CHF: all', kind: 'figure' },
      ]),
      'http://terrace.example',
    );
    expect(Object.fromEntries(address.searchParams)).toEqual({
      warehouse: '1',
      sort: 'number',
      filter: JSON.stringify(late.filter),
      file: 'csv',
      columns: 'number:Order,total:Total  CHF  all',
    });
  });
});

describe('chosen rows', () => {
  const rows = [
    { id: 1, number: 'CO-1', total: '1200.5', quantity: '3' },
    { id: 2, number: 'CO-2', total: '0.25', quantity: '4' },
  ] as unknown as GridRow[];

  it('are counted and their amounts added up; what has a unit of its own is not', () => {
    const columns = [
      { field: 'number', title: 'Order', kind: 'code' },
      { field: 'total', title: 'Total', kind: 'figure' },
      { field: 'quantity', title: 'Quantity', kind: 'figure', unit: 'unit' },
    ] as const;
    expect(sumsOf(columns, rows)).toBe('2 chosen · Total 1,200.75');
  });

  it('are copied as lines and columns', () => {
    const grid = {
      getAllDisplayedColumns: () => ['number', 'total'].map((id) => ({ getColId: () => id })),
      getSelectedRows: () => rows,
    } as unknown as GridApi<GridRow>;
    expect(asPasted(grid)).toBe('CO-1\t1200.5\nCO-2\t0.25');
  });
});
