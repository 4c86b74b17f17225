/** Says what was just done, with the way back. */
import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Undo } from './undo';

@Component({
  selector: 't-done',
  imports: [NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (undo().words(); as words) {
      <p class="good" role="status">
        {{ words }}
        @if (undo().can()) {
          <button nz-button type="button" class="act small" (click)="undo().undo()">Undo</button>
        }
      </p>
    }
  `,
  styles: 'p { margin: 0; display: flex; gap: 10px; align-items: center; }',
})
export class Done {
  readonly undo = input.required<Undo>();
}
