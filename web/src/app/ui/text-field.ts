/** Texts that people type: one line, or several. */
import {
  ChangeDetectionStrategy,
  Component,
  Directive,
  booleanAttribute,
  forwardRef,
  input,
  model,
  numberAttribute,
  output,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { NzInputModule } from 'ng-zorro-antd/input';
import { FormField } from './form-field';

/** What all fields for texts have: their value for templates and for Angular's forms. */
// What is written on the tag is the field's, not the tag's own.
@Directive({ host: { '[attr.placeholder]': 'null', '[attr.name]': 'null', '[attr.role]': 'null' } })
abstract class Typed extends FormField<string> {
  readonly value = model('');
  /** What it is called where no label stands beside it. */
  readonly label = input('');
  readonly placeholder = input('');
  readonly disabled = input(false, { transform: booleanAttribute });
  readonly refused = input(false, { transform: booleanAttribute });
  readonly maxlength = input<number | string>();
  /** What is in it when somebody leaves it, where they changed it. */
  readonly settled = output<string>();

  protected abstract field(): ElementRef<HTMLInputElement | HTMLTextAreaElement>;

  focus(): void {
    this.field().nativeElement.focus();
  }

  /** Marks all of it, so that what is typed next takes its place. */
  select(): void {
    this.field().nativeElement.select();
  }

  /** Takes what is in it, and empties it at once: a scanner types on before anything is drawn. */
  take(): string {
    const box = this.field().nativeElement;
    const text = box.value;
    box.value = '';
    this.typed('');
    return text;
  }

  /** Leaves it, empty. */
  leave(): void {
    this.typed('');
    this.field().nativeElement.blur();
  }

  protected typed(text: string): void {
    // Whoever hears of it by the form has it before those who hear of it by the template.
    this.changed(text);
    this.value.set(text);
  }

  writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }
}

@Component({
  selector: 't-text',
  imports: [NzInputModule],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => TextField), multi: true }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      nz-input
      class="box"
      [class.code]="kind() === 'code'"
      [class.figure]="kind() === 'figure'"
      [type]="type()"
      [attr.aria-label]="label() || null"
      [attr.name]="name() || null"
      [attr.role]="role() || null"
      [attr.aria-controls]="controls() || null"
      [attr.aria-expanded]="role() === 'combobox' ? expanded() : null"
      [attr.aria-activedescendant]="reached()"
      [attr.autocomplete]="autocomplete()"
      [attr.inputmode]="kind() === 'figure' ? 'decimal' : null"
      [attr.maxlength]="maxlength() ?? null"
      [attr.aria-invalid]="refused() || bad() ? true : null"
      [placeholder]="placeholder()"
      [disabled]="disabled() || off()"
      [value]="value()"
      (input)="typed(box.value)"
      (change)="settled.emit(box.value)"
      (blur)="left()"
    />
  `,
  styles: ':host { display: block; min-width: 0; }',
})
export class TextField extends Typed {
  /** Codes and figures are set in their own type. */
  readonly kind = input<'text' | 'code' | 'figure'>('text');
  readonly type = input<'text' | 'password' | 'search' | 'date'>('text');
  readonly name = input('');
  readonly autocomplete = input('off');
  /** Where a list opens beneath it: its role, the id of the list, and whether it is open. */
  readonly role = input('');
  readonly controls = input('');
  readonly expanded = input(false);
  /** The id of what is reached in that list. */
  readonly reached = input<string | null>(null);
  protected readonly field = viewChild.required<ElementRef<HTMLInputElement>>('box');
}

@Component({
  selector: 't-area',
  imports: [NzInputModule],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => TextArea), multi: true }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <textarea
      #box
      nz-input
      class="box"
      [rows]="rows()"
      [attr.aria-label]="label() || null"
      [attr.maxlength]="maxlength() ?? null"
      [attr.aria-invalid]="refused() || bad() ? true : null"
      [placeholder]="placeholder()"
      [disabled]="disabled() || off()"
      [value]="value()"
      (input)="typed(box.value)"
      (change)="settled.emit(box.value)"
      (blur)="left()"
    ></textarea>
  `,
  styles: ':host { display: block; min-width: 0; }',
})
export class TextArea extends Typed {
  readonly rows = input(3, { transform: numberAttribute });
  protected readonly field = viewChild.required<ElementRef<HTMLTextAreaElement>>('box');
}
