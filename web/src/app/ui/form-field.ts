/** What every field of ours is to Angular's forms; what it holds is the field's own. */
import { Directive, computed, input, signal } from '@angular/core';
import type { ControlValueAccessor } from '@angular/forms';

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
    this.left = left;
  }

  setDisabledState(off: boolean): void {
    this.off.set(off);
  }
}

/** A field whose text is not its value: what is typed stays as it is while the form hears what it comes to. */
@Directive()
export abstract class TypedField extends FormField<string> {
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
