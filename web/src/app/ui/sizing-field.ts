/** Fields that say how orders of an item are sized: the way, and the figures that it goes by. */
import { ChangeDetectionStrategy, Component, computed, forwardRef, inject, input, model } from '@angular/core';
import { NG_VALUE_ACCESSOR } from '@angular/forms';
import type { LotSizing } from '@terrace/core';
import { NumberField } from './fields';
import { FormField } from './form-field';
import { grouped } from './format';
import { Labelled } from './labelled';
import { CompanyCurrency } from './money';
import { SelectField, SelectOption } from './select-field';

const SIZINGS: readonly { readonly kind: LotSizing['kind']; readonly name: string; readonly start: LotSizing }[] = [
  { kind: 'lotForLot', name: 'lot-for-lot', start: { kind: 'lotForLot' } },
  { kind: 'fixed', name: 'fixed order quantity', start: { kind: 'fixed', quantity: '1' } },
  { kind: 'period', name: 'period of supply', start: { kind: 'period', days: 5 } },
  { kind: 'reorderPoint', name: 'reorder point', start: { kind: 'reorderPoint', point: '0', quantity: '1' } },
  { kind: 'minMax', name: 'minimum and maximum level', start: { kind: 'minMax', min: '0', max: '1' } },
  { kind: 'leastCost', name: 'least total cost', start: { kind: 'leastCost', orderCost: '0', holdingPerUnitDay: '0' } },
];
/** Those that end with a comma are amounts: the currency stands behind. */
const FIGURES: Readonly<Record<string, string>> = {
  quantity: 'Order quantity',
  days: 'Working days of supply',
  point: 'Reorder point',
  min: 'Minimum level',
  max: 'Maximum level',
  orderCost: 'Order cost,',
  holdingPerUnitDay: 'Holding cost of one a day,',
};

/** How orders are sized, in a few words; empty for lot-for-lot. */
export function sizingWords(sizing: LotSizing): string {
  switch (sizing.kind) {
    case 'lotForLot':
      return '';
    case 'fixed':
      return `${grouped(sizing.quantity)} each time`;
    case 'period':
      return `${sizing.days} days of supply`;
    case 'reorderPoint':
      return `${grouped(sizing.quantity)} below ${grouped(sizing.point)}`;
    case 'minMax':
      return `up to ${grouped(sizing.max)} below ${grouped(sizing.min)}`;
    case 'leastCost':
      return 'least total cost';
  }
}

@Component({
  selector: 't-sizing',
  imports: [SelectField, SelectOption, NumberField, Labelled],
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => SizingField), multi: true }],
  host: { '(focusout)': 'left()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-field name="Lot sizing">
      <t-select [value]="value().kind" (valueChange)="choose($event)">
        @for (each of sizings; track each.kind) {
          <t-option [value]="each.kind" label="{{ each.name }}" />
        }
      </t-select>
    </t-field>
    @for (each of figures(); track each.key) {
      <t-field [name]="each.name" [refused]="refused()">
        <t-number [label]="each.name" [value]="each.value" (valueChange)="set(each.key, $event)" />
      </t-field>
    }
  `,
  styles: ':host { display: contents; }',
})
export class SizingField extends FormField<LotSizing> {
  private readonly currency = inject(CompanyCurrency);
  readonly value = model<LotSizing>({ kind: 'lotForLot' });
  readonly refused = input<string | undefined>();
  protected readonly sizings = SIZINGS;
  protected readonly figures = computed(() =>
    Object.entries(this.value())
      .filter(([key]) => key !== 'kind')
      .map(([key, value]) => ({ key, name: this.named(key), value: String(value) })),
  );

  private named(key: string): string {
    const name = FIGURES[key] ?? key;
    return name.endsWith(',') ? this.currency.behind(name) : name;
  }

  protected choose(kind: string): void {
    const sizing = SIZINGS.find((each) => each.kind === kind);
    if (sizing) this.put(sizing.start);
  }

  protected set(key: string, value: string): void {
    this.put({ ...this.value(), [key]: key === 'days' ? Number(value) || 1 : value });
  }

  private put(sizing: LotSizing): void {
    this.changed(sizing);
    this.value.set(sizing);
  }

  writeValue(value: LotSizing | null): void {
    this.value.set(value ?? { kind: 'lotForLot' });
  }
}
