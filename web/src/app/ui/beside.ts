/** List and beside: a list on the left, the chosen record on the right; the width between them is the user's. */
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, linkedSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import { sessionActions, sessionFeature } from '../client/session.state';
import { Tip } from './tip';

const NARROWEST = 320;
const STEP = 24;
const BAR = 7;

@Component({
  selector: 't-beside',
  imports: [Tip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="list"><ng-content select="[list]" /></div>
    <div
      class="bar"
      [class.away]="bare()"
      role="separator"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Width of the record beside"
      [attr.aria-valuenow]="room()"
      [attr.aria-valuemin]="0"
      [attr.aria-valuemax]="1200"
      (pointerdown)="grab($event)"
      (pointermove)="drag($event)"
      (pointerup)="drop($event)"
      (keydown.arrowleft)="nudge(1)"
      (keydown.arrowright)="nudge(-1)"
      (keydown.enter)="fold()"
      (dblclick)="fold()"
      tTip="Drag for the width; double-click or Enter folds the record away"
      tipPlacement="left"
    ></div>
    <div class="record" [class.away]="bare()" [style.width.px]="room()"><ng-content select="[record]" /></div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 1fr 7px auto;
      height: 100%;
      min-height: 0;
    }
    .list {
      min-width: 0;
      min-height: 0;
    }
    .bar {
      cursor: col-resize;
      background: var(--raised);
      border-inline: 1px solid var(--line);
      touch-action: none;
    }
    .away {
      display: none;
    }
    .record {
      overflow: auto;
      background: var(--paper);
      min-height: 0;
    }
    @media (max-width: 720px) {
      :host {
        grid-template-columns: 1fr;
        grid-template-rows: 45% 1fr;
      }
      .bar {
        display: none;
      }
      .record {
        width: auto !important;
        border-top: 2px solid var(--line-strong);
      }
    }
  `,
})
export class Beside {
  private readonly store = inject(Store);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly preferences = this.store.selectSignal(sessionFeature.selectPreferences);
  protected readonly width = linkedSignal(() => {
    const kept = this.preferences()['beside.width'];
    return typeof kept === 'number' ? kept : Math.round(Math.min(640, window.innerWidth * 0.36));
  });
  /** Nothing stands beside: the list has all the room. */
  readonly bare = input(false);
  /** The record has all the room but for a narrow list. */
  readonly opened = input(false);
  protected readonly folded = linkedSignal(() => this.preferences()['beside.folded'] === true);
  /** How wide the record is, in pixels. */
  protected readonly room = computed(() => {
    if (this.opened()) return Math.max(this.width(), this.host.nativeElement.clientWidth - NARROWEST - BAR);
    return this.folded() ? 0 : this.width();
  });
  private held = false;

  protected fold(): void {
    this.folded.update((folded) => !folded);
    this.store.dispatch(sessionActions.keepPreference({ key: 'beside.folded', value: this.folded() }));
  }

  protected grab(event: PointerEvent): void {
    this.held = true;
    (event.target as HTMLElement).setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    if (this.held) this.set(this.host.nativeElement.getBoundingClientRect().right - event.clientX);
  }

  protected drop(event: PointerEvent): void {
    this.held = false;
    (event.target as HTMLElement).releasePointerCapture(event.pointerId);
    this.keep();
  }

  protected nudge(steps: number): void {
    this.set(this.width() + steps * STEP);
    this.keep();
  }

  private set(width: number): void {
    if (this.folded()) this.fold();
    this.width.set(Math.max(NARROWEST, Math.min(width, window.innerWidth - NARROWEST)));
  }

  private keep(): void {
    this.store.dispatch(sessionActions.keepPreference({ key: 'beside.width', value: this.width() }));
  }
}
