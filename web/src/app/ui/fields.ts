/** Fields for numbers and dates that accept what people type. */
import { OverlayModule } from '@angular/cdk/overlay';
import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  forwardRef,
  inject,
  input,
  linkedSignal,
  model,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { LucideCalendarDays } from '@lucide/angular';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { NzInputModule } from 'ng-zorro-antd/input';
import { Store } from '@ngrx/store';
import { sessionFeature } from '../client/session.state';
import { afterPress } from './after-press';
import { TypedField } from './form-field';
import { longDay } from './format';
import { MonthCalendar, reachedBy } from './month-calendar';
import { readTypedDate, readTypedNumber, shownFigure, type Pack } from './number-and-date-input';

@Component({
  selector: 't-number',
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => NumberField), multi: true }],
  imports: [NzInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      nz-input
      class="box figure"
      inputmode="decimal"
      autocomplete="off"
      [attr.aria-label]="label()"
      [attr.aria-invalid]="wrong() !== '' || bad()"
      [disabled]="disabled() || off()"
      [value]="shown()"
      (input)="type(box.value)"
      (blur)="settle()"
      (keydown.enter)="settle()"
      (focus)="box.select()"
    />
    @if (said() !== '') {
      <span class="wrong">{{ said() }}</span>
    }
  `,
  styles:
    ':host { display: grid; grid-template-columns: minmax(0, 1fr); gap: 2px; } .wrong { color: var(--trouble); font-size: 12px; white-space: normal; }',
})
export class NumberField extends TypedField {
  readonly value = model('');
  readonly packs = input<readonly Pack[]>([]);
  readonly settled = output<string>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly shown = linkedSignal(() => shownFigure(this.value()));
  protected readonly typed = computed(() => readTypedNumber(this.shown(), this.packs()));

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected show(value: string): void {
    this.shown.set(shownFigure(value));
  }

  protected type(text: string): void {
    this.done.set(false);
    this.shown.set(text);
    const typed = this.typed();
    const value = 'text' in typed ? typed.text : text;
    this.tell(value);
    this.value.set(value);
    this.shown.set(text);
  }

  protected settle(): void {
    afterPress(() => this.done.set(true));
    this.left();
    const typed = this.typed();
    if ('text' in typed) {
      this.shown.set(shownFigure(typed.text));
      this.settled.emit(typed.text);
    }
  }
}

@Component({
  selector: 't-date',
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => DateField), multi: true }],
  imports: [LucideCalendarDays, MonthCalendar, NzButtonModule, NzInputModule, OverlayModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="typed" cdkOverlayOrigin #origin="cdkOverlayOrigin">
      <input
        #box
        nz-input
        class="box"
        autocomplete="off"
        placeholder="fri, +5, wk 14"
        [attr.aria-label]="label()"
        [attr.aria-description]="day() || null"
        [attr.aria-invalid]="wrong() !== '' || bad()"
        [disabled]="disabled() || off()"
        [value]="shown()"
        (input)="type(box.value)"
        (blur)="settle()"
        (keydown)="key($event)"
        (focus)="box.select()"
      />
      <button
        nz-button
        type="button"
        class="act plain"
        tabindex="-1"
        aria-label="Calendar"
        [attr.aria-expanded]="picking() !== null"
        [disabled]="disabled() || off()"
        (mousedown)="$event.preventDefault()"
        (click)="open(); box.focus()"
      >
        <svg lucideCalendarDays [size]="15"></svg>
      </button>
    </span>
    <ng-template
      cdkConnectedOverlay
      [cdkConnectedOverlayOrigin]="origin"
      [cdkConnectedOverlayOpen]="picking() !== null"
      [cdkConnectedOverlayDisableClose]="true"
      (overlayOutsideClick)="close($event)"
    >
      <t-month-calendar [day]="picking() ?? ''" [today]="today()" (turned)="picking.set($event)" (taken)="take($event)" />
    </ng-template>
    @if (said() !== '') {
      <span class="wrong">{{ said() }}</span>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 2px;
    }
    .typed {
      position: relative;
      display: block;
    }
    input.box {
      padding-right: 28px;
    }
    button.act.plain {
      position: absolute;
      top: 1px;
      right: 1px;
      width: 26px;
      height: 28px;
      padding: 0;
      justify-content: center;
      color: var(--quiet);
    }
    @media (max-width: 720px) {
      button.act.plain {
        width: 44px;
        height: 46px;
        min-height: 0;
      }
    }
    .wrong {
      color: var(--trouble);
      font-size: 12px;
      white-space: normal;
    }
  `,
})
export class DateField extends TypedField {
  readonly value = model('');
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly today = toSignal(inject(Store).select(sessionFeature.selectToday), { initialValue: '' });
  protected readonly shown = linkedSignal(() => this.value());
  protected readonly typed = computed(() => readTypedDate(this.shown(), this.today()));
  protected readonly day = computed(() => {
    const typed = this.typed();
    return 'text' in typed ? longDay(typed.text) : '';
  });

  /** The day that the calendar stands at, while it is open. */
  protected readonly picking = signal<string | null>(null);

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected show(value: string): void {
    this.shown.set(value);
  }

  protected type(text: string): void {
    this.done.set(false);
    this.shown.set(text);
    // The form hears of a day as soon as it is one, so that nothing moves when the field is left.
    const typed = this.typed();
    if ('text' in typed) this.tell(typed.text);
  }

  protected settle(): void {
    afterPress(() => this.done.set(true));
    const typed = this.typed();
    const text = 'text' in typed ? typed.text : this.shown();
    this.tell(text);
    this.value.set(text);
    this.left();
    this.shown.set(text);
  }

  protected open(): void {
    const typed = this.typed();
    const day = 'text' in typed ? typed.text : '';
    this.picking.update((picking) => (picking === null ? day || this.today() : null));
  }

  protected take(day: string): void {
    this.picking.set(null);
    this.shown.set(day);
    this.settle();
    const box = this.box().nativeElement;
    box.focus();
    // As any field does when somebody changes it.
    box.dispatchEvent(new Event('change', { bubbles: true }));
  }

  protected close(event: Event): void {
    if (!this.box().nativeElement.parentElement?.contains(event.target as Node)) this.picking.set(null);
  }

  /** While the calendar is open the arrows lead through it; Alt and ↓ open it. */
  protected key(event: KeyboardEvent): void {
    const day = this.picking();
    if (day === null) {
      if (event.key === 'Enter') this.settle();
      else if (event.key === 'ArrowDown' && event.altKey) {
        event.preventDefault();
        this.open();
      }
      return;
    }
    const to = reachedBy(event.key, day);
    if (to !== null) this.picking.set(to);
    else if (event.key === 'Enter') this.take(day);
    else if (event.key === 'Escape') this.picking.set(null);
    else {
      if (event.key === 'Tab' || event.key.length === 1) this.picking.set(null);
      return;
    }
    event.preventDefault();
    event.stopPropagation();
  }
}
