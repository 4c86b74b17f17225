/** Every stock move, newest first. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router } from '@angular/router';
import { api } from '@terrace/contract';
import { pageOf } from '../ui/documents';
import { Grid } from '../ui/grid';
import type { GridRow } from '../ui/grid-cells';
import { MOVE_COLUMNS } from '../ui/move-columns';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Grid, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template:
    '<h1 class="sr">Stock moves</h1><t-stores-nav /><t-grid name="moves" [route]="route" [columns]="columns" [topics]="[\'stock\']" emptyWords="Nothing has moved yet." (opened)="open($event)" />',
  styles: ':host { display: grid; grid-template-rows: auto 1fr; height: 100%; }',
})
export class MovesPage {
  private readonly router = inject(Router);
  protected readonly route = api.stores.moves;
  protected readonly columns = MOVE_COLUMNS;

  protected open(row: GridRow): void {
    const page = pageOf(String(row['documentKind']), Number(row['documentId']));
    if (page !== null) void this.router.navigateByUrl(page);
  }
}
