/** Which columns of a list are shown: those that somebody wants, but for what gives way where there is no room for all of them. */
import { signal } from '@angular/core';
import type { GridApi } from 'ag-grid-community';
import type { GridColumn, GridRow } from './grid-cells';
import { givingWay } from './grid-fit';

/** What of the grid is spoken to. */
type Shown = Pick<GridApi<GridRow>, 'getColumn' | 'setColumnsVisible'>;

export class GridRoom {
  /** What is not seen, because nobody wants it or because it gave way. */
  readonly hidden = signal<ReadonlySet<string>>(new Set());
  /** What somebody wants not to see, and what they want to see whatever the room. */
  unwanted: ReadonlySet<string> = new Set();
  wanted: ReadonlySet<string> = new Set();
  /** The columns that it is known of whether somebody wants to see them: those that the company added come later than the others. */
  private readonly known = new Set<string>();
  private width = 0;

  /** `besides` is what of the width is not for columns, in pixels. */
  constructor(
    private readonly columns: () => readonly GridColumn[],
    private readonly besides: () => number,
  ) {}

  /** Begins with what the grid shows; `wanted` was asked for whatever the room. */
  begin(unwanted: ReadonlySet<string>, wanted: ReadonlySet<string>): void {
    this.take(unwanted);
    this.wanted = wanted;
  }

  /** Takes over what a view shows, which the grid shows already. */
  take(unwanted: ReadonlySet<string>): void {
    this.unwanted = unwanted;
    this.hidden.set(unwanted);
  }

  /** Somebody wants to see a column, or not to. */
  want(field: string, shown: boolean): void {
    this.unwanted = new Set(shown ? [...this.unwanted].filter((each) => each !== field) : [...this.unwanted, field]);
    this.wanted = new Set(shown ? [...this.wanted, field] : [...this.wanted].filter((each) => each !== field));
  }

  /** Shows what is wanted, as far as it fits into a width in pixels, or into the last one. */
  fit(grid: Shown, width = this.width): void {
    if (width <= 0) return;
    this.width = width;
    const columns = this.columns();
    for (const { field, hidden = false } of columns.filter((each) => !this.known.has(each.field))) {
      this.known.add(field);
      if (!(grid.getColumn(field)?.isVisible() ?? !hidden)) this.unwanted = new Set([...this.unwanted, field]);
    }
    const gone = givingWay(
      columns,
      width - this.besides(),
      ({ field }) => !this.unwanted.has(field),
      ({ field }) => this.wanted.has(field),
    );
    const hidden = new Set([...this.unwanted, ...gone]);
    const turn = (shown: boolean): string[] =>
      columns.map(({ field }) => field).filter((field) => hidden.has(field) !== shown && this.hidden().has(field) === shown);
    grid.setColumnsVisible(turn(true), true);
    grid.setColumnsVisible(turn(false), false);
    this.hidden.set(hidden);
  }
}
