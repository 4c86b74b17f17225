/** `Esc` on a screen where something is entered: back at once while nothing was typed, otherwise asks first, as any way off the page does (the frame asks). */
import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { Leaving, type Entry } from './forms';
import { useKeys } from './keys';
import { Note } from './note';
import { NzButtonModule } from 'ng-zorro-antd/button';

@Component({
  selector: 't-leave',
  imports: [Note, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (entry().again()) {
      <t-note kind="calm">
        <span>What you typed here before is here again; it is not saved yet.</span>
        <button nz-button type="button" class="act small" (click)="entry().drop()">Throw it away</button>
      </t-note>
    }
  `,
})
export class Leave {
  /** What is being entered on the page. */
  readonly entry = input.required<Pick<Entry<object>, 'again' | 'drop'>>();
  private readonly leaving = inject(Leaving);

  constructor() {
    useKeys([{ key: 'Esc', words: 'Back', act: () => void this.back() }]);
  }

  private async back(): Promise<void> {
    if (await this.leaving.ask()) history.back();
  }
}
