/** Yes or no: a box with its words behind it, or with words that are only read out. */
import { ChangeDetectionStrategy, Component, booleanAttribute, forwardRef, input, model } from '@angular/core';
import { FormsModule, NG_VALUE_ACCESSOR } from '@angular/forms';
import { NzCheckboxModule } from 'ng-zorro-antd/checkbox';
import { FormField } from './form-field';

@Component({
  selector: 't-check',
  imports: [FormsModule, NzCheckboxModule],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => CheckField), multi: true }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label
      nz-checkbox
      [ngModel]="checked()"
      [ngModelOptions]="{ standalone: true }"
      [nzDisabled]="disabled() || off()"
      (ngModelChange)="turn($event)"
    >
      @if (label() !== '') {
        <span class="sr">{{ label() }}</span>
      }
      <ng-content />
    </label>
  `,
  styles: ':host { display: inline-block; }',
})
export class CheckField extends FormField<boolean> {
  readonly checked = model(false);
  /** Read out where nothing is written behind the box. */
  readonly label = input('');
  readonly disabled = input(false, { transform: booleanAttribute });

  protected turn(checked: boolean): void {
    this.changed(checked);
    this.checked.set(checked);
    this.left();
  }

  writeValue(value: boolean | null): void {
    this.checked.set(value ?? false);
  }
}
