import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { Attachments } from '../ui/attachments';
import { TrailPicture } from '../ui/trail';
import { OrderPanel } from './order-panel';

@Component({
  imports: [OrderPanel, TrailPicture, Attachments],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-order-panel [id]="id()" [wide]="true" #panel />
    <div class="page">
      <section class="pane">
        <h2>Trail</h2>
        <t-trail kind="customerOrder" [id]="id()" [version]="panel.version()" />
      </section>
      <section class="pane">
        <h2>Files</h2>
        <t-attachments kind="customerOrder" [id]="id()" />
      </section>
    </div>
  `,
})
export class OrderPage {
  readonly id = input.required({ transform: numberAttribute });
}
