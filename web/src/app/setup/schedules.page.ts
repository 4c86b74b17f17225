/** Files that come in and go out by themselves: which folder is watched, which list is written, and how the last went. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, importKinds, scheduledLists, type SchedulesView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { CheckField } from '../ui/check-field';
import { MomentPipe } from '../ui/format';
import { Control, disabled, entryOf } from '../ui/forms';
import { KIND_WORDS } from '../ui/kind-words';
import { Labelled } from '../ui/labelled';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { TextField } from '../ui/text-field';
import { deskOf } from './desk';

type Schedule = SchedulesView['schedules'][number];
type Kind = Schedule['kind'];
const WORDS: Readonly<Record<Kind, string>> = {
  ...KIND_WORDS,
  stock: 'Stock by place',
  customerOrders: 'Customer orders',
  purchaseOrders: 'Purchase orders',
  productionOrders: 'Production orders',
  shipments: 'Shipments',
  invoices: 'Invoices',
  moves: 'Stock moves',
  suggestions: 'Suggestions of the plan',
};
interface Draft {
  readonly id: number;
  readonly name: string;
  readonly direction: Schedule['direction'];
  readonly kind: Kind;
  readonly folder: string;
  readonly at: string;
  readonly active: boolean;
}
const NEW: Draft = { id: 0, name: '', direction: 'in', kind: 'customers', folder: '', at: '02:00', active: true };
const DIRECTIONS = [
  { value: 'in', words: 'Files come in' },
  { value: 'out', words: 'A list goes out' },
] as const;

@Component({
  imports: [CheckField, Control, Labelled, MomentPipe, NzButtonModule, OneOfField, Refused, SelectField, SelectOption, Sheet, TextField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Files by themselves</h1>
      <p class="quiet">
        Folders lie below <span class="code">{{ desk.view()?.place }}</span>. What comes in is tried first: it is taken where every row is good, else
        put aside with the reasons beside it. A file is never taken twice.
      </p>
      <t-refusal [problem]="desk.problem()" />
      <t-sheet>
        <thead>
          <tr>
            <th>Name</th>
            <th>What</th>
            <th>Folder</th>
            <th>When</th>
            <th>The last</th>
            <th>In the name of</th>
            <th><span class="sr">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          @for (each of desk.view()?.schedules; track each.id) {
            <tr [class.chosen]="draft().id === each.id">
              <td>{{ each.name }}</td>
              <td>{{ words[each.kind] }} {{ each.direction }}</td>
              <td class="code">{{ each.folder }}</td>
              <td>{{ !each.active ? 'not now' : each.direction === 'in' ? 'as they come' : 'every day at ' + each.at }}</td>
              <td class="last">
                @if (each.lastRun) {
                  {{ each.lastRun | moment }}: {{ each.lastWords }}
                } @else {
                  <span class="quiet">nothing yet</span>
                }
              </td>
              <td>{{ each.who }}</td>
              <td>
                @if (desk.may()) {
                  <div class="acts">
                    <button nz-button type="button" class="act small" (click)="choose(each)">Change</button>
                    <button nz-button type="button" class="act small" [disabled]="entry.busy()" (click)="run(each.id)">Now</button>
                    <button nz-button type="button" class="act small" (click)="drop(each.id)">Drop</button>
                  </div>
                }
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="7" class="quiet">Nothing comes in or goes out by itself.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
      @if (desk.may()) {
        <section class="pane">
          <h2>{{ draft().id === 0 ? 'Another one' : 'Change ' + draft().name }}</h2>
          <form (submit)="$event.preventDefault(); save()">
            <t-one-of label="In or out" [options]="directions" [value]="draft().direction" (chosen)="turn($event)" />
            <div class="fields">
              <t-field name="Name"><t-text [formField]="entry.fields.name" /></t-field>
              <t-field name="What">
                <t-select label="What" [formField]="entry.fields.kind">
                  @for (each of kinds(); track each) {
                    <t-option [value]="each" [label]="words[each]" />
                  }
                </t-select>
              </t-field>
              <t-field name="Folder" hint="Such as shop/in"><t-text kind="code" [formField]="entry.fields.folder" /></t-field>
              @if (draft().direction === 'out') {
                <t-field name="Every day at"><t-text kind="code" [formField]="entry.fields.at" /></t-field>
              }
            </div>
            <t-check [formField]="entry.fields.active">Goes on by itself</t-check>
            <t-refusal [problem]="entry.problem()" />
            <div class="acts">
              <button nz-button class="act first" [disabled]="entry.busy()">
                {{ draft().id === 0 ? 'Add it, in your name' : 'Save, in your name' }}
              </button>
              @if (draft().id !== 0) {
                <button nz-button type="button" class="act" (click)="begin()">Leave it</button>
              }
            </div>
          </form>
        </section>
      }
    </div>
  `,
  styleUrl: './setup.less',
  styles: 'section.pane { max-width: 720px; } td .acts { flex-wrap: nowrap; } .last { white-space: normal; min-width: 200px; }',
})
export class SchedulesPage {
  private readonly client = inject(ApiClient);
  protected readonly desk = deskOf(api.setup.schedules);
  protected readonly words = WORDS;
  protected readonly directions = DIRECTIONS;
  protected readonly draft = signal<Draft>(NEW);
  protected readonly kinds = computed((): readonly Kind[] => (this.draft().direction === 'in' ? importKinds : [...scheduledLists, ...importKinds]));
  protected readonly entry = entryOf({
    part: () => 'schedule',
    draft: this.draft,
    route: () => api.setup.saveSchedule,
    body: (draft) => this.bodyOf(draft),
    shape: (path) => disabled(path, () => !this.desk.may()),
    keeps: false,
  });

  private bodyOf({ id, ...draft }: Draft) {
    const known = this.desk.view()?.schedules.find((each) => each.id === id);
    return known ? { ...draft, id, version: known.version } : draft;
  }

  protected turn(direction: Draft['direction']): void {
    this.draft.update((draft) => ({ ...draft, direction, kind: direction === 'in' ? 'customers' : 'stock' }));
  }

  protected choose({ id, name, direction, kind, folder, at, active }: Schedule): void {
    this.begin({ id, name, direction, kind, folder, at, active });
  }

  protected begin(draft: Draft = NEW): void {
    this.entry.begin(draft);
    // Nobody has left the fields of what is begun.
    this.entry.fields().reset();
  }

  protected save(): void {
    this.entry.send(this.client.call(api.setup.saveSchedule, { body: this.bodyOf(this.draft()) }), (view) => {
      this.desk.view.set(view);
      this.begin();
    });
  }

  protected run(id: number): void {
    this.entry.send(this.client.call(api.setup.runSchedule, { params: { id } }), (view) => this.desk.view.set(view), 'part');
  }

  protected drop(id: number): void {
    this.entry.send(
      this.client.call(api.setup.dropSchedule, { params: { id } }),
      (view) => {
        this.desk.view.set(view);
        this.begin();
      },
      'part',
    );
  }
}
