import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { TrailPicture } from '../ui/trail';
import { InvoicePanel } from './invoice-panel';

@Component({
  imports: [InvoicePanel, TrailPicture],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-invoice-panel [id]="id()" #panel />
    <div class="page">
      <section class="pane">
        <h2>Trail</h2>
        <t-trail kind="invoice" [id]="id()" [version]="panel.version()" />
      </section>
    </div>
  `,
})
export class InvoicePage {
  readonly id = input.required({ transform: numberAttribute });
}
