/** One of a few, all of them shown side by side: a way to look at something, a kind, a period. */
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { NzRadioModule } from 'ng-zorro-antd/radio';

export interface OneOf<T extends string | number = string> {
  readonly value: T;
  readonly words: string;
  /** Made by the person: told apart by its type. */
  readonly own?: boolean;
}

let groups = 0;

@Component({
  selector: 't-one-of',
  imports: [FormsModule, NzRadioModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nz-radio-group
      role="radiogroup"
      [attr.aria-label]="label()"
      [nzName]="name"
      [ngModel]="value()"
      [ngModelOptions]="{ standalone: true }"
      (ngModelChange)="chosen.emit($event)"
    >
      @for (each of all(); track each.value) {
        <label nz-radio-button [nzValue]="each.value" [class.own]="each.own">{{ each.words }}</label>
      }
    </nz-radio-group>
  `,
  // What is looked at is nothing that the page would have to keep.
  host: { '(input)': '$event.stopPropagation()' },
  styles: ':host { display: inline-block; max-width: 100%; } .own { font-style: italic; }',
})
export class OneOfField<T extends string | number = string> {
  /** What can be chosen, as words or with a value of their own. */
  readonly options = input.required<readonly (OneOf<T> | T)[]>();
  readonly value = input.required<T | ''>();
  /** What is chosen by it, read out. */
  readonly label = input.required<string>();
  readonly chosen = output<T>();
  protected readonly name = `one-of-${(groups += 1)}`;
  protected readonly all = computed(() =>
    this.options().map((each): OneOf<T> => (typeof each === 'object' ? each : { value: each, words: String(each) })),
  );
}
