/** The planning desk: suggestions level by level, each with why; exceptions; data problems. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { debounceTime, filter } from 'rxjs';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../shell/keys';
import { liveFeature } from '../shell/live.state';
import { sessionFeature } from '../shell/session.state';
import { Beside } from '../ui/beside';
import { Confirm } from '../ui/confirm';
import { GroupedPipe, LongDayPipe, MomentPipe, ShortDayPipe, pageOf } from '../ui/format';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { PlanningStore } from './planning.store';

const TOGETHER_MS = 400;
const KIND = { buy: 'buy', make: 'make', transfer: 'transfer' } as const;

@Component({
  imports: [Beside, Grid, Refused, Confirm, RouterLink, GroupedPipe, LongDayPipe, ShortDayPipe, MomentPipe],
  providers: [PlanningStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './planning.page.html',
  styleUrl: './planning.page.less',
})
export class PlanningPage {
  protected readonly store = inject(PlanningStore);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly tab = signal<'suggestions' | 'exceptions' | 'problems'>('suggestions');
  protected readonly columns: readonly GridColumn[] = [
    { field: 'kindWords', title: 'Do', kind: 'text', width: 62 },
    { field: 'code', title: 'Item', kind: 'code', width: 104 },
    { field: 'level', title: 'Level', kind: 'count', width: 58 },
    { field: 'quantity', title: 'Quantity', kind: 'figure', width: 104, unit: 'unit' },
    { field: 'placeBy', title: 'Place by', kind: 'date', width: 76 },
    { field: 'due', title: 'Due', kind: 'date', width: 68 },
    { field: 'lateWords', title: 'Late', kind: 'text', width: 80 },
    { field: 'supplierWords', title: 'Supplier', kind: 'text' },
    { field: 'cost', title: 'Cost EUR', kind: 'figure', width: 86, hidden: true },
    { field: 'warehouse', title: 'For', kind: 'text', width: 70, hidden: true },
  ];
  protected readonly rows = computed((): GridRow[] =>
    this.store.open().map((each) => ({
      ...each,
      kindWords: KIND[each.kind],
      late: each.daysLate > 0,
      lateWords: each.daysLate > 0 ? `▲ ${each.daysLate} ${each.daysLate === 1 ? 'day' : 'days'}` : '',
      supplierWords: each.kind === 'make' ? '' : (each.supplier ?? 'none: choose one'),
    })),
  );
  protected readonly page = pageOf;

  constructor() {
    this.store.load();
    useKeys([
      { key: 'R', words: 'Run the plan', act: () => this.store.run() },
      { key: 'Ctrl+Enter', words: 'Release what is chosen', act: () => this.store.chosen().length > 0 && this.store.look() },
    ]);
    this.ngrx
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event !== null),
        debounceTime(TOGETHER_MS),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.store.load());
  }

  protected point(row: GridRow): void {
    this.store.set({ at: Number(row.id) });
    this.ngrx.dispatch(focusActions.point({ itemId: Number(row['itemId']), warehouseId: Number(row['warehouseId']) }));
  }

  protected choose(rows: readonly GridRow[]): void {
    this.store.set({ chosen: rows.map((row) => Number(row.id)) });
  }
}
