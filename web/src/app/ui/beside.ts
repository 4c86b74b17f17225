/** List and beside: a list on the left, the chosen record on the right; the width between them is the user's. */
import { ChangeDetectionStrategy, Component, ElementRef, inject, linkedSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import { sessionActions, sessionFeature } from '../client/session.state';

const NARROWEST = 320;
const STEP = 24;

@Component({
  selector: 't-beside',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="list"><ng-content select="[list]" /></div>
    <div
      class="bar"
      role="separator"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Width of the record beside"
      [attr.aria-valuenow]="width()"
      [attr.aria-valuemin]="320"
      [attr.aria-valuemax]="1200"
      (pointerdown)="grab($event)"
      (pointermove)="drag($event)"
      (pointerup)="drop($event)"
      (keydown.arrowleft)="nudge(1)"
      (keydown.arrowright)="nudge(-1)"
    ></div>
    <div class="record" [style.width.px]="width()"><ng-content select="[record]" /></div>
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
  private held = false;

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
    this.width.set(Math.max(NARROWEST, Math.min(width, window.innerWidth - NARROWEST)));
  }

  private keep(): void {
    this.store.dispatch(sessionActions.keepPreference({ key: 'beside.width', value: this.width() }));
  }
}
