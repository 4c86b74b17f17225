/** An item's page: what it is, and every stock move of it. */
import { ChangeDetectionStrategy, Component, computed, input, numberAttribute } from '@angular/core';
import { api } from '@terrace/contract';
import { Attachments } from '../ui/attachments';
import { Grid } from '../ui/grid';
import { MOVE_COLUMNS } from '../ui/move-columns';
import { TrailPicture } from '../ui/trail';
import { ItemPanel } from './item-panel';

@Component({
  imports: [ItemPanel, Grid, Attachments, TrailPicture],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-item-panel [id]="id()" [wide]="true" #panel />
    <div class="page">
      <section class="pane">
        <h2>Stock moves</h2>
        <div class="moves">
          <t-grid
            name="item-moves"
            [route]="route"
            [query]="query()"
            [columns]="columns"
            [topics]="['stock']"
            emptyWords="Nothing of it has moved yet."
          />
        </div>
      </section>
      <section class="pane"><t-attachments kind="item" [id]="id()" /></section>
      <section class="pane"><t-trail kind="item" [id]="id()" [version]="panel.version()" /></section>
    </div>
  `,
  styles: '.moves { height: 420px; }',
})
export class ItemPage {
  readonly id = input.required({ transform: numberAttribute });
  protected readonly route = api.stores.moves;
  protected readonly columns = MOVE_COLUMNS.filter((column) => column.field !== 'code');
  protected readonly query = computed(() => ({ item: this.id() }));
}
