/** Something said across a screen: what is in the way, or quietly what is so; what can be done about it stands behind. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { NzAlertModule } from 'ng-zorro-antd/alert';

@Component({
  selector: 't-note',
  imports: [NzAlertModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-alert [nzType]="kind() === 'calm' ? 'info' : 'error'" [nzMessage]="inside" nzNoAnimation />
    <ng-template #inside><ng-content /></ng-template>
  `,
  styles: ':host { display: block; min-width: 0; }',
})
export class Note {
  readonly kind = input<'trouble' | 'calm'>('trouble');
}
