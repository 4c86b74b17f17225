/** What was refused, where it belongs: what, which, what now. */
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Problem } from '../client/api-client';

@Component({
  selector: 't-refusal',
  styles: ':host:not(:has(.band)) { display: none; }',
  imports: [NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem(); as refused) {
      <div class="band" role="alert">
        <span>{{ refused.message }}</span>
        @if (refused.code === 'staleVersion') {
          <button nz-button type="button" class="act small" (click)="again.emit()">Load it again</button>
        }
      </div>
    }
  `,
})
export class Refused {
  readonly problem = input.required<Problem | null>();
  readonly again = output();
}
