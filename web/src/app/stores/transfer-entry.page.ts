/** Asks another warehouse for stock. */
import { ChangeDetectionStrategy, Component, afterNextRender, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type Availability, type BodyIn, type ItemChoice } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Leave } from '../ui/leave';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';

interface Line {
  readonly item: ItemChoice;
  readonly quantity: string;
  readonly free: string;
}

interface TransferDraft {
  readonly fromId: number;
  readonly toId: number;
  readonly shipDate: string;
  readonly dueDate: string;
  readonly carrier: string;
  readonly lines: readonly Line[];
}

const bodyOf = ({ lines, ...draft }: TransferDraft): BodyIn<typeof api.stores.requestTransfer> => ({
  ...draft,
  lines: lines.map((line) => ({ itemId: line.item.id, quantity: line.quantity || '0' })),
});

@Component({
  imports: [
    Control,
    Labelled,
    Sheet,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    Leave,
    DateField,
    NumberField,
    ItemField,
    Refused,
    GroupedPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Ask for a transfer</h1>
      <div class="header">
        <t-field name="From"
          ><t-select as="number" label="From" [formField]="entry.fields.fromId">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }</t-select
        ></t-field>
        <t-field name="To"
          ><t-select as="number" label="To" [formField]="entry.fields.toId">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }</t-select
        ></t-field>
        <t-field name="Ships on"><t-date label="Ships on" [formField]="entry.fields.shipDate" /></t-field>
        <t-field name="Due on"><t-date label="Due on" [formField]="entry.fields.dueDate" /></t-field>
        <t-field name="By"><t-text placeholder="carrier" [formField]="entry.fields.carrier" /></t-field>
      </div>
      <label class="field" style="max-width: 420px"><span>Item</span><t-item-field label="Item" (taken)="add($event)" /></label>
      <t-sheet>
        <thead>
          <tr>
            <th>Item</th>
            <th class="figure">Free in {{ fromCode() }}</th>
            <th class="figure">Quantity</th>
            <th><span class="sr">Drop</span></th>
          </tr>
        </thead>
        <tbody>
          @for (line of draft().lines; track line.item.id; let index = $index) {
            <tr>
              <td>
                <span class="code">{{ line.item.code }}</span>
                <div class="quiet">{{ line.item.description }}</div>
              </td>
              <td class="figure">
                {{ line.free | grouped }} <span class="quiet">{{ line.item.unit }}</span>
              </td>
              <td style="width: 140px">
                <t-number
                  [label]="'Quantity of ' + line.item.code"
                  [value]="line.quantity"
                  [packs]="line.item.packs"
                  (valueChange)="type(index, $event)"
                  [refused]="entry.refused()['lines.' + index + '.quantity']"
                />
              </td>
              <td><button nz-button type="button" class="act small" (click)="drop(index)">Drop</button></td>
            </tr>
          } @empty {
            <tr>
              <td colspan="4" class="quiet">Choose an item above: by code, barcode or words.</td>
            </tr>
          }
        </tbody>
      </t-sheet>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="entry.busy() || draft().lines.length === 0" (click)="save()">
          Ask {{ fromCode() }} for it <kbd>Ctrl+Enter</kbd>
        </button>
      </div>
    </div>
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../ui/entry.less',
})
export class TransferEntryPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly choices = inject(Choices);
  private readonly itemField = viewChild.required(ItemField);
  private readonly today = toSignal(this.store.select(sessionFeature.selectToday), { initialValue: '' });
  protected readonly draft = signal<TransferDraft>({ fromId: 0, toId: 0, shipDate: '', dueDate: '', carrier: '', lines: [] });
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.stores.requestTransfer, body: bodyOf });
  protected readonly fromCode = computed(() => this.choices.all().warehouses.find((each) => each.id === this.draft().fromId)?.code ?? '');

  constructor() {
    effect(() => {
      const [toId, today] = [this.choices.warehouseId(), this.today()];
      const fromId = this.choices.all().warehouses.find((each) => each.id !== toId)?.id ?? 0;
      untracked(() => this.entry.preset({ fromId, toId, shipDate: today, dueDate: today === '' ? '' : addDays(today, 2) }));
    });
    afterNextRender(() => this.itemField().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Ask for it', act: () => this.save() }]);
  }

  protected add(item: ItemChoice): void {
    this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.draft().fromId }));
    this.client.call(api.stores.availability, { query: { item: item.id, warehouse: this.draft().fromId } }).subscribe({
      next: ({ free }: Availability) => {
        this.setLines((lines) => (lines.some((line) => line.item.id === item.id) ? lines : [...lines, { item, quantity: '', free }]));
        this.entry.refuse(null);
      },
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }

  private setLines(change: (lines: readonly Line[]) => readonly Line[]): void {
    this.draft.update((draft) => ({ ...draft, lines: change(draft.lines) }));
  }

  protected type(index: number, quantity: string): void {
    this.setLines((lines) => lines.map((line, at) => (at === index ? { ...line, quantity } : line)));
  }

  protected drop(index: number): void {
    this.setLines((lines) => lines.filter((_, at) => at !== index));
  }

  protected save(): void {
    if (this.draft().lines.length === 0) return;
    this.entry.send(
      this.client.call(api.stores.requestTransfer, { body: bodyOf(this.draft()) }),
      ({ id }) => void this.router.navigate(['/stores/transfers', id]),
    );
  }
}
