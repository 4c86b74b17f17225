/** A field that chooses from a short list by code or words, without the mouse. */
import { OverlayModule } from '@angular/cdk/overlay';
import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  forwardRef,
  input,
  linkedSignal,
  model,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { NzInputModule } from 'ng-zorro-antd/input';
import type { Choice } from '@terrace/contract';
import { FormField } from './form-field';
import { FoundList, FoundRow } from './found-list';

const MOST = 10;

@Component({
  selector: 't-choice',
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => ChoiceField), multi: true }],
  imports: [FoundList, FoundRow, NzInputModule, OverlayModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      cdkOverlayOrigin
      #origin="cdkOverlayOrigin"
      nz-input
      class="box"
      role="combobox"
      autocomplete="off"
      placeholder="code or words"
      [attr.aria-label]="label()"
      [attr.aria-controls]="list.shown() ? list.id : null"
      [attr.aria-expanded]="list.shown()"
      [attr.aria-activedescendant]="list.reachedId()"
      [attr.aria-invalid]="!!refused() || bad()"
      [value]="text()"
      (input)="type(box.value)"
      (keydown)="key($event)"
      (focus)="box.select()"
      (blur)="leave()"
    />
    @if (refused(); as wrong) {
      <span class="wrong">{{ wrong }}</span>
    }
    <t-found-list #list [found]="found()" [open]="open()" [origin]="origin" [label]="label()" (taken)="take($event)">
      <ng-template tFound [of]="found()" let-each
        ><span class="code">{{ each.code }}</span> {{ each.name }}</ng-template
      >
    </t-found-list>
  `,
  styles: `
    :host {
      display: grid;
    }
    .wrong {
      color: var(--trouble);
      font-size: 12px;
    }
    .code {
      display: inline-block;
      min-width: 84px;
    }
  `,
})
export class ChoiceField extends FormField<number> {
  readonly value = model(0);
  readonly choices = input.required<readonly Choice[]>();
  readonly label = input.required<string>();
  readonly refused = input<string | undefined>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly open = signal(false);
  private readonly list = viewChild.required<FoundList<Choice>>('list');
  private readonly current = linkedSignal(() => this.value());
  private readonly chosen = computed(() => this.choices().find((each) => each.id === this.current()));
  protected readonly text = linkedSignal(() => this.chosen()?.name ?? '');
  protected readonly found = computed(() => {
    const words = this.text().toLowerCase().split(/\s+/).filter(Boolean);
    return this.choices()
      .filter((each) => words.every((word) => `${each.code} ${each.name}`.toLowerCase().includes(word)))
      .slice(0, MOST);
  });

  /** What was typed and gone on from before there was anything to choose from: it is taken when there is. */
  private readonly awaiting = signal('');

  constructor() {
    super();
    effect(() => {
      if (this.awaiting() === '' || this.choices().length === 0) return;
      untracked(() => {
        this.awaiting.set('');
        const [each] = this.found();
        if (each) this.take(each);
        else this.text.set(this.chosen()?.name ?? '');
      });
    });
  }

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected type(text: string): void {
    this.text.set(text);
    this.awaiting.set('');
    this.open.set(true);
  }

  protected key(event: KeyboardEvent): void {
    if (this.list().move(event)) return;
    if (event.key === 'ArrowDown') this.open.set(true);
    else if (event.key === 'Escape' && this.open()) {
      this.open.set(false);
      event.stopPropagation();
    } else if ((event.key === 'Enter' || event.key === 'Tab') && this.open()) {
      const each = this.list().reached(this.found());
      if (each) this.take(each);
      else if (this.choices().length === 0) this.awaiting.set(this.text());
      return;
    } else return;
    event.preventDefault();
  }

  protected take(each: Choice): void {
    this.current.set(each.id);
    this.changed(each.id);
    this.value.set(each.id);
    this.text.set(each.name);
    this.open.set(false);
  }

  writeValue(value: number | null): void {
    this.current.set(value ?? 0);
  }

  protected leave(): void {
    this.left();
    this.open.set(false);
    if (this.awaiting() === '') this.text.set(this.chosen()?.name ?? '');
  }
}
