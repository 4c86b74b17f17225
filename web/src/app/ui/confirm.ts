/** Asks before something that can't be undone, with its consequences; optionally for a reason. */
import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Dialog } from './dialog';
import { TextField } from './text-field';

@Component({
  selector: 't-confirm',
  imports: [Dialog, TextField, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-dialog [heading]="heading()" (dropped)="dropped.emit()">
      <form (submit)="$event.preventDefault(); go()">
        <p>{{ consequences() }}</p>
        <ng-content />
        @if (reasonWanted()) {
          <label class="field"><span>Reason</span><t-text [value]="reason()" (valueChange)="reason.set($event)" /></label>
        }
        <div class="acts">
          <button nz-button class="act first" [disabled]="reasonWanted() && reason().trim() === ''">{{ action() }}</button><button
            nz-button
            type="button"
            class="act"
            [attr.cdkFocusInitial]="otherwise() === '' ? null : ''"
            (click)="dropped.emit()"
          >
            {{ otherwise() || 'Leave it' }}
          </button>
        </div>
      </form>
    </t-dialog>
  `,
  styles: 'form { display: grid; gap: 14px; }',
})
export class Confirm {
  readonly heading = input.required<string>();
  readonly consequences = input('');
  readonly action = input.required<string>();
  readonly reasonWanted = input(false);
  /** What not doing it is called, where it is what Enter should do; otherwise "Leave it". */
  readonly otherwise = input('');
  readonly agreed = output<string>();
  readonly dropped = output();
  protected readonly reason = signal('');

  protected go(): void {
    if (!this.reasonWanted() || this.reason().trim() !== '') this.agreed.emit(this.reason().trim());
  }
}
