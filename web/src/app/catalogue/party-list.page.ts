/** Customers or suppliers. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { api } from '@terrace/contract';
import { Grid, type GridColumn } from '../ui/grid';

const COMMON: readonly GridColumn[] = [
  { field: 'code', title: 'Code', kind: 'code', width: 110 },
  { field: 'name', title: 'Name', kind: 'text' },
  { field: 'address', title: 'Address', kind: 'text' },
  { field: 'email', title: 'Mail', kind: 'text' },
  { field: 'paymentDays', title: 'Pays in days', kind: 'count', width: 112 },
  { field: 'openOrders', title: 'Open orders', kind: 'count', width: 108 },
];

@Component({
  imports: [Grid],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template:
    '<h1 class="sr">{{ kind() }}</h1><t-grid [name]="kind()" [route]="route()" [columns]="columns()" [topics]="[\'customer\', \'supplier\']" emptyWords="Nobody is known yet." />',
  styles: ':host { display: block; height: 100%; }',
})
export class PartyListPage {
  readonly kind = input.required<'customers' | 'suppliers'>();
  protected readonly route = computed(() => (this.kind() === 'customers' ? api.catalogue.listCustomers : api.catalogue.listSuppliers));
  protected readonly columns = computed((): readonly GridColumn[] =>
    this.kind() === 'customers'
      ? [...COMMON, { field: 'owes', title: 'Owes EUR', kind: 'figure', width: 106 }, { field: 'onHold', title: 'On hold', kind: 'flag', width: 84 }]
      : [...COMMON, { field: 'items', title: 'Items', kind: 'count', width: 76 }],
  );
}
