/**
 * The grid: one wrapper around AG Grid for every list. Big lists come by the server's pages; columns, order and widths
 * are kept per user; what is shown goes out as CSV or XLSX.
 */
import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { AgGridAngular } from 'ag-grid-angular';
import {
  AllCommunityModule,
  ModuleRegistry,
  type FilterChangedEvent,
  type GetRowIdParams,
  type GridApi,
  type GridOptions,
  type GridReadyEvent,
  type IDatasource,
  type IGetRowsParams,
  type RowClassParams,
} from 'ag-grid-community';
import { NzDropDownModule } from 'ng-zorro-antd/dropdown';
import { NzMenuModule } from 'ng-zorro-antd/menu';
import { Subject, debounceTime } from 'rxjs';
import type { AnyRoute, CustomRecord, LiveTopic } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { AskedRows } from './grid-asked';
import { theme, type GridColumn, type GridEdit, type GridPending, type GridRow, type GridView, type OwnView } from './grid-cells';
import { asPasted, sumsOf } from './grid-chosen';
import { TOGETHER_MS, columnOf, type ColumnSetting } from './grid-columns';
import { GridKept, hiddenColumns } from './grid-kept';
import { GridRoom } from './grid-room';
import { useKeys } from './keys';
import { Refused } from './refusal';
import { CompanyCurrency } from './money';
import { TextField } from './text-field';
import { OneOfField, type OneOf } from './one-of';
import { TakeFile } from './take-file';
import { Empty } from './empty';

ModuleRegistry.registerModules([AllCommunityModule]);

