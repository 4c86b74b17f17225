/** Customer groups and tax codes. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
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

@Component({
  selector: 't-ground-parties',
  imports: [Control, Labelled, NumberField, NzButtonModule, Refused, Sheet, TextField],
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
            <th class="figure">Rate, %</th>
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
                <td style="width: 100px">
                  <t-field unseen [name]="'Rate of ' + each.code"><t-number [label]="'Rate of ' + each.code" [formField]="row.rate" /></t-field>
                </td>
              } @else {
                <td>{{ each.name }}</td>
                <td class="figure">{{ each.rate }}</td>
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
              <td>
                <t-field unseen name="Rate in percent"><t-number label="Rate in percent" [formField]="taxes.entry.fields.fresh.rate" /></t-field>
              </td>
              <td><button nz-button type="button" class="act small" [disabled]="taxes.entry.busy()" (click)="taxes.save(null)">Add</button></td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <p class="quiet">A rate that is changed holds for what is entered from now on; documents keep the rate they were made with.</p>
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
  protected readonly taxes = rowsEntry<Named & { readonly rate: string }, BodyIn<typeof api.catalogue.saveTaxCode>, GroundView>({
    part: 'tax codes',
    ground: () => this.ground(),
    rows: ({ taxCodes }) =>
      byCode(
        taxCodes,
        (each) => each.code,
        (each) => ({ ...each }),
      ),
    empty: { code: '', name: '', rate: '' },
    route: api.catalogue.saveTaxCode,
    body: (row) => row,
    send: (body) => this.client.call(api.catalogue.saveTaxCode, { body }),
    done: (ground) => this.saved.emit(ground),
  });
}
