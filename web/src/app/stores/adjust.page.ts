/** Adjusting stock: type the change or the new quantity; the one gives the other. */
import { ChangeDetectionStrategy, Component, afterNextRender, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { api, type ItemChoice } from '@terrace/contract';
import { asQuantity, parseQuantity, readDecimal, writeQuantity } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';
import { Choices } from '../shell/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../shell/keys';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { Refused } from '../ui/refusal';

@Component({
  imports: [ItemField, NumberField, Refused, GroupedPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Adjust stock</h1>
      <div class="header">
        <label class="field wide"
          ><span>Item</span><t-item-field label="Item" [refused]="problem()?.fields?.['lines.0']" (taken)="take($event)"
        /></label>
        <label class="field"
          ><span>Bin in {{ warehouse() }}</span
          ><select #bin class="box" (change)="binId.set(+bin.value); look()">
            @for (each of bins(); track each.id) {
              <option [value]="each.id" [selected]="each.id === binId()">{{ each.code }}</option>
            }
          </select></label
        >
        <label class="field"
          ><span>Reason</span
          ><select #why class="box" (change)="reason.set(why.value)">
            <option value="">choose</option>
            @for (each of choices.all().reasons; track each.code) {
              <option [value]="each.code" [selected]="each.code === reason()">{{ each.name }}</option>
            }
          </select></label
        >
      </div>
      <div class="header">
        <div class="field">
          <span>There now</span><b class="code">{{ there() | grouped }} {{ item()?.unit }}</b>
        </div>
        <label class="field"
          ><span>Change</span
          ><t-number
            label="Change"
            [value]="change()"
            (valueChange)="typeChange($event)"
            [packs]="item()?.packs ?? []"
            [refused]="problem()?.fields?.['change'] ?? problem()?.fields?.['lines.0.change']"
        /></label>
        <label class="field"
          ><span>New quantity</span
          ><t-number label="New quantity" [value]="target()" (valueChange)="typeTarget($event)" [packs]="item()?.packs ?? []"
        /></label>
      </div>
      <label class="field"
        ><span>Note</span
        ><input #text class="box" [value]="note()" (input)="note.set(text.value)" [attr.aria-invalid]="!!problem()?.fields?.['note']"
      /></label>
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <button type="button" class="act first" [disabled]="busy() || !item() || change() === ''" (click)="save()">
          Adjust by {{ change() || '…' }} {{ item()?.unit }} <kbd>Ctrl+Enter</kbd>
        </button>
      </div>
    </div>
  `,
  styleUrl: '../ui/entry.less',
})
export class AdjustPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly choices = inject(Choices);
  private readonly itemField = viewChild.required(ItemField);
  protected readonly item = signal<ItemChoice | null>(null);
  protected readonly binId = signal(0);
  protected readonly reason = signal('');
  protected readonly note = signal('');
  protected readonly there = signal('0');
  protected readonly change = signal('');
  protected readonly target = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly bins = computed(() => this.choices.all().bins.filter((each) => each.warehouseId === this.choices.warehouseId()));
  protected readonly warehouse = computed(() => this.choices.all().warehouses.find((each) => each.id === this.choices.warehouseId())?.code ?? '');

  constructor() {
    effect(() => {
      const [first] = this.bins();
      untracked(() => this.binId.set(first?.id ?? 0));
    });
    afterNextRender(() => this.itemField().focus());
    useKeys([
      { key: 'Ctrl+Enter', words: 'Adjust', act: () => this.save() },
      { key: 'Esc', words: 'Back', act: () => history.back() },
    ]);
  }

  protected take(item: ItemChoice): void {
    this.item.set(item);
    this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.choices.warehouseId() }));
    this.look();
  }

  /** Goes to the bin that holds most of the item, unless one is chosen that has some. */
  protected look(): void {
    const item = this.item();
    if (!item) return;
    this.client.call(api.stores.places, { params: { id: item.id } }).subscribe({
      next: (places) => {
        const here = places.filter((each) => each.warehouse === this.warehouse() && each.state === 'available');
        const chosen = this.bins().find((each) => each.id === this.binId());
        this.there.set(here.find((each) => each.bin === chosen?.code)?.quantity ?? '0');
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected typeChange(text: string): void {
    this.change.set(text);
    this.target.set(this.combine(text, 1));
  }

  protected typeTarget(text: string): void {
    this.target.set(text);
    this.change.set(this.combine(text, -1));
  }

  private combine(text: string, sign: 1 | -1): string {
    if (!readDecimal(text)) return '';
    return writeQuantity(asQuantity(parseQuantity(text, 5) + sign * parseQuantity(this.there(), 5)));
  }

  protected save(): void {
    const item = this.item();
    if (this.busy() || !item) return;
    this.busy.set(true);
    this.client
      .call(api.stores.adjust, {
        body: {
          warehouseId: this.choices.warehouseId(),
          reason: this.reason(),
          note: this.note(),
          lines: [{ itemId: item.id, binId: this.binId(), change: this.change() }],
        },
      })
      .subscribe({
        next: () => void this.router.navigateByUrl('/stores/moves'),
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
        },
      });
  }
}
