/** What is kept of a list for each person: its columns with their order and widths, and views under names. */
import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import type { GridApi } from 'ag-grid-community';
import { sessionActions, sessionFeature } from '../client/session.state';
import type { GridRow, OwnView } from './grid-cells';

@Injectable({ providedIn: 'root' })
export class GridKept {
  private readonly store = inject(Store);
  private readonly preferences = this.store.selectSignal(sessionFeature.selectPreferences);

  views(list: string): readonly OwnView[] {
    const kept = this.preferences()[`views.${list}`];
    return Array.isArray(kept) ? (kept as readonly OwnView[]) : [];
  }

  /** Keeps how the list is narrowed, sorted and shown; the same name is kept anew. */
  keepView(list: string, grid: GridApi<GridRow>, { title, base, find }: Pick<OwnView, 'title' | 'base' | 'find'>): void {
    const columns = grid.getColumnState().map(({ colId, hide, width, sort }) => ({ colId, hide, width, sort }));
    const view = { title, base, find, filter: grid.getFilterModel(), columns };
    this.keep(`views.${list}`, [...this.views(list).filter((each) => each.title !== title), view]);
  }

  forgetView(list: string, title: string): void {
    this.keep(
      `views.${list}`,
      this.views(list).filter((each) => each.title !== title),
    );
  }

  /** Shows the columns as this person left them. */
  showColumns(list: string, grid: GridApi<GridRow>): void {
    const kept = this.preferences()[`grid.${list}`];
    if (Array.isArray(kept)) grid.applyColumnState({ state: kept as never, applyOrder: true });
  }

  keepColumns(list: string, grid: GridApi<GridRow>): void {
    this.keep(
      `grid.${list}`,
      grid.getColumnState().map(({ colId, hide, width }) => ({ colId, hide, width })),
    );
  }

  private keep(key: string, value: unknown): void {
    this.store.dispatch(sessionActions.keepPreference({ key, value }));
  }
}

/** Columns that are not shown. */
export function hiddenColumns(grid: GridApi<GridRow>): ReadonlySet<string> {
  return new Set(
    grid
      .getColumns()
      ?.filter((column) => !column.isVisible())
      .map((column) => column.getColId()),
  );
}
