/** Customer invoices, the chosen one beside. */
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { api } from '@terrace/contract';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { InvoicePanel } from './invoice-panel';

@Component({
  imports: [Beside, Grid, InvoicePanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Invoices</h1>
    <t-beside>
      <t-grid
        list
        name="invoices"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [view]="view()"
        [topics]="['invoice']"
        emptyWords="No invoice is like this. Invoices are made from what has shipped."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
      >
        <a tool class="act small" routerLink="/accounts/journal">Journal</a>
      </t-grid>
      <div record>
        @if (chosen(); as id) {
          <t-invoice-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class InvoiceBookPage {
  readonly view = input<string>();
  private readonly router = inject(Router);
  protected readonly route = api.accounts.listInvoices;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Invoice', kind: 'code', width: 98 },
    { field: 'customer', title: 'Customer', kind: 'text' },
    { field: 'state', title: 'State', kind: 'state', width: 104 },
    { field: 'date', title: 'Date', kind: 'date', width: 80 },
    { field: 'dueDate', title: 'Due', kind: 'date', width: 80 },
    { field: 'total', title: 'Total', kind: 'figure', money: true, width: 106 },
    { field: 'open', title: 'Open', kind: 'figure', money: true, width: 106 },
    { field: 'order', title: 'Order', kind: 'code', width: 96 },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'open', title: 'Open', filter: { state: { op: 'equals', value: 'open' } } },
    { key: 'overdue', title: 'Overdue', filter: { overdue: { op: 'equals', value: 'true' } } },
    { key: 'all', title: 'All', filter: {} },
  ];

  protected open(id: number): void {
    void this.router.navigateByUrl(`/accounts/invoices/${id}`);
  }
}
