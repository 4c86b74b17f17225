import { ChangeDetectionStrategy, Component, input, numberAttribute } from '@angular/core';
import { TrailPicture } from '../ui/trail';
import { ShipmentPanel } from './shipment-panel';

@Component({
  imports: [ShipmentPanel, TrailPicture],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-shipment-panel [id]="id()" #panel />
    <div class="page">
      <section class="pane">
        <h2>Trail</h2>
        <t-trail kind="shipment" [id]="id()" [version]="panel.version()" />
      </section>
    </div>
  `,
})
export class ShipmentPage {
  readonly id = input.required({ transform: numberAttribute });
}
