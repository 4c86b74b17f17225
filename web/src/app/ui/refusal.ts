/** What was refused, where it belongs: what, which, what now. */
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Problem } from '../client/api-client';
import { MissingRate, rateMissing } from './missing-rate';
import { Note } from './note';

@Component({
  selector: 't-refusal',
  styles: ':host:not(:has(t-note)) { display: none; }',
  imports: [MissingRate, Note, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem(); as refused) {
      <t-note role="alert">
        <span>{{ refused.message }}</span>
        @if (refused.code === 'staleVersion') {
          <button nz-button type="button" class="act small" (click)="again.emit()">Load it again</button>
        }
        @if (rate(); as missing) {
          <t-missing-rate [missing]="missing" />
        }
      </t-note>
    }
  `,
})
export class Refused {
  readonly problem = input.required<Problem | null>();
  readonly again = output();
  protected readonly rate = computed(() => rateMissing(this.problem()));
}
