/** What every field of ours is to Angular's forms; what it holds is the field's own. */
import { Directive, signal } from '@angular/core';
import type { ControlValueAccessor } from '@angular/forms';

@Directive()
export abstract class FormField<T> implements ControlValueAccessor {
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
