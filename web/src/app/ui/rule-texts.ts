/** Planning defaults, figure by figure as typed text, with what holds from further up beside. */
import { ChangeDetectionStrategy, Component, forwardRef, input, signal } from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import { demandModes } from '@terrace/contract';
import { RULE_FIELDS, type RuleField, type RuleOrigin, type RuleTexts } from '@terrace/core';
import { FormField } from './form-field';
import { Labelled } from './labelled';
import { SelectField, SelectOption } from './select-field';
import { TextField } from './text-field';

export const RULE_NAMES: Readonly<Record<RuleField, string>> = {
  leadDays: 'Lead time, days',
  safety: 'Safety stock',
  sizing: 'Lot sizing',
  minimum: 'Minimum order',
  multiple: 'Order multiple',
  maximum: 'Maximum order',
  usable: 'Yield',
  fenceDays: 'Time fence, working days',
  slackDays: 'Slack before re-dating, days',
  demand: 'Demand counted',
  consumeBack: 'Forecast consumed back, days',
  consumeForward: 'Forecast consumed ahead, days',
};
const EXAMPLES: Readonly<Partial<Record<RuleField, string>>> = {
  safety: '40; 10 days; 95 % served',
  sizing: 'lot-for-lot; 200 each time; 5 days; 50 below 20; up to 100 below 20',
  maximum: 'any; 500',
  usable: '0.97',
};
export const DEMAND_WORDS: Readonly<Record<(typeof demandModes)[number], string>> = {
  orders: 'orders',
  forecast: 'the forecast',
  both: 'orders and forecast in full',
  consume: 'orders, and the forecast that they leave',
};

/** Where a figure is from, in a few words. */
export function originWords({ from, name }: RuleOrigin): string {
  return from === 'plain' ? 'built-in default' : `from ${from === 'item' ? 'the item' : `group ${name}`}`;
}

/** A figure as it is read: what is counted by its name in words. */
export function ruleTextWords(field: RuleField, text: string): string {
  return field === 'demand' ? (DEMAND_WORDS[demandModes.find((each) => each === text) ?? 'orders'] ?? text) : text;
}

@Component({
  selector: 't-rule-texts',
  imports: [SelectField, SelectOption, TextField, Labelled],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => RuleTextsForm), multi: true }],
  host: { '(focusout)': 'left()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="given">
      @for (field of all; track field) {
        <t-field [name]="names[field]" [refused]="refused()['planning.' + field]">
          @if (field === 'demand') {
            <t-select [value]="texts()[field]" [label]="names[field]" (valueChange)="type(field, $event)">
              <t-option value="" label="" />
              @for (each of demands; track each) {
                <t-option [value]="each" label="{{ words(field, each) }}" />
              }
            </t-select>
          } @else {
            <t-text
              maxlength="100"
              [label]="names[field]"
              [placeholder]="examples[field] ?? ''"
              [value]="texts()[field] ?? ''"
              (valueChange)="type(field, $event)"
            />
          }
        </t-field>
        <div class="origin">
          @if (texts()[field] !== undefined) {
            its own
          } @else if (above()[field]; as origin) {
            <span [class.from]="origin.from !== 'plain'">{{ words(field, origin.value) }} {{ from(origin) }}</span>
          }
        </div>
      }
    </div>
  `,
  styleUrl: '../catalogue/item-edit.page.less',
})
export class RuleTextsForm extends FormField<RuleTexts> {
  protected readonly texts = signal<RuleTexts>({});
  /** What holds where nothing is typed. */
  readonly above = input.required<Readonly<Partial<Record<RuleField, RuleOrigin>>>>();
  readonly refused = input<Readonly<Record<string, string>>>({});
  protected readonly all = RULE_FIELDS;
  protected readonly names = RULE_NAMES;
  protected readonly examples = EXAMPLES;
  protected readonly demands = demandModes;
  protected readonly from = originWords;
  protected readonly words = ruleTextWords;

  protected type(field: RuleField, text: string): void {
    const { [field]: _dropped, ...rest } = this.texts();
    this.texts.set(text.trim() === '' ? rest : { ...rest, [field]: text });
    this.changed(this.texts());
  }

  writeValue(value: RuleTexts | null): void {
    this.texts.set(value ?? {});
  }
}
