/** Orders that were chosen in the order book, to do the same with all of them. */
import { Injectable, signal } from '@angular/core';
import type { GridRow } from '../ui/grid-cells';

@Injectable({ providedIn: 'root' })
export class ChosenOrders {
  private readonly chosen = signal<readonly number[]>([]);
  /** By their numbers in the database. */
  readonly ids = this.chosen.asReadonly();

  take(rows: readonly GridRow[]): void {
    this.chosen.set(rows.map(({ id }) => Number(id)));
  }
}
