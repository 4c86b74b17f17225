/** What a line of an order says beyond item, quantity and price: it stands beneath the line that it is of. */
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { CheckField } from './check-field';
import { DateField, NumberField } from './fields';
import { Control, type FieldTree } from './forms';
import { Labelled } from './labelled';
import type { EntryLine } from './entry-line';
import { ShipTo, type Address } from './ship-to';
import { TextField } from './text-field';

@Component({
  selector: 't-line-more',
  imports: [CheckField, Control, DateField, Labelled, NumberField, ShipTo, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="fields">
      <t-field name="Of which free of charge">
        <t-number [formField]="form().free" [label]="'Free of charge of line ' + number()" [refused]="refused()[at('free')]" />
      </t-field>
      <t-field name="Wanted on" hint="empty: with the order">
        <t-date [formField]="form().date" [label]="'Day of line ' + number()" [refused]="refused()[at('requiredDate')]" />
      </t-field>
      <t-field name="Carrier" hint="empty: as the order"><t-text [formField]="form().carrier" /></t-field>
      <t-ship-to name="Goes to" none="as the order" [addresses]="addresses()" [value]="form().shipTo().value()" (valueChange)="shipTo.emit($event)" />
      <t-field class="wide" name="Note, printed"><t-text [formField]="form().note" /></t-field>
      <t-check [formField]="form().direct">The supplier ships it</t-check>
    </div>
  `,
  styles: `
    .fields {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
      gap: 8px 12px;
      padding: 4px 0 8px;
    }
    .fields .wide {
      grid-column: span 2;
    }
    .fields t-check {
      align-self: end;
    }
  `,
})
export class LineMore {
  readonly form = input.required<FieldTree<EntryLine>>();
  /** Its place among the lines, from 1. */
  readonly number = input.required<number>();
  readonly refused = input<Readonly<Record<string, string>>>({});
  readonly addresses = input<readonly Address[]>([]);
  readonly shipTo = output<string>();

  /** Where a field of the line stands in what is sent. */
  protected at(field: string): string {
    return `lines.${this.number() - 1}.${field}`;
  }
}
