/** Units, with how finely each is counted. */
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Control } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { byCode, rowsEntry } from '../ui/rows-entry';

interface UnitRow {
  readonly code: string;
  readonly name: string;
  readonly decimals: string;
  readonly version: number | null;
}

@Component({
  selector: 't-ground-units',
  imports: [Control, Labelled, NzButtonModule, Refused, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-refusal [problem]="units.entry.problem()" />
    <t-sheet>
      <thead>
        <tr>
          <th>Unit</th>
          <th>Name</th>
          <th>Decimals</th>
          <th class="figure">Items</th>
          <th><span class="sr">Save</span></th>
        </tr>
      </thead>
      <tbody>
        @for (each of ground().units; track each.code) {
          <tr (focusin)="units.enter(each.code)">
            <td class="code">{{ each.code }}</td>
            @if (rights().has('catalogue.edit') && units.entry.fields.rows[each.code]; as row) {
              <td>
                <t-field unseen [name]="'Name of ' + each.code"><t-text [formField]="row.name" /></t-field>
              </td>
              <td style="width: 110px">
                <t-field unseen [name]="'Decimals of ' + each.code"><t-text kind="figure" [formField]="row.decimals" /></t-field>
              </td>
            } @else {
              <td>{{ each.name }}</td>
              <td>{{ each.decimals }}</td>
            }
            <td class="figure">{{ each.items }}</td>
            <td>
              @if (units.differs(each.code)) {
                <button nz-button type="button" class="act small first" [disabled]="units.entry.busy()" (click)="units.save(each.code)">Save</button>
              }
            </td>
          </tr>
        }
        @if (rights().has('catalogue.edit')) {
          <tr (focusin)="units.enter(null)">
            <td style="width: 110px">
              <t-field unseen name="New unit"><t-text kind="code" placeholder="new" [formField]="units.entry.fields.fresh.code" /></t-field>
            </td>
            <td>
              <t-field unseen name="Name of the new unit"><t-text [formField]="units.entry.fields.fresh.name" /></t-field>
            </td>
            <td>
              <t-field unseen name="Decimals of the new unit"><t-text kind="figure" [formField]="units.entry.fields.fresh.decimals" /></t-field>
            </td>
            <td></td>
            <td><button nz-button type="button" class="act small" [disabled]="units.entry.busy()" (click)="units.save(null)">Add</button></td>
          </tr>
        }
      </tbody>
    </t-sheet>
    <p class="quiet">Decimals can be widened at any time, and narrowed as long as nothing kept is finer.</p>
  `,
  styleUrl: './item-edit.page.less',
})
export class GroundUnits {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly units = rowsEntry<UnitRow, BodyIn<typeof api.catalogue.saveUnit>, GroundView>({
    part: 'units',
    ground: () => this.ground(),
    rows: ({ units }) =>
      byCode(
        units,
        (each) => each.code,
        ({ code, name, decimals, version }) => ({ code, name, decimals: String(decimals), version }),
      ),
    empty: { code: '', name: '', decimals: '0', version: null },
    route: api.catalogue.saveUnit,
    body: ({ version, decimals, ...row }) => ({ ...row, decimals: Number(decimals || '0'), ...(version === null ? {} : { version }) }),
    send: (body) => this.client.call(api.catalogue.saveUnit, { body }),
    done: (ground) => this.saved.emit(ground),
  });
}
