/** Asks before something that can't be undone, with its consequences; optionally for a reason. */
import { ChangeDetectionStrategy, Component, input, output, signal, viewChild } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Dialog } from './dialog';
import { Labelled } from './labelled';
import { TextField } from './text-field';

@Component({
  selector: 't-confirm',
  imports: [Dialog, Labelled, TextField, NzButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-dialog [heading]="heading()" (dropped)="dropped.emit()">
      <form (submit)="$event.preventDefault(); go()">
        <p>{{ consequences() }}</p>
        <ng-content />
        @if (reasonWanted()) {
          <t-field name="Reason" [refused]="lacking() ? 'Say why.' : undefined"
            ><t-text #why [value]="reason()" (valueChange)="reason.set($event); lacking.set(false)"
          /></t-field>
        }
        <div class="acts">
          <button nz-button class="act first">{{ action() }}</button><button
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
  protected readonly lacking = signal(false);
  private readonly why = viewChild<TextField>('why');

  // Its button is never off for want of a reason: Enter right after the last key would find it so until the next drawing.
  protected go(): void {
    const reason = this.reason().trim();
    if (this.reasonWanted() && reason === '') {
      this.lacking.set(true);
      this.why()?.focus();
      return;
    }
    this.agreed.emit(reason);
  }
}
