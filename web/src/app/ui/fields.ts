/** Fields for numbers and dates that accept what people type. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, model, output, signal, viewChild } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NzInputModule } from 'ng-zorro-antd/input';
import { Store } from '@ngrx/store';
import { sessionFeature } from '../client/session.state';
import { longDay } from './format';
import { readTypedDate, readTypedNumber, type Pack } from './number-and-date-input';

@Component({
  selector: 't-number',
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
      [attr.aria-invalid]="wrong() !== ''"
      [title]="wrong()"
      [disabled]="disabled()"
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
export class NumberField {
  readonly value = model.required<string>();
  readonly label = input.required<string>();
  readonly packs = input<readonly Pack[]>([]);
  readonly refused = input<string | undefined>();
  readonly disabled = input(false);
  /** Whether what is refused of it is said elsewhere; what can't be read is always said here. */
  readonly quiet = input(false);
  readonly settled = output<string>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly shown = linkedSignal(() => this.value());
  private readonly left = signal(false);
  private readonly typed = computed(() => readTypedNumber(this.shown(), this.packs()));
  protected readonly wrong = computed(() => {
    const typed = this.typed();
    return 'wrong' in typed ? typed.wrong : (this.refused() ?? '');
  });
  /** Nobody is told while they still type. */
  protected readonly said = computed(() => (('wrong' in this.typed() ? this.left() : !this.quiet()) ? this.wrong() : ''));

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected type(text: string): void {
    this.left.set(false);
    this.shown.set(text);
    const typed = this.typed();
    this.value.set('text' in typed ? typed.text : text);
    this.shown.set(text);
  }

  protected settle(): void {
    this.left.set(true);
    const typed = this.typed();
    if ('text' in typed) {
      this.shown.set(typed.text);
      this.settled.emit(typed.text);
    }
  }
}

@Component({
  selector: 't-date',
  imports: [NzInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      nz-input
      class="box"
      autocomplete="off"
      placeholder="fri, +5, wk 14"
      [attr.aria-label]="label()"
      [attr.aria-invalid]="wrong() !== ''"
      [title]="wrong() || day()"
      [disabled]="disabled()"
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
export class DateField {
  readonly value = model.required<string>();
  readonly label = input.required<string>();
  readonly refused = input<string | undefined>();
  readonly disabled = input(false);
  /** Whether what is refused of it is said elsewhere; what can't be read is always said here. */
  readonly quiet = input(false);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  private readonly today = toSignal(inject(Store).select(sessionFeature.selectToday), { initialValue: '' });
  protected readonly shown = linkedSignal(() => this.value());
  private readonly left = signal(false);
  private readonly typed = computed(() => readTypedDate(this.shown(), this.today()));
  protected readonly day = computed(() => {
    const typed = this.typed();
    return 'text' in typed ? longDay(typed.text) : '';
  });
  protected readonly wrong = computed(() => {
    const typed = this.typed();
    return 'wrong' in typed ? typed.wrong : (this.refused() ?? '');
  });
  /** Nobody is told while they still type. */
  protected readonly said = computed(() => (('wrong' in this.typed() ? this.left() : !this.quiet()) ? this.wrong() : ''));

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected type(text: string): void {
    this.left.set(false);
    this.shown.set(text);
  }

  protected settle(): void {
    this.left.set(true);
    const typed = this.typed();
    const text = 'text' in typed ? typed.text : this.shown();
    this.value.set(text);
    this.shown.set(text);
  }
}
