/** Production orders, the chosen one beside with its components. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { api } from '@terrace/contract';
import { useKeys } from '../ui/keys';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { ProductionPanel } from './production-panel';

@Component({
  imports: [Beside, Grid, ProductionPanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Production orders</h1>
    <t-beside>
      <t-grid
        list
        name="production"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['productionOrder', 'stock']"
        emptyWords="No production order is like this."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
      >
        <a tool class="act first small" routerLink="/production/orders/new">New order <kbd>N</kbd></a>
      </t-grid>
      <div record>
        @if (chosen(); as id) {
          <t-production-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class ProductionBookPage {
  private readonly router = inject(Router);
  protected readonly route = api.production.listProduction;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Order', kind: 'code', width: 96 },
    { field: 'code', title: 'Item', kind: 'code' },
    { field: 'description', title: 'Description', kind: 'text', hidden: true },
    { field: 'state', title: 'State', kind: 'state', width: 108 },
    { field: 'quantity', title: 'To make', kind: 'figure', width: 98, unit: 'unit' },
    { field: 'finished', title: 'Finished', kind: 'figure', width: 84 },
    { field: 'startDate', title: 'Start', kind: 'date', width: 70 },
    { field: 'dueDate', title: 'Due', kind: 'date', width: 78 },
    { field: 'late', title: 'Late', kind: 'late', width: 70 },
    { field: 'short', title: 'Short of', kind: 'count', width: 80, sortable: false },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'open', title: 'Open', filter: { state: { op: 'among', value: ['draft', 'released', 'running'] } } },
    { key: 'late', title: 'Late', filter: { late: { op: 'equals', value: 'true' } } },
    { key: 'all', title: 'All', filter: {} },
  ];

  constructor() {
    useKeys([{ key: 'N', words: 'New production order', act: () => void this.router.navigateByUrl('/production/orders/new') }]);
  }

  protected open(id: number): void {
    void this.router.navigateByUrl(`/production/orders/${id}`);
  }
}
