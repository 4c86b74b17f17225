/** Fields of the company’s own on items, customers, suppliers and orders. */
import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, customRecords, customTypes, type BodyIn, type GroundView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';

const RECORDS: Readonly<Record<string, string>> = {
  item: 'items',
  customer: 'customers',
  supplier: 'suppliers',
  customerOrder: 'customer orders',
  purchaseOrder: 'purchase orders',
};

interface FieldDraft {
  readonly record: (typeof customRecords)[number];
  readonly title: string;
  readonly type: (typeof customTypes)[number];
  readonly choices: string;
}
const EMPTY: FieldDraft = { record: 'item', title: '', type: 'text', choices: '' };

function bodyOf({ choices, ...draft }: FieldDraft): BodyIn<typeof api.catalogue.saveField> {
  const texts = choices
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean);
  return { ...draft, choices: draft.type === 'choice' ? texts : [] };
}

@Component({
  selector: 't-ground-fields',
  imports: [Control, Labelled, NzButtonModule, Refused, SelectField, SelectOption, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-refusal [problem]="entry.problem()" />
    <t-sheet>
      <thead>
        <tr>
          <th>On</th>
          <th>Title</th>
          <th>Holds</th>
          <th>Choices</th>
          <th><span class="sr">Save</span></th>
        </tr>
      </thead>
      <tbody>
        @for (each of ground().fields; track each.id) {
          <tr [class.quiet]="!each.active">
            <td>{{ recordWords(each.record) }}</td>
            <td>{{ each.title }}</td>
            <td>{{ each.type === 'yesNo' ? 'yes or no' : each.type }}</td>
            <td>{{ each.choices.join(', ') }}</td>
            <td>
              @if (rights().has('setup.edit')) {
                <button nz-button type="button" class="act small" [disabled]="entry.busy()" (click)="turn(each)">
                  {{ each.active ? 'Take out of use' : 'Use again' }}
                </button>
              }
            </td>
          </tr>
        } @empty {
          <tr>
            <td colspan="5" class="quiet">None yet. An administrator adds them here.</td>
          </tr>
        }
      </tbody>
    </t-sheet>
    @if (rights().has('setup.edit')) {
      <div class="fields">
        <t-field name="On"
          ><t-select [formField]="entry.fields.record">
            @for (each of records; track each) {
              <t-option [value]="each" label="{{ recordWords(each) }}" />
            }</t-select
        ></t-field>
        <t-field name="Title"><t-text [formField]="entry.fields.title" /></t-field>
        <t-field name="Holds"
          ><t-select [formField]="entry.fields.type">
            @for (each of types; track each) {
              <t-option [value]="each" label="{{ each === 'yesNo' ? 'yes or no' : each }}" />
            }</t-select
        ></t-field>
        @if (draft().type === 'choice') {
          <t-field name="Choices, by comma"><t-text [formField]="entry.fields.choices" /></t-field>
        }
      </div>
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="entry.busy()" (click)="add()">Add the field</button>
      </div>
    } @else {
      <p class="quiet">An administrator adds and changes them.</p>
    }
  `,
  styleUrl: './item-edit.page.less',
})
export class GroundFields {
  readonly ground = input.required<GroundView>();
  readonly saved = output<GroundView>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly records = customRecords;
  protected readonly types = customTypes;
  protected readonly draft = signal<FieldDraft>(EMPTY);
  protected readonly entry = entryOf({
    part: () => 'own fields',
    draft: this.draft,
    route: () => api.catalogue.saveField,
    body: bodyOf,
    place: (place) => place.replace(/^choices\..*/, 'choices'),
  });

  constructor() {
    this.entry.begin(EMPTY);
  }

  protected recordWords(record: string): string {
    return RECORDS[record] ?? record;
  }

  protected add(): void {
    this.save(bodyOf(this.draft()), () => this.entry.begin(EMPTY));
  }

  protected turn(field: GroundView['fields'][number]): void {
    this.save({ ...field, active: !field.active }, () => undefined);
  }

  private save(body: BodyIn<typeof api.catalogue.saveField>, done: () => void): void {
    this.entry.send(
      this.client.call(api.catalogue.saveField, { body }),
      (ground) => {
        done();
        this.saved.emit(ground);
      },
      'part',
    );
  }
}
