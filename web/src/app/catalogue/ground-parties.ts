/** Customer groups, tax codes and payment terms. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe, grouped, longDay } from '../ui/format';
import { Control } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { byCode, rowsEntry } from '../ui/rows-entry';

interface Named {
  readonly code: string;
  readonly name: string;
}

interface TermRow extends Named {
  readonly days: string;
  readonly fromMonthEnd: boolean;
  readonly discount: string;
  readonly discountDays: string;
  readonly active: boolean;
  readonly version: number | null;
}

@Component({
  selector: 't-ground-parties',
  imports: [CheckField, Control, DateField, GroupedPipe, Labelled, NumberField, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="pane">
      <h2>Customer groups</h2>
      <t-refusal [problem]="groups.entry.problem()" />
      <t-sheet>
        <tbody>
          @for (each of ground().customerGroups; track each.code) {
            <tr (focusin)="groups.enter(each.code)">
              <td class="code">{{ each.code }}</td>
              <td>
                @if (rights().has('catalogue.edit') && groups.entry.fields.rows[each.code]; as row) {
                  <t-field unseen [name]="'Name of ' + each.code"><t-text [formField]="row.name" /></t-field>
                } @else {
                  {{ each.name }}
                }
              </td>
              <td class="figure">{{ each.customers }} <span class="quiet">customers</span></td>
              <td>
                @if (groups.differs(each.code)) {
                  <button nz-button type="button" class="act small first" [disabled]="groups.entry.busy()" (click)="groups.save(each.code)">
                    Save
                  </button>
                }
              </td>
            </tr>
          }
          @if (rights().has('catalogue.edit')) {
            <tr (focusin)="groups.enter(null)">
              <td style="width: 130px">
                <t-field unseen name="Code of the group"
                  ><t-text kind="code" placeholder="new" [formField]="groups.entry.fields.fresh.code"
                /></t-field>
              </td>
              <td>
                <t-field unseen name="Name of the group"><t-text [formField]="groups.entry.fields.fresh.name" /></t-field>
              </td>
              <td></td>
              <td><button nz-button type="button" class="act small" [disabled]="groups.entry.busy()" (click)="groups.save(null)">Add</button></td>
            </tr>
          }
        </tbody>
      </t-sheet>
    </section>
    <section class="pane">
      <h2>Tax codes</h2>
      <t-refusal [problem]="taxes.entry.problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Code</th>
            <th>Name</th>
            <th class="figure">Takes, %</th>
            <th>By day</th>
            <th class="figure">New rate, %</th>
            <th>From</th>
            <th><span class="sr">Save</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of ground().taxCodes; track each.code) {
            <tr (focusin)="taxes.enter(each.code)">
              <td class="code">{{ each.code }}</td>
              @if (rights().has('setup.edit') && taxes.entry.fields.rows[each.code]; as row) {
                <td>
                  <t-field unseen [name]="'Name of ' + each.code"><t-text [formField]="row.name" /></t-field>
                </td>
                <td class="figure">{{ each.rate | grouped }}</td>
                <td class="quiet">{{ ratesWords(each) }}</td>
                <td style="width: 100px">
                  <t-field unseen [name]="'New rate of ' + each.code"
                    ><t-number [label]="'New rate of ' + each.code" [formField]="row.rate"
                  /></t-field>
                </td>
                <td style="width: 140px">
                  <t-field unseen [name]="'From which day for ' + each.code"
                    ><t-date [label]="'From which day for ' + each.code" [formField]="row.from"
                  /></t-field>
                </td>
              } @else {
                <td>{{ each.name }}</td>
                <td class="figure">{{ each.rate | grouped }}</td>
                <td class="quiet">{{ ratesWords(each) }}</td>
                <td></td>
                <td></td>
              }
              <td>
                @if (taxes.differs(each.code)) {
                  <button nz-button type="button" class="act small first" [disabled]="taxes.entry.busy()" (click)="taxes.save(each.code)">
                    Save
                  </button>
                }
              </td>
            </tr>
          }
          @if (rights().has('setup.edit')) {
            <tr (focusin)="taxes.enter(null)">
              <td style="width: 130px">
                <t-field unseen name="Tax code"><t-text kind="code" placeholder="new" [formField]="taxes.entry.fields.fresh.code" /></t-field>
              </td>
              <td>
                <t-field unseen name="Name of the tax code"><t-text [formField]="taxes.entry.fields.fresh.name" /></t-field>
              </td>
              <td colspan="2"></td>
              <td>
                <t-field unseen name="Rate in percent"><t-number label="Rate in percent" [formField]="taxes.entry.fields.fresh.rate" /></t-field>
              </td>
              <td></td>
              <td><button nz-button type="button" class="act small" [disabled]="taxes.entry.busy()" (click)="taxes.save(null)">Add</button></td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <p class="quiet">A new rate holds from its day on, today where none is said; documents keep the rate that they were made with.</p>
    </section>
    <section class="pane">
      <h2>Payment terms</h2>
      <t-refusal [problem]="terms.entry.problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Code</th>
            <th>Name</th>
            <th class="figure">Days</th>
            <th>From month end</th>
            <th class="figure">Off, %</th>
            <th class="figure">within days</th>
            <th>Offered</th>
            <th>On papers</th>
            <th class="figure">Customers</th>
            <th class="figure">Suppliers</th>
            <th><span class="sr">Save</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of ground().paymentTerms; track each.code) {
            <tr (focusin)="terms.enter(each.code)">
              <td class="code">{{ each.code }}</td>
              @if (rights().has('setup.edit') && terms.entry.fields.rows[each.code]; as row) {
                <td>
                  <t-field unseen [name]="'Name of ' + each.code"><t-text [formField]="row.name" /></t-field>
                </td>
                <td style="width: 60px">
                  <t-field unseen [name]="'Days of ' + each.code"><t-text kind="figure" [formField]="row.days" /></t-field>
                </td>
                <td><t-check [label]="each.code + ' from the end of the month'" [formField]="row.fromMonthEnd" /></td>
                <td style="width: 70px">
                  <t-field unseen [name]="'Percent off of ' + each.code"
                    ><t-number [label]="'Percent off of ' + each.code" [formField]="row.discount"
                  /></t-field>
                </td>
                <td style="width: 60px">
                  <t-field unseen [name]="'Days of the discount of ' + each.code"><t-text kind="figure" [formField]="row.discountDays" /></t-field>
                </td>
                <td><t-check [label]="each.code + ' is offered'" [formField]="row.active" /></td>
              } @else {
                <td>{{ each.name }}</td>
                <td class="figure">{{ each.days }}</td>
                <td>{{ each.fromMonthEnd ? 'yes' : 'no' }}</td>
                <td class="figure">{{ each.discount | grouped }}</td>
                <td class="figure">{{ each.discountDays }}</td>
                <td>{{ each.active ? 'yes' : 'no' }}</td>
              }
              <td class="quiet">{{ each.words }}</td>
              <td class="figure">{{ each.customers | grouped }}</td>
              <td class="figure">{{ each.suppliers | grouped }}</td>
              <td>
                @if (terms.differs(each.code)) {
                  <button nz-button type="button" class="act small first" [disabled]="terms.entry.busy()" (click)="terms.save(each.code)">
                    Save
                  </button>
                }
              </td>
            </tr>
          }
          @if (rights().has('setup.edit')) {
            <tr (focusin)="terms.enter(null)">
              <td style="width: 100px">
                <t-field unseen name="New terms"><t-text kind="code" placeholder="new" [formField]="terms.entry.fields.fresh.code" /></t-field>
              </td>
              <td>
                <t-field unseen name="Name of the new terms"><t-text [formField]="terms.entry.fields.fresh.name" /></t-field>
              </td>
              <td>
                <t-field unseen name="Days of the new terms"><t-text kind="figure" [formField]="terms.entry.fields.fresh.days" /></t-field>
              </td>
              <td colspan="7"></td>
              <td><button nz-button type="button" class="act small" [disabled]="terms.entry.busy()" (click)="terms.save(null)">Add</button></td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <p class="quiet">Invoices keep the terms that they were raised with.</p>
    </section>
  `,
  styleUrl: './item-edit.page.less',
})
export class GroundParties {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly groups = rowsEntry<Named, BodyIn<typeof api.catalogue.saveCustomerGroup>, GroundView>({
    part: 'customer groups',
    ground: () => this.ground(),
    rows: ({ customerGroups }) =>
      byCode(
        customerGroups,
        (each) => each.code,
        ({ code, name }) => ({ code, name }),
      ),
    empty: { code: '', name: '' },
    route: api.catalogue.saveCustomerGroup,
    body: (row) => row,
    send: (body) => this.client.call(api.catalogue.saveCustomerGroup, { body }),
    done: (ground) => this.saved.emit(ground),
  });
  /** What a code took before, and will take, with the days. */
  protected ratesWords({ rates }: GroundView['taxCodes'][number]): string {
    if (rates.length < 2) return '';
    return rates.map(({ from, rate }) => `${grouped(rate)}${from === '' ? '' : ` from ${longDay(from)}`}`).join(', ');
  }

  protected readonly taxes = rowsEntry<
    Named & { readonly rate: string; readonly from: string },
    BodyIn<typeof api.catalogue.saveTaxCode>,
    GroundView
  >({
    part: 'tax codes',
    ground: () => this.ground(),
    rows: ({ taxCodes }) =>
      byCode(
        taxCodes,
        (each) => each.code,
        ({ code, name }) => ({ code, name, rate: '', from: '' }),
      ),
    empty: { code: '', name: '', rate: '', from: '' },
    route: api.catalogue.saveTaxCode,
    // One that is there may be renamed alone.
    body: ({ code, name, rate, from }, at) => ({
      code,
      name,
      ...(at !== null && rate === '' ? {} : { rate }),
      ...(from === '' ? {} : { from }),
    }),
    send: (body) => this.client.call(api.catalogue.saveTaxCode, { body }),
    done: (ground) => this.saved.emit(ground),
  });
  protected readonly terms = rowsEntry<TermRow, BodyIn<typeof api.catalogue.savePaymentTerm>, GroundView>({
    part: 'payment terms',
    ground: () => this.ground(),
    rows: ({ paymentTerms }) =>
      byCode(
        paymentTerms,
        (each) => each.code,
        ({ code, name, days, fromMonthEnd, discount, discountDays, active, version }) => ({
          code,
          name,
          days: String(days),
          fromMonthEnd,
          discount,
          discountDays: String(discountDays),
          active,
          version,
        }),
      ),
    empty: { code: '', name: '', days: '30', fromMonthEnd: false, discount: '0', discountDays: '0', active: true, version: null },
    route: api.catalogue.savePaymentTerm,
    body: ({ days, discountDays, version, ...row }) => ({
      ...row,
      days: Number(days),
      discountDays: Number(discountDays),
      ...(version === null ? {} : { version }),
    }),
    send: (body) => this.client.call(api.catalogue.savePaymentTerm, { body }),
    done: (ground) => this.saved.emit(ground),
  });
}
