/** Purchase orders, the chosen one beside. */
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { api } from '@terrace/contract';
import { useKeys } from '../ui/keys';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { PurchasePanel } from './purchase-panel';

@Component({
  imports: [Beside, Grid, PurchasePanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Purchase orders</h1>
    <t-beside>
      <t-grid
        list
        name="purchases"
        own="purchaseOrder"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [view]="view()"
        [topics]="['purchaseOrder']"
        emptyWords="No purchase order is like this."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
      >
        <a tool class="act first small" routerLink="/buying/orders/new">New order <kbd>N</kbd></a>
      </t-grid>
      <div record>
        @if (chosen(); as id) {
          <t-purchase-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class PurchaseBookPage {
  readonly view = input<string>();
  private readonly router = inject(Router);
  protected readonly route = api.buying.listPurchases;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Order', kind: 'code', width: 92 },
    { field: 'supplier', title: 'Supplier', kind: 'text' },
    { field: 'state', title: 'State', kind: 'state', width: 128 },
    { field: 'dueDate', title: 'Next due', kind: 'date', width: 86 },
    { field: 'late', title: 'Late', kind: 'late', width: 70 },
    { field: 'progress', title: 'Lines in', kind: 'text', width: 76, sortable: false },
    { field: 'total', title: 'Total', kind: 'figure', money: true, width: 104 },
    { field: 'warehouse', title: 'To', kind: 'text', width: 78, hidden: true },
    { field: 'orderDate', title: 'Entered', kind: 'date', width: 84, hidden: true },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'drafts', title: 'To approve', filter: { state: { op: 'equals', value: 'draft' } } },
    { key: 'open', title: 'Expected', filter: { state: { op: 'among', value: ['sent', 'partReceived'] } } },
    { key: 'late', title: 'Late', filter: { late: { op: 'equals', value: 'true' } } },
  ];

  constructor() {
    useKeys([{ key: 'N', words: 'New purchase order', act: () => void this.router.navigateByUrl('/buying/orders/new') }]);
  }

  protected open(id: number): void {
    void this.router.navigateByUrl(`/buying/orders/${id}`);
  }
}