const PAGE = 100;
/** What of a list's width is not for its columns: the bar that scrolls it, and a line. */
const BESIDES = 18;
@Component({
  selector: 't-grid',
  imports: [Empty, OneOfField, TakeFile, TextField, NzButtonModule, AgGridAngular, NzDropDownModule, NzMenuModule, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './grid.html',
  styleUrl: './grid.less',
})
export class Grid {
  /** Under this name the user's columns are kept. */
  readonly name = input.required<string>();
  readonly columns = input.required<readonly GridColumn[]>();
  /** A list of the server, by pages … */
  readonly route = input<AnyRoute>();
  readonly query = input<Readonly<Record<string, string | number | undefined>>>({});
  readonly params = input<Readonly<Record<string, string | number>>>({});
  /** … or rows that are here already. */
  readonly rows = input<readonly GridRow[]>();
  /** Live topics for which the list is fetched again. */
  readonly topics = input<readonly LiveTopic[]>([]);
  readonly views = input<readonly GridView[]>([]);
  readonly view = input<string | undefined>();
  readonly several = input(false);
  /** Adds the fields that the company added to such records as columns. */
  readonly own = input<CustomRecord>();
  /** Whether cells are being typed into; what is typed goes out by `edited` and is shown from `pending`. */
  readonly editing = input(false);
  readonly pending = input<GridPending>(new Map());
  readonly edited = output<GridEdit>();
  readonly emptyWords = input('Nothing here yet.');
  /** Something new is begun beside: no row takes its place by itself. */
  readonly begun = input(false);
  readonly pointed = output<GridRow>();
  readonly opened = output<GridRow>();
  readonly selected = output<readonly GridRow[]>();

  private readonly client = inject(ApiClient);
  private readonly kept = inject(GridKept);
  private readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  protected readonly shown = computed((): readonly GridColumn[] => [
    ...this.columns().map((column) => (column.money ? { ...column, title: this.currency.behind(column.title) } : column)),
    ...this.choices
      .all()
      .fields.filter((field) => field.record === this.own())
      .map((field): GridColumn => ({
        field: `own_${field.id}`,
        title: field.title,
        kind: field.type === 'date' ? 'date' : 'text',
        width: 120,
        hidden: true,
      })),
  ]);
  private readonly today = inject(Store).selectSignal(sessionFeature.selectToday);
  private readonly findings = new Subject<string>();
  protected readonly theme = theme;
  protected readonly grid = signal<GridApi<GridRow> | null>(null);
  protected readonly total = signal<number | null>(null);
  protected readonly find = signal('');
  protected readonly chosenView = signal<string>('');
  protected readonly problem = signal<Problem | null>(null);
  protected readonly ownViews = computed(() => this.kept.views(this.name()));
  protected readonly chosenOwn = signal('');
  protected readonly allViews = computed((): readonly OneOf[] => [
    ...this.views().map(({ key, title }) => ({ value: key, words: title })),
    ...this.ownViews().map(({ title }) => ({ value: `own ${title}`, words: title, own: true })),
  ]);
  protected readonly shownView = computed(() => (this.chosenOwn() === '' ? this.chosenView() : `own ${this.chosenOwn()}`));
  protected readonly naming = signal(false);
  protected readonly sums = signal('');
  protected readonly filtering = signal(false);
  /** Whether a file of the list is being made. */
  protected readonly making = signal(false);
  private readonly asked = new AskedRows(() => ({
    query: this.query(),
    view: this.views().find((each) => each.key === this.chosenView()),
    find: this.find(),
  }));
  protected readonly room = new GridRoom(this.shown, () => BESIDES + (this.several() ? this.boxes.width : 0));
  /** The row that is pointed at. */
  private at: number | null = null;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** Whether the list has to be fetched again once nobody types into a cell. */
  private waiting = false;
  /** Whether other rows were asked for, so that what stands beside them has to be one of them. */
  private turned = false;

  private readonly setting = computed((): ColumnSetting => ({
    server: this.route() !== undefined,
    filtering: this.filtering(),
    editing: () => this.editing(),
    today: () => this.today(),
    typed: (row, field) => (row ? this.pending().get(row.id)?.[field] : undefined),
    edited: (edit) => this.edited.emit(edit),
  }));
  protected readonly definitions = computed(() => this.shown().map((column) => columnOf(column, this.setting())));
  protected readonly options: GridOptions<GridRow> = {
    // On a phone a row is pressed with a thumb.
    ...(matchMedia('(max-width: 720px)').matches ? { rowHeight: 48 } : {}),
    cacheBlockSize: PAGE,
    maxBlocksInCache: 30,
    infiniteInitialRowCount: 1,
    animateRows: false,
    // Columns fill the width that is left beside the scroll bar, whether it is needed yet or not.
    alwaysShowVerticalScroll: true,
    suppressCellFocus: false,
    enableCellTextSelection: false,
    getRowId: ({ data }: GetRowIdParams<GridRow>) => String(data.id),
    rowClassRules: {
      late: ({ data }: RowClassParams<GridRow>) => data?.['late'] === true,
      danger: ({ data }: RowClassParams<GridRow>) => data?.['endangered'] === true,
    },
    onCellFocused: ({ rowIndex, api }) => {
      const row = rowIndex === null ? undefined : api.getDisplayedRowAtIndex(rowIndex);
      if (!row?.data) return;
      this.at = rowIndex;
      if (!this.several()) row.setSelected(true, true);
      this.pointed.emit(row.data);
    },
    onRowDoubleClicked: ({ data }) => data && this.opened.emit(data),
    onCellKeyDown: ({ event, data, api }) => {
      if (!(event instanceof KeyboardEvent)) return;
      if (event.key === 'Enter' && data) this.opened.emit(data);
      else if (event.key.toLowerCase() === 'c' && (event.ctrlKey || event.metaKey)) void navigator.clipboard.writeText(asPasted(api));
    },
    onSelectionChanged: ({ api }) => {
      const rows = api.getSelectedRows();
      this.selected.emit(rows);
      this.sums.set(rows.length > 1 ? sumsOf(this.columns(), rows) : '');
    },
    onFirstDataRendered: ({ api }) => this.pointAtFirst(api),
    onGridSizeChanged: ({ api, clientWidth }) => this.room.fit(api, clientWidth),
    onColumnMoved: ({ finished, source, api }) => finished && source.startsWith('ui') && this.keepColumns(api),
    onColumnResized: ({ finished, source, api }) => finished && source === 'uiColumnResized' && this.keepColumns(api),
    onColumnVisible: ({ api, source }) => source.startsWith('ui') && this.keepColumns(api),
    // What was heard while somebody typed into a cell is fetched when they are done.
    onCellEditingStopped: () => {
      if (this.waiting) this.refresh(false);
    },
    onFilterChanged: (event: FilterChangedEvent<GridRow>) => this.asked.readFilters(event.api),
  };
  protected readonly multiple = { mode: 'multiRow', checkboxes: true, headerCheckbox: true, enableClickSelection: false } as const;
  /** The column of the boxes has a name, too. */
  protected readonly boxes = { headerName: 'Pick', width: 50, minWidth: 50, maxWidth: 50 };
  protected readonly single = { mode: 'singleRow', checkboxes: false, enableClickSelection: true } as const;

  constructor() {
    useKeys([
      { key: 'J', words: 'Next row', act: () => this.step(1) },
      { key: 'K', words: 'Row before', act: () => this.step(-1) },
    ]);
    // What is begun is none of the rows.
    effect(() => {
      if (this.begun()) this.grid()?.deselectAll();
    });
    effect(() => {
      const key = this.view() ?? '';
      untracked(() => this.chosenView.set(key === '' ? (this.views()[0]?.key ?? '') : key));
      untracked(() => this.refresh(true));
    });
    effect(() => {
      this.query();
      untracked(() => this.refresh(true));
    });
    effect(() => {
      this.shown();
      const grid = this.grid();
      if (grid) untracked(() => this.room.fit(grid));
    });
    effect(() => {
      const rows = this.rows();
      const grid = this.grid();
      if (rows === undefined || !grid) return;
      grid.setGridOption('rowData', [...rows]);
      this.total.set(rows.length);
    });
    effect(() => {
      this.pending();
      this.editing();
      untracked(() => this.grid()?.refreshCells({ force: true }));
    });
    this.findings.pipe(debounceTime(TOGETHER_MS), takeUntilDestroyed()).subscribe((words) => {
      this.find.set(words);
      if (this.route()) this.refresh(true);
      else this.grid()?.setGridOption('quickFilterText', words);
    });
    whenHeard(
      () => this.topics(),
      () => this.refresh(false),
    );
  }

  protected ready(event: GridReadyEvent<GridRow>): void {
    this.grid.set(event.api);
    this.kept.showColumns(this.name(), event.api);
    const asked = (this.kept.columns(this.name()) ?? []).filter((column) => column.asked === true);
    this.room.begin(hiddenColumns(event.api), new Set(asked.map(({ colId }) => colId)));
    this.room.fit(event.api, this.host.nativeElement.querySelector('.holder')?.clientWidth ?? 0);
    if (this.route()) event.api.setGridOption('datasource', this.datasource());
  }

  /** Chooses every row that is loaded. */
  chooseLoaded(): void {
    this.grid()?.forEachNode((node) => node.data && node.setSelected(true));
  }

  protected look(words: string): void {
    this.findings.next(words);
  }

  /** Shows a view, the list's own or one that the person keeps. */
  protected turn(to: string): void {
    const own = this.ownViews().find((each) => `own ${each.title}` === to);
    if (own) this.chooseOwn(own);
    else this.choose(to);
  }

  private choose(key: string): void {
    if (this.chosenOwn() !== '') {
      this.find.set('');
      this.grid()?.setFilterModel(null);
    }
    this.chosenOwn.set('');
    this.chosenView.set(key);
    this.turned = true;
    this.refresh(true);
  }

  /** Shows the list as it was when the view was kept. */
  private chooseOwn(view: OwnView): void {
    this.chosenOwn.set(view.title);
    this.chosenView.set(view.base);
    this.find.set(view.find);
    const grid = this.grid();
    grid?.setFilterModel({ ...view.filter });
    grid?.applyColumnState({ state: view.columns.map((column) => ({ ...column })), applyOrder: true, defaultState: { sort: null } });
    this.room.take(new Set(view.columns.filter((column) => column.hide === true).map((column) => column.colId)));
    if (grid) this.room.fit(grid);
    this.turned = true;
    this.refresh(true);
  }

  protected keepView(typed: string): void {
    const grid = this.grid();
    const title = typed.trim();
    if (!grid || title === '') return;
    this.kept.keepView(this.name(), grid, this.room.unwanted, { title, base: this.chosenView(), find: this.find() });
    this.chosenOwn.set(title);
    this.naming.set(false);
  }

  protected forgetView(): void {
    this.kept.forgetView(this.name(), this.chosenOwn());
    this.chosenOwn.set('');
  }

  protected showColumn(field: string, shown: boolean): void {
    const grid = this.grid();
    if (!grid) return;
    this.room.want(field, shown);
    this.room.fit(grid);
    this.keepColumns(grid);
  }

  private keepColumns(grid: GridApi<GridRow>): void {
    this.kept.keepColumns(this.name(), grid, this.room.unwanted, this.room.wanted);
  }

  /** Goes to the next row or the one before; from nowhere, to the first. */
  private step(by: 1 | -1): void {
    const grid = this.grid();
    const count = grid?.getDisplayedRowCount() ?? 0;
    const [column] = grid?.getAllDisplayedColumns().filter((each) => !each.getColId().startsWith('ag-Grid')) ?? [];
    if (!grid || !column || count === 0) return;
    const row = Math.max(0, Math.min(count - 1, (this.at ?? -1) + by));
    grid.ensureIndexVisible(row);
    grid.setFocusedCell(row, column);
  }

  /** Where the list as shown can be had as a file. */
  protected fileOf(file: 'csv' | 'xlsx' | 'pdf'): string {
    const route = this.route();
    const shown = this.shown().filter((column) => !this.room.hidden().has(column.field));
    return route ? this.asked.file(route, this.params(), file, shown) : '';
  }

  /** Fetches the list again; `fresh` forgets where it was scrolled to. */
  private refresh(fresh: boolean): void {
    const grid = this.grid();
    if (!grid || !this.route()) return;
    this.waiting = !fresh && grid.getEditingCells().length > 0;
    if (this.waiting) return;
    if (fresh) grid.setGridOption('datasource', this.datasource());
    else grid.refreshInfiniteCache();
  }

  private datasource(): IDatasource {
    return {
      getRows: (params: IGetRowsParams) => {
        const route = this.route();
        if (!route) return;
        this.client.call(route, { params: this.params(), query: this.asked.page(params) }).subscribe({
          next: (answer) => {
            const { rows, total } = answer as { rows: GridRow[]; total: number };
            this.problem.set(null);
            this.total.set(total);
            params.successCallback(rows, total);
            if (this.turned && params.startRow === 0) {
              this.turned = false;
              this.pointAtFirst(this.grid());
            }
          },
          error: (error: unknown) => {
            this.problem.set(problemOf(error));
            params.failCallback();
          },
        });
      },
    };
  }

  private pointAtFirst(grid: GridApi<GridRow> | null | undefined): void {
    const first = grid?.getDisplayedRowAtIndex(0);
    if (!first?.data || this.begun()) return;
    this.at = 0;
    if (!this.several()) first.setSelected(true, true);
    this.pointed.emit(first.data);
  }
}
