/** An item's page: what it is, and every stock move of it. */
import { ChangeDetectionStrategy, Component, computed, input, numberAttribute } from '@angular/core';
import { api } from '@terrace/contract';
import { Attachments } from '../ui/attachments';
import { Grid } from '../ui/grid';
import { MOVE_COLUMNS } from '../ui/move-columns';
import { Sections } from '../ui/sections';
import { TrailPicture } from '../ui/trail';
import { ItemPanel } from './item-panel';
import { Fold } from '../ui/fold';

@Component({
  imports: [Fold, ItemPanel, Grid, Attachments, TrailPicture],
  providers: [Sections],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-item-panel [id]="id()" [wide]="true" #panel />
    <div class="page">
      <t-fold class="pane" heading="Stock moves" kept="item.moves" unfolded>
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
      </t-fold>
      <t-fold class="pane" heading="Files" kept="item.files" unfolded><t-attachments kind="item" [id]="id()" /></t-fold>
      <t-fold class="pane" heading="Trail" kept="item.trail" unfolded><t-trail kind="item" [id]="id()" [version]="panel.version()" /></t-fold>
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
