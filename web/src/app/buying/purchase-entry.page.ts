/** A purchase order entered by hand. */
import { ChangeDetectionStrategy, Component, afterNextRender, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { ChoiceField } from '../ui/choice-field';
import { EMPTY_LINE, LineEntry, type EntryLine } from '../ui/line-entry';
import { Refused } from '../ui/refusal';
import { Leave } from '../ui/leave';
import { TextArea } from '../ui/text-field';
import { SelectField, SelectOption } from '../ui/select-field';

@Component({
  imports: [NzButtonModule, TextArea, SelectField, SelectOption, Leave, ChoiceField, LineEntry, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>{{ number() ? 'Change ' + number() : 'New purchase order' }}</h1>
      <div class="header">
        <label class="field wide"
          ><span>Supplier</span
          ><t-choice
            #supplier
            label="Supplier"
            [choices]="choices.all().suppliers"
            [(value)]="supplierId"
            [refused]="problem()?.fields?.['supplierId']"
            (keydown.enter)="lineEntry().start()"
        /></label>
        <label class="field"
          ><span>Deliver to</span>
          <t-select [value]="warehouseId()" (valueChange)="warehouseId.set(+$event)">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }
          </t-select>
        </label>
      </div>
      <t-line-entry [(lines)]="lines" [buying]="true" [refused]="problem()?.fields ?? {}" (pointed)="point($event)" />
      <p class="quiet">A price left empty is taken from the supplier’s terms.</p>
      <label class="field"><span>Note to the supplier</span><t-area rows="2" [value]="note()" (valueChange)="note.set($event)" /> </label>
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="busy()" (click)="save()">Save as a draft <kbd>Ctrl+Enter</kbd></button>
      </div>
    </div>
    <t-leave />
  `,
  styleUrl: '../ui/entry.less',
})
export class PurchaseEntryPage {
  readonly id = input<string>();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly choices = inject(Choices);
  private readonly supplier = viewChild.required<ChoiceField>('supplier');
  protected readonly lineEntry = viewChild.required(LineEntry);
  protected readonly supplierId = signal(0);
  protected readonly warehouseId = signal(0);
  protected readonly note = signal('');
  protected readonly lines = signal<readonly EntryLine[]>([EMPTY_LINE]);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly number = signal('');
  private version = 0;

  constructor() {
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => this.warehouseId.update((chosen) => chosen || warehouse));
    });
    effect(() => {
      const id = Number(this.id() ?? 0);
      if (id > 0) untracked(() => this.load(id));
    });
    afterNextRender(() => this.supplier().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Save as a draft', act: () => this.save() }]);
  }

  private load(id: number): void {
    this.client.call(api.buying.getPurchase, { params: { id } }).subscribe({
      next: (order) => {
        this.version = order.version;
        this.number.set(order.number);
        this.supplierId.set(order.supplierId);
        this.warehouseId.set(order.warehouseId);
        this.note.set(order.note);
        this.lines.set(
          order.lines.map((line) => ({
            ...EMPTY_LINE,
            item: {
              id: line.itemId,
              code: line.code,
              description: line.description,
              unit: line.unit,
              decimals: line.decimals,
              sellPrice: '0',
              kind: 'stocked',
              packs: [],
            },
            quantity: line.quantity,
            price: line.price,
            date: line.dueDate,
          })),
        );
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected point(index: number): void {
    const item = this.lines()[index]?.item;
    if (item) this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.warehouseId() }));
  }

  protected save(): void {
    if (this.busy()) return;
    (document.activeElement as HTMLElement | null)?.blur();
    this.busy.set(true);
    const lines = this.lines()
      .filter((line) => line.item !== null || line.quantity !== '')
      .map((line) => ({
        itemId: line.item?.id ?? 0,
        quantity: line.quantity,
        ...(line.price === '' ? {} : { price: line.price }),
        dueDate: line.date,
      }));
    const body = { supplierId: this.supplierId(), warehouseId: this.warehouseId(), note: this.note(), lines };
    const id = Number(this.id() ?? 0);
    const call =
      id > 0
        ? this.client.call(api.buying.changePurchase, { params: { id }, body: { ...body, version: this.version } })
        : this.client.call(api.buying.createPurchase, { body });
    call.subscribe({
      next: (order) => void this.router.navigateByUrl(`/buying/orders/${order.id}`),
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
