/** Asks another warehouse for stock. */
import { ChangeDetectionStrategy, Component, afterNextRender, computed, inject, linkedSignal, signal, viewChild } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type Availability, type ItemChoice } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
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

@Component({
  imports: [Sheet, NzButtonModule, SelectField, SelectOption, TextField, Leave, DateField, NumberField, ItemField, Refused, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Ask for a transfer</h1>
      <div class="header">
        <label class="field"
          ><span>From</span
          ><t-select [value]="fromId()" label="From" (valueChange)="fromId.set(+$event)">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }</t-select
        ></label>
        <label class="field"
          ><span>To</span
          ><t-select [value]="toId()" label="To" (valueChange)="toId.set(+$event)">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }</t-select
        ></label>
        <label class="field"><span>Ships on</span><t-date label="Ships on" [(value)]="shipDate" [refused]="problem()?.fields?.['shipDate']" /></label>
        <label class="field"><span>Due on</span><t-date label="Due on" [(value)]="dueDate" [refused]="problem()?.fields?.['dueDate']" /></label>
        <label class="field"><span>By</span><t-text placeholder="carrier" [value]="carrier()" (valueChange)="carrier.set($event)" /></label>
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
          @for (line of lines(); track line.item.id; let index = $index) {
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
                  [refused]="problem()?.fields?.['lines.' + index + '.quantity']"
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
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="busy() || lines().length === 0" (click)="save()">
          Ask {{ fromCode() }} for it <kbd>Ctrl+Enter</kbd>
        </button>
      </div>
    </div>
    <t-leave />
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
  protected readonly toId = linkedSignal(() => this.choices.warehouseId());
  protected readonly fromId = linkedSignal(() => this.choices.all().warehouses.find((each) => each.id !== this.toId())?.id ?? 0);
  protected readonly fromCode = computed(() => this.choices.all().warehouses.find((each) => each.id === this.fromId())?.code ?? '');
  protected readonly shipDate = linkedSignal(() => this.today());
  protected readonly dueDate = linkedSignal(() => (this.today() === '' ? '' : addDays(this.today(), 2)));
  protected readonly carrier = signal('');
  protected readonly lines = signal<readonly Line[]>([]);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    afterNextRender(() => this.itemField().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Ask for it', act: () => this.save() }]);
  }

  protected add(item: ItemChoice): void {
    this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.fromId() }));
    this.client.call(api.stores.availability, { query: { item: item.id, warehouse: this.fromId() } }).subscribe({
      next: ({ free }: Availability) => {
        this.lines.update((lines) => (lines.some((line) => line.item.id === item.id) ? lines : [...lines, { item, quantity: '', free }]));
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected type(index: number, quantity: string): void {
    this.lines.update((lines) => lines.map((line, at) => (at === index ? { ...line, quantity } : line)));
  }

  protected drop(index: number): void {
    this.lines.update((lines) => lines.filter((_, at) => at !== index));
  }

  protected save(): void {
    if (this.busy() || this.lines().length === 0) return;
    this.busy.set(true);
    this.client
      .call(api.stores.requestTransfer, {
        body: {
          fromId: this.fromId(),
          toId: this.toId(),
          shipDate: this.shipDate(),
          dueDate: this.dueDate(),
          carrier: this.carrier(),
          lines: this.lines().map((line) => ({ itemId: line.item.id, quantity: line.quantity || '0' })),
        },
      })
      .subscribe({
        next: ({ id }) => void this.router.navigate(['/stores/transfers', id]),
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
        },
      });
  }
}
