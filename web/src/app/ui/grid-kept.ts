/** What is kept of a list for each person: its columns with their order and widths, and views under names. */
import { Injectable, inject } from '@angular/core';
import { Store } from '@ngrx/store';
import type { GridApi } from 'ag-grid-community';
import { sessionActions, sessionFeature } from '../client/session.state';
import type { GridRow, OwnView } from './grid-cells';

/** A column as somebody left it; `asked` where they want it whatever the room. */
export interface KeptColumn {
  readonly colId: string;
  readonly hide?: boolean;
  readonly width?: number | null | undefined;
  readonly asked?: boolean;
}

@Injectable({ providedIn: 'root' })
export class GridKept {
  private readonly store = inject(Store);
  private readonly preferences = this.store.selectSignal(sessionFeature.selectPreferences);

  views(list: string): readonly OwnView[] {
    const kept = this.preferences()[`views.${list}`];
    return Array.isArray(kept) ? (kept as readonly OwnView[]) : [];
  }

  /** Keeps how the list is narrowed, sorted and shown; the same name is kept anew. */
  keepView(
    list: string,
    grid: GridApi<GridRow>,
    unwanted: ReadonlySet<string>,
    { title, base, find }: Pick<OwnView, 'title' | 'base' | 'find'>,
  ): void {
    const columns = grid.getColumnState().map(({ colId, width, sort }) => ({ colId, hide: unwanted.has(colId), width, sort }));
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
    const kept = this.columns(list);
    if (kept) grid.applyColumnState({ state: kept as never, applyOrder: true });
  }

  /** How this person left the columns; nothing where they never touched them. */
  columns(list: string): readonly KeptColumn[] | null {
    const kept = this.preferences()[`grid.${list}`];
    return Array.isArray(kept) ? (kept as readonly KeptColumn[]) : null;
  }

  /** Keeps the columns; `hidden` are those that the person wants not to see, whatever gave way for want of room. */
  keepColumns(list: string, grid: GridApi<GridRow>, hidden: ReadonlySet<string>, asked: ReadonlySet<string>): void {
    this.keep(
      `grid.${list}`,
      grid.getColumnState().map(({ colId, width }): KeptColumn => ({ colId, hide: hidden.has(colId), width, asked: asked.has(colId) })),
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
