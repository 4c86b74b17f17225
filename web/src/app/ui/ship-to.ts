/** Where something goes: nowhere in particular, one of the addresses that are known, or one that is typed. */
import { ChangeDetectionStrategy, Component, input, linkedSignal, output } from '@angular/core';
import { Labelled } from './labelled';
import { SelectField, SelectOption } from './select-field';
import { TextArea } from './text-field';

export interface Address {
  readonly label: string;
  readonly address: string;
}

const NOWHERE = 'none';
const TYPED = 'typed';

@Component({
  selector: 't-ship-to',
  imports: [Labelled, SelectField, SelectOption, TextArea],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-field [name]="name()">
      <t-select [label]="name()" [value]="choice()" (valueChange)="choose($event)">
        <t-option [value]="NOWHERE" [label]="none()" />
        @for (each of addresses(); track $index) {
          <t-option
            [value]="$index"
            [label]="
              each.label +
              ' · ' +
              each.address.replaceAll(
                '
',
                ', '
              )
            "
          />
        }
        <t-option [value]="TYPED" label="another address …" />
      </t-select>
    </t-field>
    @if (choice() === TYPED) {
      <t-field name="Address"><t-area rows="2" [value]="value()" (valueChange)="valueChange.emit($event)" /></t-field>
    }
  `,
  styles: ':host { display: grid; gap: 6px; min-width: 0; }',
})
export class ShipTo {
  protected readonly NOWHERE = NOWHERE;
  protected readonly TYPED = TYPED;
  readonly name = input.required<string>();
  /** What nowhere in particular means. */
  readonly none = input.required<string>();
  readonly addresses = input<readonly Address[]>([]);
  readonly value = input('');
  readonly valueChange = output<string>();
  protected readonly choice = linkedSignal((): string => {
    const at = this.addresses().findIndex(({ address }) => address === this.value());
    return this.value() === '' ? NOWHERE : at < 0 ? TYPED : String(at);
  });

  protected choose(choice: string): void {
    const address = choice === NOWHERE || choice === TYPED ? '' : (this.addresses()[Number(choice)]?.address ?? '');
    this.valueChange.emit(address);
    this.choice.set(choice);
  }
}
