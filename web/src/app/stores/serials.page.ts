/** Serial numbers: where each piece is, or whom it went to. */
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Router } from '@angular/router';
import { api } from '@terrace/contract';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Grid, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Serial numbers</h1>
    <t-stores-nav />
    <t-grid
      name="serials"
      [route]="route"
      [columns]="columns"
      [views]="views"
      [topics]="['stock', 'serialNumber']"
      emptyWords="No serial numbers yet. They come with receipts and production of items that have them."
      (opened)="open(+$event.id)"
    />
  `,
  styles: ':host { display: grid; grid-template-rows: auto 1fr; height: 100%; }',
})
export class SerialsPage {
  private readonly router = inject(Router);
  protected readonly route = api.stores.listSerials;
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'here', title: 'In stock', filter: { place: { op: 'contains', value: ' ' } } },
    { key: 'gone', title: 'With customers', filter: { shippedOn: { op: 'atLeast', value: '2000-01-01' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'serial', title: 'Serial number', kind: 'code', width: 150 },
    { field: 'item', title: 'Item', kind: 'code', width: 120 },
    { field: 'description', title: 'Description', kind: 'text' },
    { field: 'place', title: 'In stock at', kind: 'text', width: 120 },
    { field: 'state', title: 'State', kind: 'state', width: 110 },
    { field: 'customer', title: 'Went to', kind: 'text' },
    { field: 'shippedOn', title: 'On', kind: 'date', width: 104, year: true },
    { field: 'warrantyUntil', title: 'Warranty until', kind: 'date', width: 116, year: true },
    { field: 'contractUntil', title: 'Service until', kind: 'date', width: 112, year: true },
  ];

  protected open(id: number): void {
    void this.router.navigate(['/stores/serials', id]);
  }
}
