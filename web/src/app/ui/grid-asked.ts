/** What a list asks of the server: which rows, narrowed and sorted how; the same as a file. */
import type { GridApi, IGetRowsParams } from 'ag-grid-community';
import type { AnyRoute, ListFilter } from '@terrace/contract';
import { addressOf } from '../client/api-client';
import type { GridColumn, GridRow, GridView } from './grid-cells';

type Query = Readonly<Record<string, string | number | undefined>>;

const FILTERS: Readonly<Record<string, ListFilter[string]['op']>> = {
  contains: 'contains',
  equals: 'equals',
  greaterThanOrEqual: 'atLeast',
  lessThanOrEqual: 'atMost',
};

export class AskedRows {
  private filters: ListFilter = {};
  private sort: string | undefined;

  /** What narrows the list beside the filters of its columns; asked whenever rows are. */
  constructor(private readonly beside: () => { readonly query: Query; readonly view: GridView | undefined; readonly find: string }) {}

  /** Takes over what is typed into the filters of the columns. */
  readFilters(grid: GridApi<GridRow>): void {
    const model = grid.getFilterModel() as Readonly<Record<string, { type: string; filter?: string | number }>>;
    this.filters = Object.fromEntries(
      Object.entries(model).flatMap(([field, { type, filter: value }]) => {
        const op = FILTERS[type];
        return value === undefined || op === undefined ? [] : [[field, { op, value: String(value) }]];
      }),
    );
  }

  /** The query for a page of rows; by its sorting files are sorted, too. */
  page({ sortModel: [sorted], startRow, endRow }: IGetRowsParams): Query {
    this.sort = sorted ? `${sorted.sort === 'desc' ? '-' : ''}${sorted.colId}` : undefined;
    return { ...this.all(), offset: startRow, limit: endRow - startRow };
  }

  /** Where all rows can be had as a file with these columns. */
  file(route: AnyRoute, params: Readonly<Record<string, string | number>>, file: 'csv' | 'xlsx' | 'pdf', shown: readonly GridColumn[]): string {
    const columns = shown.map((column) => `${column.field}:${column.title.replace(/[,:]/g, ' ')}`).join(',');
    return addressOf(route, { params, query: { ...this.all(), file, columns } });
  }

  private all(): Query {
    const { query, view, find } = this.beside();
    const filter = { ...view?.filter, ...this.filters };
    return { ...query, find: find || undefined, sort: this.sort, filter: Object.keys(filter).length > 0 ? JSON.stringify(filter) : undefined };
  }
}
