/** How far something has come that takes a while. */
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { NzProgressModule } from 'ng-zorro-antd/progress';

@Component({
  selector: 't-progress',
  imports: [NzProgressModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'progressbar', '[attr.aria-label]': 'label()', '[attr.aria-valuenow]': 'share()', 'aria-valuemin': '0', 'aria-valuemax': '100' },
  template: `<nz-progress [nzPercent]="share()" [nzShowInfo]="false" nzStatus="normal" nzStrokeLinecap="square" [nzStrokeWidth]="6" />`,
  styles: ':host { display: inline-block; width: 260px; max-width: 100%; }',
})
export class Progress {
  readonly done = input.required<number>();
  readonly of = input.required<number>();
  readonly label = input.required<string>();
  /** In whole hundredths. */
  protected readonly share = computed(() => (this.of() > 0 ? Math.floor((100 * this.done()) / this.of()) : 0));
}
