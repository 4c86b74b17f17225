import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { Attachments } from '../ui/attachments';
import { TrailPicture } from '../ui/trail';
import { ProductionPanel } from './production-panel';

@Component({
  imports: [ProductionPanel, TrailPicture, Attachments],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-production-panel [id]="id()" [wide]="true" #panel />
    <div class="page">
      <section class="pane">
        <h2>Trail</h2>
        <t-trail kind="productionOrder" [id]="id()" [version]="panel.version()" />
      </section>
      <section class="pane">
        <h2>Files</h2>
        <t-attachments kind="productionOrder" [id]="id()" />
      </section>
    </div>
  `,
})
export class ProductionPage {
  readonly id = input.required({ transform: numberAttribute });
}
