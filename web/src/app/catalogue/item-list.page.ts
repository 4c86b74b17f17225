/** Items, the chosen one beside. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { api } from '@terrace/contract';
import { Beside } from '../ui/beside';
import { Grid, type GridColumn, type GridView } from '../ui/grid';
import { ItemPanel } from './item-panel';

@Component({
  imports: [Beside, Grid, ItemPanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Items</h1>
    <t-beside>
      <t-grid
        list
        name="items"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['item']"
        emptyWords="No item is like this."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
      >
        <a tool class="act small" routerLink="/catalogue/customers">Customers</a
        ><a tool class="act small" routerLink="/catalogue/suppliers">Suppliers</a>
      </t-grid>
      <div record>
        @if (chosen(); as id) {
          <t-item-panel [id]="id" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class ItemListPage {
  private readonly router = inject(Router);
  protected readonly route = api.catalogue.listItems;
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Item', kind: 'code', width: 118 },
    { field: 'description', title: 'Description', kind: 'text' },
    { field: 'group', title: 'Group', kind: 'text', width: 104 },
    { field: 'onHand', title: 'On hand', kind: 'figure', width: 110, unit: 'unit' },
    { field: 'free', title: 'Free', kind: 'figure', width: 92 },
    { field: 'sellPrice', title: 'Price EUR', kind: 'figure', width: 98 },
    { field: 'kind', title: 'Kind', kind: 'text', width: 92, hidden: true },
    { field: 'active', title: 'Active', kind: 'flag', width: 74, hidden: true },
  ];
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'products', title: 'Own products', filter: { group: { op: 'equals', value: 'PRODUCT' } } },
    { key: 'inactive', title: 'Inactive', filter: { active: { op: 'equals', value: 'false' } } },
  ];

  protected open(id: number): void {
    void this.router.navigateByUrl(`/catalogue/items/${id}`);
  }
}
