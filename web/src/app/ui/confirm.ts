/** Asks before something that can't be undone, with its consequences; optionally for a reason. */
import { A11yModule } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { DestroyRef } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Keys } from './keys';
import { TextField } from './text-field';

@Component({
  selector: 't-confirm',
  imports: [TextField, NzButtonModule, A11yModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="veil" (click)="dropped.emit()"></div>
    <section role="dialog" aria-modal="true" [attr.aria-label]="heading()" cdkTrapFocus cdkTrapFocusAutoCapture>
      <form (submit)="$event.preventDefault(); go()">
        <h2>{{ heading() }}</h2>
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
    </section>
  `,
  styles: `
    .veil {
      position: fixed;
      inset: 0;
      z-index: 60;
      background: rgb(20 28 24 / 0.4);
    }
    section {
      position: fixed;
      z-index: 61;
      top: 18vh;
      left: 50%;
      translate: -50%;
      width: min(560px, 92vw);
      max-height: 70vh;
      overflow: auto;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      padding: 18px 20px;
    }
    form {
      display: grid;
      gap: 14px;
    }
  `,
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

  constructor() {
    inject(Keys).addAlone([{ key: 'Esc', words: 'Back', act: () => this.dropped.emit() }], inject(DestroyRef));
  }

  protected go(): void {
    if (!this.reasonWanted() || this.reason().trim() !== '') this.agreed.emit(this.reason().trim());
  }
}
