/** Items, the chosen one beside; or many of them changed in the list. */
import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { ListEditsPanel } from '../ui/list-edits-panel';
import { ItemListStore } from './item-list.store';
import { ItemPanel } from './item-panel';

@Component({
  imports: [NzButtonModule, Beside, Grid, ItemPanel, ListEditsPanel, RouterLink],
  providers: [ItemListStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Items</h1>
    <nav class="rooms" aria-label="More of the catalogue">
      <a routerLink="/catalogue/families">Families</a>
      <a routerLink="/catalogue/customers">Customers</a>
      <a routerLink="/catalogue/suppliers">Suppliers</a>
      <a routerLink="/selling/prices">Prices</a>
      <a routerLink="/catalogue/ground">Groups and units</a>
      @if (rights().has('bulk.import')) {
        <a routerLink="/catalogue/files">Files in and out</a>
      }
    </nav>
    <t-beside>
      <t-grid
        list
        name="items"
        own="item"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['item']"
        [several]="store.editing()"
        [editing]="store.editing()"
        [pending]="store.pending()"
        emptyWords="No item is like this."
        (pointed)="chosen.set(+$event.id)"
        (opened)="open(+$event.id)"
        (selected)="store.choose($event)"
        (edited)="store.type($event)"
      >
        @if (rights().has('catalogue.edit')) {
          <ng-container tool>
            <a tool class="act first small" routerLink="/catalogue/new">New item <kbd>N</kbd></a>
            <button
              nz-button
              tool
              type="button"
              class="act small"
              [attr.aria-pressed]="store.editing()"
              (click)="store.editing() ? store.leave() : store.begin()"
            >
              {{ store.editing() ? 'Stop editing' : 'Edit in the list' }}
            </button>
          </ng-container>
        }
      </t-grid>
      <div record>
        @if (store.editing()) {
          <t-list-edits-panel [store]="store" [columns]="editable" hint="value, or +5 %" (all)="grid().chooseLoaded()" />
        } @else if (chosen()) {
          <t-item-panel [id]="chosen()" />
        }
      </div>
    </t-beside>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto 1fr;
      height: 100%;
      min-height: 0;
    }
    .rooms {
      display: flex;
      flex-wrap: wrap;
      gap: 18px;
      padding: 6px 12px;
      border-bottom: 1px solid var(--line);
      font-size: 13px;
    }
    t-beside {
      min-height: 0;
    }
  `,
})
export class ItemListPage {
  private readonly router = inject(Router);
  protected readonly store = inject(ItemListStore);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.catalogue.listItems;
  protected readonly grid = viewChild.required(Grid);
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'Item', kind: 'code', width: 118 },
    { field: 'description', title: 'Description', kind: 'text', editable: true },
    { field: 'group', title: 'Group', kind: 'text', width: 96, editable: true },
    { field: 'onHand', title: 'On hand', kind: 'figure', width: 128, unit: 'unit' },
    { field: 'free', title: 'Free', kind: 'figure', width: 92 },
    { field: 'sellPrice', title: 'Price', kind: 'figure', money: true, width: 112, editable: true },
    { field: 'buyPrice', title: 'Buying', kind: 'figure', money: true, width: 98, hidden: true, editable: true },
    { field: 'standardCost', title: 'Standard', kind: 'figure', money: true, width: 110, hidden: true, editable: true },
    { field: 'discountCeiling', title: 'Ceiling %', kind: 'text', width: 86, hidden: true, editable: true },
    { field: 'secondCode', title: 'Second code', kind: 'text', width: 110, hidden: true, editable: true },
    { field: 'manufacturer', title: 'Manufacturer', kind: 'text', width: 130, hidden: true, editable: true },
    { field: 'supplier', title: 'Supplier', kind: 'text', width: 150, hidden: true },
    { field: 'family', title: 'Family', kind: 'text', width: 90, hidden: true },
    { field: 'sellingNotes', title: 'Selling notes', kind: 'text', width: 160, hidden: true, editable: true },
    { field: 'kind', title: 'Kind', kind: 'text', width: 92, hidden: true },
    { field: 'active', title: 'Active', kind: 'flag', width: 74, hidden: true, editable: true },
  ];
  protected readonly editable = this.columns.filter((column) => column.editable === true);
  protected readonly views: readonly GridView[] = [
    { key: 'active', title: 'In use', filter: { active: { op: 'equals', value: 'true' } } },
    { key: 'products', title: 'Own products', filter: { group: { op: 'equals', value: 'PRODUCT' } } },
    { key: 'inactive', title: 'Inactive', filter: { active: { op: 'equals', value: 'false' } } },
    { key: 'all', title: 'All', filter: {} },
  ];

  constructor() {
    useKeys([{ key: 'N', words: 'New item', act: () => void this.router.navigateByUrl('/catalogue/new') }]);
  }

  protected open(id: number): void {
    if (!this.store.editing()) void this.router.navigateByUrl(`/catalogue/items/${id}`);
  }
}
