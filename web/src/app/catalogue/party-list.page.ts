/** Customers or suppliers. */
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';

const COMMON: readonly GridColumn[] = [
  { field: 'code', title: 'Code', kind: 'code', width: 110 },
  { field: 'name', title: 'Name', kind: 'text' },
  { field: 'address', title: 'Address', kind: 'text' },
  { field: 'email', title: 'Mail', kind: 'text' },
  { field: 'paymentDays', title: 'Days to pay', kind: 'count', width: 112 },
  { field: 'openOrders', title: 'Open orders', kind: 'count', width: 108 },
  { field: 'currency', title: 'Currency', kind: 'text', width: 86, hidden: true },
];

@Component({
  imports: [Grid, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">{{ kind() }}</h1>
    <t-grid
      [name]="kind()"
      [own]="kind() === 'customers' ? 'customer' : 'supplier'"
      [route]="route()"
      [columns]="columns()"
      [topics]="['customer', 'supplier']"
      emptyWords="None yet."
      (opened)="open($event)"
    >
      @if (rights().has('catalogue.edit')) {
        <a tool class="act first small" [routerLink]="'/catalogue/' + kind() + '/new'">New {{ kind() === 'customers' ? 'customer' : 'supplier' }}</a>
      }
    </t-grid>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class PartyListPage {
  readonly kind = input.required<'customers' | 'suppliers'>();
  private readonly router = inject(Router);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = computed(() => (this.kind() === 'customers' ? api.catalogue.listCustomers : api.catalogue.listSuppliers));
  protected readonly columns = computed((): readonly GridColumn[] =>
    this.kind() === 'customers'
      ? [
          ...COMMON,
          { field: 'group', title: 'Group', kind: 'text', width: 96 },
          { field: 'owes', title: 'Owes', kind: 'figure', money: true, width: 106 },
          { field: 'onHold', title: 'On hold', kind: 'flag', width: 84 },
        ]
      : [...COMMON, { field: 'items', title: 'Items', kind: 'count', width: 76 }],
  );

  protected open(row: GridRow): void {
    void this.router.navigateByUrl(`/catalogue/${this.kind()}/${row.id}`);
  }
}
