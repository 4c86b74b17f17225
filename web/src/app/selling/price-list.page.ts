/** Price lists; the chosen one beside with its prices, each with cost and margin. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { PriceListPanel } from './price-list-panel';

@Component({
  imports: [NzButtonModule, Beside, Grid, PriceListPanel, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Price lists</h1>
    <t-beside>
      <t-grid
        list
        name="price-lists"
        [route]="route"
        [columns]="columns"
        [topics]="['setup']"
        emptyWords="No list yet: items sell at their own list price."
        [begun]="chosen() === NEW"
        (pointed)="chosen.set(+$event.id)"
      >
        @if (rights().has('selling.price')) {
          <ng-container tool>
            <button nz-button tool type="button" class="act first small" (click)="chosen.set(NEW)">New list</button>
            <a tool class="act small" routerLink="/selling/prices/change">Change many prices</a>
          </ng-container>
        }
        <a tool class="act small" routerLink="/selling/prices/charges">Charges by rule</a>
        <a tool class="act small" routerLink="/selling/prices/trial">Try a price</a>
      </t-grid>
      <div record>
        @if (chosen() !== 0) {
          <t-price-list-panel [id]="chosen()" (made)="chosen.set($event)" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class PriceListPage {
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.selling.listPriceLists;
  /** A list that is being set up, which has no number yet. */
  protected readonly NEW = -1;
  /** 0 for none. */
  protected readonly chosen = signal(0);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'code', title: 'List', kind: 'code', width: 110 },
    { field: 'name', title: 'Name', kind: 'text' },
    { field: 'audience', title: 'For', kind: 'text', width: 150 },
    { field: 'currency', title: 'In', kind: 'text', width: 56 },
    { field: 'validFrom', title: 'From', kind: 'date', width: 76 },
    { field: 'validTo', title: 'To', kind: 'date', width: 76 },
    { field: 'entries', title: 'Prices', kind: 'count', width: 76 },
    { field: 'active', title: 'In use', kind: 'flag', width: 72, hidden: true },
  ];
}
