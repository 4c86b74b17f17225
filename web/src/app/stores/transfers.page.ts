/** Transfers between warehouses; the chosen one beside. */
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { namedOrPointed } from '../ui/named';
import { StoresNav } from './stores-nav';
import { TransferPanel } from './transfer-panel';

@Component({
  imports: [Beside, Grid, RouterLink, StoresNav, TransferPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Transfers</h1>
    <t-stores-nav />
    <t-beside>
      <t-grid
        list
        name="transfers"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['transfer']"
        emptyWords="No transfer here. Ask another warehouse for what it has."
        (pointed)="beside.point(+$event.id)"
      >
        @if (rights().has('stores.adjust')) {
          <a tool class="act first small" routerLink="/stores/transfers/new">Ask for a transfer</a>
        }
      </t-grid>
      <div record>
        @if (beside.chosen() !== 0) {
          <t-transfer-panel [id]="beside.chosen()" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: grid; grid-template-rows: auto 1fr; height: 100%; } t-beside { min-height: 0; }',
})
export class TransfersPage {
  /** The transfer that the address names. */
  readonly id = input<string>();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.stores.listTransfers;
  protected readonly beside = namedOrPointed(this.id);
  protected readonly views: readonly GridView[] = [
    { key: 'open', title: 'Under way', filter: { state: { op: 'among', value: ['requested', 'shipped', 'partReceived'] } } },
    { key: 'all', title: 'All', filter: {} },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Transfer', kind: 'code', width: 90 },
    { field: 'from', title: 'From', kind: 'text', width: 84 },
    { field: 'to', title: 'To', kind: 'text', width: 84 },
    { field: 'state', title: 'State', kind: 'state' },
    { field: 'shipDate', title: 'Ships', kind: 'date', width: 76 },
    { field: 'dueDate', title: 'Due', kind: 'date', width: 76 },
    { field: 'lines', title: 'Lines', kind: 'count', width: 64 },
    { field: 'carrier', title: 'By', kind: 'text', hidden: true },
  ];
}
