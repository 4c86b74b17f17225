/** What the plan suggests: chosen and released many at a time, each looked into and changed beside the list. */
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { focusActions } from '../shell/focus.state';
import { Choices } from '../client/choices';
import { useKeys } from '../ui/keys';
import { sessionActions, sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Confirm } from '../ui/confirm';
import { pageOf } from '../ui/documents';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Grid } from '../ui/grid';
import type { GridColumn, GridEdit, GridRow, GridView } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { PlanningNav } from './planning-nav';
import { ReleaseStore } from './suggestion-release.store';
import { SuggestionPanel } from './suggestion-panel';
import { SuggestionRowsStore, waysFor } from './suggestion-rows.store';
import { InCurrencyPipe } from '../ui/money';
import { CheckField } from '../ui/check-field';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';
import { Empty } from '../ui/empty';
import { SelectField, SelectOption } from '../ui/select-field';
import { servedWords } from './served-words';

/** Under this name the horizon is kept for the person. */
const HORIZON = 'suggestions.within';
const HORIZONS = [
  { value: '0', words: 'today' },
  { value: '7', words: 'within a week' },
  { value: '14', words: 'within two weeks' },
  { value: '42', words: 'within six weeks' },
  { value: '', words: 'at any time' },
] as const;

@Component({
  imports: [
    Empty,
    Note,
    SelectField,
    SelectOption,
    Sheet,
    NzButtonModule,
    CheckField,
    InCurrencyPipe,
    Beside,
    Grid,
    Refused,
    Confirm,
    RouterLink,
    GroupedPipe,
    ShortDayPipe,
    PlanningNav,
    SuggestionPanel,
  ],
  providers: [ReleaseStore, SuggestionRowsStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './suggestions.page.html',
  styleUrl: './planning.less',
})
export class SuggestionsPage {
  protected readonly store = inject(ReleaseStore);
  private readonly ngrx = inject(Store);
  protected readonly cells = inject(SuggestionRowsStore);
  private readonly choices = inject(Choices);
  private readonly today = this.ngrx.selectSignal(sessionFeature.selectToday);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly route = api.planning.listSuggestions;
  protected readonly ignored = signal(false);
  /** A customer's order whose needs alone are shown. */
  readonly order = input<string>();
  readonly number = input<string>();
  /** Within how many days, where a link says so. */
  readonly within = input<string>();
  /** Within how many days it must be placed to be shown, as a text; nothing for all of it. Kept for the person. */
  private readonly preferences = this.ngrx.selectSignal(sessionFeature.selectPreferences);
  protected readonly horizon = linkedSignal(() => {
    const kept = this.within() ?? this.preferences()[HORIZON];
    return typeof kept === 'string' ? kept : '7';
  });
  protected readonly horizons = HORIZONS;
  protected readonly query = computed(() => ({
    ignored: this.ignored() ? 'only' : 'no',
    order: this.order(),
    within: this.ignored() || this.order() || this.horizon() === '' ? undefined : this.horizon(),
  }));
  protected readonly nothing = computed(() => {
    if (this.ignored()) return 'Nothing is put aside.';
    if (this.query().within === undefined) return 'Nothing is suggested: demand is covered.';
    return 'Nothing has to be placed so soon. Choose a longer horizon to look further ahead.';
  });
  protected readonly at = signal('');
  protected readonly withLevels = signal(false);
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'late', title: 'Come too late', filter: { daysLate: { op: 'atLeast', value: '1' } } },
    { key: 'buy', title: 'Buy', filter: { kind: { op: 'equals', value: 'buy' } } },
    { key: 'make', title: 'Make', filter: { kind: { op: 'equals', value: 'make' } } },
    { key: 'transfer', title: 'Transfer', filter: { kind: { op: 'equals', value: 'transfer' } } },
    { key: 'kept', title: 'Kept', filter: { firmId: { op: 'atLeast', value: '1' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    {
      field: 'kind',
      title: 'Do',
      kind: 'text',
      width: 66,
      editable: true,
      choices: (row) => waysFor(Number(row['warehouseId']), this.choices.all().warehouses),
    },
    { field: 'code', title: 'Item', kind: 'code', beside: 'description' },
    { field: 'quantity', title: 'Quantity', kind: 'figure', width: 104, unit: 'unit', editable: true },
    { field: 'placeBy', title: 'Place by', kind: 'date', width: 64, editable: true },
    { field: 'due', title: 'Due', kind: 'date', width: 62, editable: true },
    { field: 'daysLate', title: 'Late', kind: 'count', width: 58 },
    { field: 'serves', title: 'Serves', kind: 'text', width: 94, says: (row) => servedWords(row) },
    { field: 'cost', title: 'Value', kind: 'figure', money: true, width: 96 },
    {
      field: 'supplier',
      title: 'Supplier',
      kind: 'text',
      width: 130,
      editable: true,
      lacking: (row) => (row['kind'] === 'buy' ? 'nobody known' : ''),
      spare: 1,
    },
    { field: 'warehouse', title: 'In', kind: 'text', width: 70, spare: 3 },
    { field: 'level', title: 'Level', kind: 'count', width: 58, hidden: true },
    { field: 'group', title: 'Group', kind: 'text', width: 90, hidden: true },
    { field: 'from', title: 'From', kind: 'text', width: 70, hidden: true },
    { field: 'firmId', title: 'Kept', kind: 'count', width: 60, hidden: true },
    { field: 'ignoredUntil', title: 'Aside until', kind: 'date', width: 90, hidden: true },
    { field: 'note', title: 'Note', kind: 'text', hidden: true },
  ];
  protected readonly page = pageOf;

  constructor() {
    useKeys([
      { key: 'Ctrl+Enter', words: 'Release what is chosen', act: () => this.store.chosen().length > 0 && this.store.look(this.withLevels()) },
    ]);
  }

  protected look(within: string): void {
    this.horizon.set(within);
    this.ngrx.dispatch(sessionActions.keepPreference({ key: HORIZON, value: within }));
  }

  protected point(row: GridRow): void {
    this.at.set(String(row.id));
    this.ngrx.dispatch(focusActions.point({ itemId: Number(row['itemId']), warehouseId: Number(row['warehouseId']) }));
  }

  /** What is typed into a row is kept, and the row goes on under the number that it is kept as. */
  protected type(edit: GridEdit): void {
    this.cells.type(edit, this.today(), (number) => this.at.set(number));
  }

  protected choose(rows: readonly GridRow[]): void {
    this.store.choose(rows.map((row) => ({ name: String(row.id), seen: { quantity: String(row['quantity']), due: String(row['due']) } })));
  }

  protected levels(on: boolean): void {
    this.withLevels.set(on);
    this.store.look(on);
  }
}
