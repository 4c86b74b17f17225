/** One lot on a page of its own, with its moves. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import { api } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { lastAsked } from '../client/last-asked';
import { pageOf } from '../ui/documents';
import { Grid } from '../ui/grid';
import type { GridRow } from '../ui/grid-cells';
import { MOVE_COLUMNS } from '../ui/move-columns';
import { LotPanel } from './lot-panel';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Grid, LotPanel, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-stores-nav />
    <div class="both">
      <t-lot-panel [id]="number()" />
      @if (query(); as asked) {
        <section aria-label="Moves of the lot">
          <t-grid
            name="lot-moves"
            [route]="route"
            [query]="asked"
            [columns]="columns"
            [topics]="['stock']"
            emptyWords="It has not moved."
            (opened)="open($event)"
          />
        </section>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto 1fr;
      height: 100%;
    }
    .both {
      display: grid;
      grid-template-rows: auto minmax(260px, 1fr);
      min-height: 0;
      overflow: auto;
    }
  `,
})
export class LotPage {
  readonly id = input.required<string>();
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  private readonly router = inject(Router);
  protected readonly route = api.stores.moves;
  protected readonly columns = MOVE_COLUMNS.filter((column) => column.field !== 'lot');
  protected readonly number = computed(() => Number(this.id()));
  protected readonly query = signal<{ item: number; lot: string } | null>(null);

  constructor() {
    effect(() => {
      const id = this.number();
      untracked(() =>
        this.ask(this.client.beside(api.stores.getLot, { params: { id } }, null), {
          next: (lot) => this.query.set(lot && { item: lot.itemId, lot: lot.lot }),
        }),
      );
    });
  }

  protected open(row: GridRow): void {
    const page = pageOf(String(row['documentKind']), Number(row['documentId']));
    if (page !== null) void this.router.navigateByUrl(page);
  }
}
