/** A field that chooses from a short list by code or words, without the mouse. */
import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, model, signal, viewChild } from '@angular/core';
import { NzInputModule } from 'ng-zorro-antd/input';
import type { Choice } from '@terrace/contract';

const MOST = 10;

@Component({
  selector: 't-choice',
  imports: [NzInputModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      nz-input
      class="box"
      role="combobox"
      autocomplete="off"
      placeholder="code or words"
      [attr.aria-label]="label()"
      aria-controls="choices"
      [attr.aria-expanded]="open()"
      [attr.aria-invalid]="!!refused()"
      [value]="text()"
      (input)="type(box.value)"
      (keydown)="key($event)"
      (focus)="box.select()"
      (blur)="leave()"
    />
    @if (refused(); as wrong) {
      <span class="wrong">{{ wrong }}</span>
    }
    @if (open() && found().length > 0) {
      <ul id="choices" role="listbox" [attr.aria-label]="label()">
        @for (each of found(); track each.id; let index = $index) {
          <li role="option" [attr.aria-selected]="index === at()" [class.at]="index === at()" (mousedown)="$event.preventDefault(); take(each)">
            <span class="code">{{ each.code }}</span> {{ each.name }}
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: grid;
    }
    .wrong {
      color: var(--trouble);
      font-size: 12px;
    }
    ul {
      position: absolute;
      z-index: 30;
      top: 31px;
      left: 0;
      min-width: 100%;
      margin: 0;
      padding: 2px;
      list-style: none;
      background: var(--surface);
      border: 1px solid var(--line-strong);
      box-shadow: 0 4px 14px rgb(0 0 0 / 0.18);
    }
    li {
      padding: 4px 8px;
      cursor: pointer;
      font-size: 13px;
      white-space: nowrap;
      .code {
        display: inline-block;
        min-width: 84px;
      }
    }
    li.at {
      background: var(--chosen);
    }
  `,
})
export class ChoiceField {
  readonly value = model.required<number>();
  readonly choices = input.required<readonly Choice[]>();
  readonly label = input.required<string>();
  readonly refused = input<string | undefined>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly open = signal(false);
  protected readonly at = signal(0);
  private readonly chosen = computed(() => this.choices().find((each) => each.id === this.value()));
  protected readonly text = linkedSignal(() => this.chosen()?.name ?? '');
  protected readonly found = computed(() => {
    const words = this.text().toLowerCase().split(/\s+/).filter(Boolean);
    return this.choices()
      .filter((each) => words.every((word) => `${each.code} ${each.name}`.toLowerCase().includes(word)))
      .slice(0, MOST);
  });

  focus(): void {
    this.box().nativeElement.focus();
  }

  protected type(text: string): void {
    this.text.set(text);
    this.open.set(true);
    this.at.set(0);
  }

  protected key(event: KeyboardEvent): void {
    const count = this.found().length;
    if (event.key === 'ArrowDown') {
      if (this.open()) this.at.update((at) => (at + 1) % Math.max(1, count));
      else this.open.set(true);
    } else if (event.key === 'ArrowUp' && this.open()) this.at.update((at) => (at + count - 1) % Math.max(1, count));
    else if (event.key === 'Escape' && this.open()) {
      this.open.set(false);
      event.stopPropagation();
    } else if ((event.key === 'Enter' || event.key === 'Tab') && this.open()) {
      const each = this.found()[this.at()];
      if (each) this.take(each);
      return;
    } else return;
    event.preventDefault();
  }

  protected take(each: Choice): void {
    this.value.set(each.id);
    this.text.set(each.name);
    this.open.set(false);
  }

  protected leave(): void {
    this.open.set(false);
    this.text.set(this.chosen()?.name ?? '');
  }
}
