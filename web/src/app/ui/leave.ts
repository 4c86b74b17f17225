/** `Esc` on a screen where something is entered: back at once while nothing was typed, otherwise asks first. */
import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, inject, signal } from '@angular/core';
import { Confirm } from './confirm';
import { useKeys } from './keys';

@Component({
  selector: 't-leave',
  imports: [Confirm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (asking()) {
      <t-confirm
        heading="Go back without saving?"
        consequences="What you typed here is not saved and would be gone."
        action="Go back without saving"
        otherwise="Stay here"
        (agreed)="back()"
        (dropped)="asking.set(false)"
      />
    }
  `,
})
export class Leave {
  protected readonly asking = signal(false);
  private typed = false;

  constructor() {
    const screen = (inject(ElementRef) as ElementRef<HTMLElement>).nativeElement;
    const note = (event: Event): void => {
      if (screen.parentElement?.contains(event.target as Node)) this.typed = true;
    };
    document.addEventListener('input', note);
    inject(DestroyRef).onDestroy(() => document.removeEventListener('input', note));
    useKeys([{ key: 'Esc', words: 'Back', act: () => this.leave() }]);
  }

  private leave(): void {
    if (this.typed) this.asking.set(true);
    else this.back();
  }

  protected back(): void {
    history.back();
  }
}
