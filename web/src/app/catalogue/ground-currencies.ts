/** Currencies, and what each was worth from which day on. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { ShortDayPipe } from '../ui/format';
import { Control } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { byCode, rowsEntry } from '../ui/rows-entry';

type CurrencyRow = Readonly<Record<'code' | 'name' | 'rate' | 'date', string>>;

@Component({
  selector: 't-ground-currencies',
  imports: [Control, DateField, InCurrencyPipe, Labelled, NzButtonModule, NumberField, Refused, Sheet, ShortDayPipe, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-refusal [problem]="currencies.entry.problem()" />
    <t-sheet>
      <thead>
        <tr>
          <th>Currency</th>
          <th>Name</th>
          <th class="figure">{{ 'Worth in' | inCurrency }}</th>
          <th>Before</th>
          <th>New rate</th>
          <th>From</th>
          <th><span class="sr">Save</span></th>
        </tr>
      </thead>
      <tbody>
        @for (each of ground().currencies; track each.code) {
          <tr (focusin)="currencies.enter(each.code)">
            <td class="code">{{ each.code }}</td>
            <td>{{ each.name }}</td>
            <td class="figure">
              @if (each.rates[0]; as rate) {
                {{ rate.rate }} <span class="quiet">since {{ rate.date | shortDay }}</span>
              } @else {
                <span class="quiet">—</span>
              }
            </td>
            <td class="quiet">
              @for (rate of each.rates.slice(1, 4); track rate.date) {
                {{ rate.date | shortDay }}: {{ rate.rate }}&nbsp;
              }
            </td>
            @if (rights().has('catalogue.edit') && each.code !== own.code() && currencies.entry.fields.rows[each.code]; as row) {
              <td style="width: 120px">
                <t-field unseen [name]="'New rate of ' + each.code">
                  <t-number [label]="'New rate of ' + each.code" [formField]="row.rate" />
                </t-field>
              </td>
              <td style="width: 130px">
                <t-field unseen [name]="'From which day for ' + each.code">
                  <t-date [label]="'From which day for ' + each.code" [formField]="row.date" />
                </t-field>
              </td>
            } @else {
              <td></td>
              <td></td>
            }
            <td>
              @if (currencies.differs(each.code)) {
                <button nz-button type="button" class="act small first" [disabled]="currencies.entry.busy()" (click)="currencies.save(each.code)">
                  Set
                </button>
              }
            </td>
          </tr>
        }
        @if (rights().has('catalogue.edit')) {
          <tr (focusin)="currencies.enter(null)">
            <td style="width: 100px">
              <t-field unseen name="New currency"><t-text kind="code" placeholder="ABC" [formField]="currencies.entry.fields.fresh.code" /></t-field>
            </td>
            <td>
              <t-field unseen name="Name of the new currency"><t-text [formField]="currencies.entry.fields.fresh.name" /></t-field>
            </td>
            <td colspan="4"></td>
            <td>
              <button nz-button type="button" class="act small" [disabled]="currencies.entry.busy()" (click)="currencies.save(null)">Add</button>
            </td>
          </tr>
        }
      </tbody>
    </t-sheet>
  `,
  styleUrl: './item-edit.page.less',
})
export class GroundCurrencies {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  /** The company’s own is worth one of itself. */
  protected readonly own = inject(CompanyCurrency);
  protected readonly currencies = rowsEntry<CurrencyRow, BodyIn<typeof api.catalogue.saveCurrency>, GroundView>({
    part: 'currencies',
    ground: () => this.ground(),
    rows: (ground) =>
      byCode(
        ground.currencies,
        (each) => each.code,
        ({ code, name }) => ({ code, name, rate: '', date: '' }),
      ),
    empty: { code: '', name: '', rate: '', date: '' },
    route: api.catalogue.saveCurrency,
    // A new one has no rate yet; one that is there is set a rate.
    body: ({ code, name, rate, date }, at) => ({
      code,
      name,
      ...(at === null && rate === '' ? {} : { rate }),
      ...(date === '' ? {} : { date }),
    }),
    send: (body) => this.client.call(api.catalogue.saveCurrency, { body }),
    done: (ground) => this.saved.emit(ground),
  });
}
