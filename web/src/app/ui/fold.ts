/** A part of a screen that can be folded under its heading; with a name to keep it by, it stays as this person left it. */
import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, booleanAttribute, computed, inject, input, linkedSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import { LucideChevronRight } from '@lucide/angular';
import { NzCollapseModule } from 'ng-zorro-antd/collapse';
import { sessionActions, sessionFeature } from '../client/session.state';
import { Sections } from './sections';

@Component({
  selector: 't-fold',
  imports: [LucideChevronRight, NzCollapseModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-collapse nzGhost>
      <nz-collapse-panel
        [nzHeader]="head"
        [nzActive]="open()"
        [nzShowArrow]="false"
        (nzActiveChange)="turn($event)"
        (keydown.enter)="press($event)"
        (keydown.space)="press($event)"
      >
        @if (open()) {
          <ng-content />
        }
      </nz-collapse-panel>
    </nz-collapse>
    <ng-template #head>
      <span class="mark" [class.turned]="open()"><svg lucideChevronRight [size]="14"></svg></span>{{ heading() }}
    </ng-template>
  `,
  styles:
    ':host { display: block; min-width: 0; } .mark { display: inline-flex; vertical-align: -2px; margin-right: 4px; } .turned { rotate: 90deg; }',
})
export class Fold {
  readonly heading = input.required<string>();
  /** How it stands while nobody has said otherwise. */
  readonly unfolded = input(false, { transform: booleanAttribute });
  /** The name by which it is kept for the person, where it is. */
  readonly kept = input('');
  private readonly store = inject(Store);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly preferences = this.store.selectSignal(sessionFeature.selectPreferences);
  private readonly said = computed(() => (this.kept() === '' ? undefined : this.preferences()[`fold.${this.kept()}`]));
  protected readonly open = linkedSignal(() => {
    const said = this.said();
    return typeof said === 'boolean' ? said : this.unfolded();
  });

  constructor() {
    const leave = inject(Sections, { optional: true })?.add({ heading: this.heading, element: this.host.nativeElement, show: () => this.show() });
    if (leave) inject(DestroyRef).onDestroy(leave);
  }

  /** Opens it and brings it before the eye. */
  show(): void {
    this.turn(true);
    this.host.nativeElement.scrollIntoView({ block: 'start' });
    this.host.nativeElement.querySelector<HTMLElement>('.ant-collapse-header')?.focus({ preventScroll: true });
  }

  protected turn(open: boolean): void {
    if (open === this.open()) return;
    this.open.set(open);
    if (this.kept() !== '') this.store.dispatch(sessionActions.keepPreference({ key: `fold.${this.kept()}`, value: open }));
  }

  /** The kit's heading is a button that has no keys of its own. */
  protected press(event: Event): void {
    if (event.target !== this.host.nativeElement.querySelector('.ant-collapse-header')) return;
    event.preventDefault();
    this.turn(!this.open());
  }
}
