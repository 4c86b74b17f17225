/**
 * Something that opens over the screen and waits for an answer: the kit's modal, named for screen readers, with the keys
 * of Terrace. While it is open, nothing behind it has keys; when it goes, what had the focus has it again.
 */
import { ChangeDetectionStrategy, Component, DestroyRef, type ElementRef, afterNextRender, inject, input, output, viewChild } from '@angular/core';
import { NzModalModule } from 'ng-zorro-antd/modal';
import { Keys } from './keys';

@Component({
  selector: 't-dialog',
  imports: [NzModalModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-modal
      nzVisible
      nzNoAnimation
      nzWrapClassName="t-dialog"
      [nzWidth]="width()"
      [nzClosable]="false"
      [nzFooter]="null"
      [nzKeyboard]="false"
      [nzCloseOnNavigation]="false"
      (nzOnCancel)="dropped.emit()"
    >
      <ng-container *nzModalContent>
        <div #inside class="inside">
          <h2>{{ heading() }}</h2>
          <ng-content />
        </div>
      </ng-container>
    </nz-modal>
  `,
  styles: '.inside { display: grid; gap: 14px; }',
})
export class Dialog {
  readonly heading = input.required<string>();
  readonly width = input('min(560px, 92vw)');
  /** Further keys that close it, besides Esc. */
  readonly closedBy = input<readonly string[]>([]);
  readonly dropped = output();
  private readonly inside = viewChild<ElementRef<HTMLElement>>('inside');

  constructor() {
    const destroyed = inject(DestroyRef);
    const before = document.activeElement;
    const keys = inject(Keys);
    afterNextRender(() => {
      const dialog = this.inside()?.nativeElement.closest('[role="dialog"]');
      dialog?.setAttribute('aria-label', this.heading());
      dialog?.setAttribute('aria-modal', 'true');
      keys.addAlone(
        ['Esc', ...this.closedBy()].map((key) => ({ key, words: 'Back', act: () => this.dropped.emit() })),
        destroyed,
      );
    });
    destroyed.onDestroy(() => queueMicrotask(() => before instanceof HTMLElement && before.isConnected && before.focus()));
  }
}
