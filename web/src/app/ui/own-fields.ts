/** The fields that a company added itself, on any record that has some. */
import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import type { CustomRecord } from '@terrace/contract';
import { Choices } from '../client/choices';
import { DateField, NumberField } from './fields';
import { Labelled } from './labelled';
import { SelectField, SelectOption } from './select-field';
import { TextField } from './text-field';

@Component({
  selector: 't-own-fields',
  imports: [SelectField, SelectOption, TextField, Labelled, NumberField, DateField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (field of fields(); track field.id) {
      <t-field [name]="field.title" [refused]="refused()['custom.' + field.id]">
        @switch (field.type) {
          @case ('number') {
            <t-number [label]="field.title" [value]="values()[field.id] ?? ''" (valueChange)="set(field.id, $event)" />
          }
          @case ('date') {
            <t-date [label]="field.title" [value]="values()[field.id] ?? ''" (valueChange)="set(field.id, $event)" />
          }
          @case ('text') {
            <t-text [value]="values()[field.id] ?? ''" (valueChange)="set(field.id, $event)" />
          }
          @default {
            <t-select [value]="values()[field.id]" (valueChange)="set(field.id, $event)">
              <t-option value="" label="" />
              @for (each of field.type === 'yesNo' ? ['yes', 'no'] : field.choices; track each) {
                <t-option [value]="each" label="{{ each }}" />
              }
            </t-select>
          }
        }
      </t-field>
    }
  `,
  styles: ':host { display: contents; }',
})
export class OwnFields {
  readonly record = input.required<CustomRecord>();
  readonly values = model.required<Readonly<Record<string, string>>>();
  readonly refused = input<Readonly<Record<string, string>>>({});
  private readonly choices = inject(Choices);
  protected readonly fields = computed(() => this.choices.all().fields.filter((field) => field.record === this.record()));

  protected set(id: number, value: string): void {
    this.values.update((values) => ({ ...values, [id]: value }));
  }
}
