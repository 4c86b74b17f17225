/** Adjustments, newest first; the chosen one beside with its slip. */
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { api } from '@terrace/contract';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { AdjustmentPanel } from './adjustment-panel';
import { namedOrPointed } from '../ui/named';
import { StoresNav } from './stores-nav';

@Component({
  imports: [Beside, Grid, RouterLink, AdjustmentPanel, StoresNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Adjustments</h1>
    <t-stores-nav />
    <t-beside>
      <t-grid
        list
        name="adjustments"
        [route]="route"
        [columns]="columns"
        [topics]="['adjustment']"
        emptyWords="Nothing has been adjusted yet."
        (pointed)="beside.point(+$event.id)"
      >
        @if (rights().has('stores.adjust')) {
          <a tool class="act first small" routerLink="/stores/adjust">Adjust stock</a>
        }
      </t-grid>
      <div record>
        @if (beside.chosen() !== 0) {
          <t-adjustment-panel [id]="beside.chosen()" />
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: grid; grid-template-rows: auto 1fr; height: 100%; } t-beside { min-height: 0; }',
})
export class AdjustmentsPage {
  readonly id = input<string>();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly route = api.stores.listAdjustments;
  protected readonly beside = namedOrPointed(this.id);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'number', title: 'Adjustment', kind: 'code', width: 104 },
    { field: 'date', title: 'Date', kind: 'date', width: 76 },
    { field: 'warehouse', title: 'In', kind: 'text', width: 78 },
    { field: 'reason', title: 'Reason', kind: 'text' },
    { field: 'items', title: 'Items', kind: 'text' },
    { field: 'value', title: 'Value', kind: 'figure', money: true, width: 116 },
    { field: 'who', title: 'Who', kind: 'text', hidden: true },
    { field: 'reversed', title: 'Taken back', kind: 'flag', width: 96, hidden: true },
  ];
}
