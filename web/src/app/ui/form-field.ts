/** What every field of ours is to Angular's forms; what it holds is the field's own. */
import { Directive, computed, input, signal, type Signal } from '@angular/core';
import type { ControlValueAccessor } from '@angular/forms';
import { afterPress } from './after-press';

@Directive()
export abstract class FormField<T> implements ControlValueAccessor {
  /** What a form says of it: whether something is wrong, and whether somebody has left it. */
  readonly invalid = input(false);
  readonly touched = input(false);
  /** Nobody is told while they still type. */
  protected readonly bad = computed(() => this.invalid() && this.touched());
  /** Whether the form has switched it off. */
  protected readonly off = signal(false);
  protected changed: (value: T) => void = () => undefined;
  protected left: () => void = () => undefined;

  abstract writeValue(value: T | null): void;

  registerOnChange(changed: (value: T) => void): void {
    this.changed = changed;
  }

  registerOnTouched(left: () => void): void {
    this.left = () => afterPress(left);
  }

  setDisabledState(off: boolean): void {
    this.off.set(off);
  }
}

/** A field whose text is not its value: what is typed stays as it is while the form hears what it comes to. */
@Directive()
export abstract class TypedField extends FormField<string> {
  /** What it is called, what is refused of it, and whether it is switched off. */
  readonly label = input.required<string>();
  readonly refused = input<string | undefined>();
  readonly disabled = input(false);
  /** Whether what is refused of it is said elsewhere; what can't be read is always said here. */
  readonly quiet = input(false);
  /** What is typed comes to this, or can't be read. */
  protected abstract readonly typed: Signal<{ readonly text: string } | { readonly wrong: string }>;
  protected readonly done = signal(false);
  protected readonly wrong = computed(() => {
    const typed = this.typed();
    return 'wrong' in typed ? typed.wrong : (this.refused() ?? '');
  });
  /** Nobody is told while they still type. */
  protected readonly said = computed(() => (('wrong' in this.typed() ? this.done() : !this.quiet()) ? this.wrong() : ''));
  private told: string | null = null;

  /** Shows what the form holds. */
  protected abstract show(value: string): void;

  protected tell(value: string): void {
    this.told = value;
    this.changed(value);
  }

  writeValue(value: string | null): void {
    // The form says again what it was told: that is no reason to replace what is typed.
    if (value !== this.told) this.show(value ?? '');
    this.told = null;
  }
}
