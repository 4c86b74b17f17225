import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { Attachments } from '../ui/attachments';
import { TrailPicture } from '../ui/trail';
import { PurchasePanel } from './purchase-panel';

@Component({
  imports: [PurchasePanel, TrailPicture, Attachments],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-purchase-panel [id]="id()" [wide]="true" #panel />
    <div class="page">
      <section class="pane">
        <h2>Trail</h2>
        <t-trail kind="purchaseOrder" [id]="id()" [version]="panel.version()" />
      </section>
      <section class="pane">
        <h2>Files</h2>
        <t-attachments kind="purchaseOrder" [id]="id()" />
      </section>
    </div>
  `,
})
export class PurchasePage {
  readonly id = input.required({ transform: numberAttribute });
}
