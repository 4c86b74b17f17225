/** Terminals: devices at which people sign in by badge and PIN; and everybody's tokens for programs. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type TerminalsView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { MomentPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { Note } from '../ui/note';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { deskOf } from './desk';

const NONE = { name: '', warehouse: '' };
const bodyOf = ({ name, warehouse }: typeof NONE) => ({ name, warehouseId: warehouse === '' ? null : Number(warehouse) });

@Component({
  imports: [Control, Labelled, MomentPipe, Note, NzButtonModule, Refused, SelectField, SelectOption, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Terminals</h1>
      <p class="quiet">
        A device in the warehouse or the works at which people sign in one after the other, by badge and PIN. Each is paired once by a code; badge and
        PIN are given under People.
      </p>
      <t-refusal [problem]="desk.problem()" />
      @if (code(); as made) {
        <t-note kind="calm">
          <div class="handed">
            <p>
              On the device, open the sign-in page, choose <b>Make this a terminal</b> and type this code. It serves {{ made.name }} once, for a
              quarter of an hour.
            </p>
            <p class="code big">{{ made.code }}</p>
          </div>
        </t-note>
      }
      <t-sheet>
        <thead>
          <tr>
            <th>Terminal</th>
            <th>Stands in</th>
            <th>Now</th>
            <th>Used last</th>
            <th><span class="sr">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of desk.view()?.terminals; track each.id) {
            <tr>
              <td>{{ each.name }}</td>
              <td class="code">{{ codes().get(each.warehouseId ?? 0) ?? '' }}</td>
              <td>{{ each.paired ? 'a device is paired' : 'waits for its device' }}</td>
              <td>{{ each.lastUse ? (each.lastUse | moment) : 'never' }}</td>
              <td>
                @if (desk.may()) {
                  <div class="acts">
                    <button nz-button type="button" class="act small" (click)="newCode(each)">
                      {{ each.paired ? 'Another device' : 'New code' }}
                    </button>
                    <button nz-button type="button" class="act small" (click)="drop(each.id)">Take away</button>
                  </div>
                }
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="quiet">None yet: everybody signs in by name and password.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
      @if (desk.may()) {
        <form class="acts" (submit)="$event.preventDefault(); add()">
          <t-field name="New terminal"><t-text placeholder="Packing table" [formField]="entry.fields.name" /></t-field>
          <t-field name="Stands in">
            <t-select label="Stands in" [formField]="entry.fields.warehouse">
              <t-option value="" label="nowhere in particular" />
              @for (each of choices.all().warehouses; track each.id) {
                <t-option [value]="'' + each.id" [label]="each.code" />
              }
            </t-select>
          </t-field>
          <button nz-button class="act first" [disabled]="entry.busy()">Add, and show a code</button>
        </form>
        <t-refusal [problem]="entry.problem()" />
      }
    </div>
  `,
  styleUrl: './setup.less',
  styles:
    'form.acts { display: flex; align-items: end; margin-top: 14px; } form.acts t-field { width: 190px; } .big { font-size: 22px; user-select: all; }',
})
export class TerminalsPage {
  private readonly client = inject(ApiClient);
  protected readonly choices = inject(Choices);
  protected readonly desk = deskOf(api.setup.terminals, { right: 'setup.people' });
  protected readonly codes = computed(() => new Map(this.choices.all().warehouses.map(({ id, code }) => [id, code])));
  /** A code that was made just now, for which terminal: it is shown this once. */
  protected readonly code = signal<{ readonly name: string; readonly code: string } | null>(null);
  private readonly draft = signal(NONE);
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => api.setup.addTerminal,
    body: bodyOf,
    place: (place) => (place === 'warehouseId' ? 'warehouse' : place),
    keeps: false,
  });

  protected add(): void {
    const { name } = this.draft();
    this.entry.send(this.client.call(api.setup.addTerminal, { body: bodyOf(this.draft()) }), (answer) => {
      this.show(name, answer);
      this.entry.begin(NONE);
      this.entry.fields().reset();
    });
  }

  protected newCode({ id, name }: TerminalsView['terminals'][number]): void {
    this.entry.send(this.client.call(api.setup.codeForTerminal, { params: { id } }), (answer) => this.show(name, answer), 'part');
  }

  protected drop(id: number): void {
    this.entry.send(
      this.client.call(api.setup.dropTerminal, { params: { id } }),
      (view) => {
        this.desk.view.set(view);
        this.code.set(null);
      },
      'part',
    );
  }

  private show(name: string, { code, ...view }: TerminalsView & { readonly code: string }): void {
    this.desk.view.set(view);
    this.code.set({ name, code });
  }
}
