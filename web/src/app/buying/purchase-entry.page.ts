/** A purchase order entered by hand. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { ChoiceField } from '../ui/choice-field';
import { Control, beginsAt, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { freshLine, itemOf, type EntryLine } from '../ui/entry-line';
import { LineEntry } from '../ui/line-entry';
import { Refused } from '../ui/refusal';
import { Leave } from '../ui/leave';
import { TextArea } from '../ui/text-field';
import { SelectField, SelectOption } from '../ui/select-field';

interface PurchaseDraft {
  readonly supplierId: number;
  readonly warehouseId: number;
  readonly note: string;
  readonly lines: readonly EntryLine[];
}

@Component({
  imports: [Control, Labelled, NzButtonModule, TextArea, SelectField, SelectOption, Leave, ChoiceField, LineEntry, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>{{ number() ? 'Change ' + number() : 'New purchase order' }}</h1>
      <div class="header">
        <t-field class="wide" name="Supplier"
          ><t-choice
            #supplier
            label="Supplier"
            [choices]="choices.all().suppliers"
            [formField]="entry.fields.supplierId"
            (keydown.enter)="lineEntry().start()"
        /></t-field>
        <t-field name="Deliver to">
          <t-select as="number" [formField]="entry.fields.warehouseId">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }
          </t-select>
        </t-field>
      </div>
      <t-line-entry [form]="entry.fields.lines" [buying]="true" [refused]="entry.refused()" (pointed)="point($event)" />
      <p class="quiet">A price left empty is taken from the supplier’s terms.</p>
      <t-field name="Note to the supplier"><t-area rows="2" [formField]="entry.fields.note" /></t-field>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="entry.busy()" (click)="save()">Save as a draft <kbd>Ctrl+Enter</kbd></button>
      </div>
    </div>
    <t-leave [entry]="entry" />
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
  private readonly draft = signal<PurchaseDraft>({ supplierId: 0, warehouseId: 0, note: '', lines: [freshLine()] });
  protected readonly number = signal('');
  private version = 0;
  /** Whether the order that is to be changed is still to come. */
  private readonly awaited = signal(false);
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.version > 0 ? api.buying.changePurchase : api.buying.createPurchase),
    body: (draft) => this.bodyOf(draft),
    ready: () => !this.awaited(),
  });

  constructor() {
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => this.entry.preset({ warehouseId: warehouse }));
    });
    effect(() => {
      const id = Number(this.id() ?? 0);
      if (id > 0) untracked(() => this.load(id));
    });
    beginsAt(this.entry, this.supplier);
    useKeys([{ key: 'Ctrl+Enter', words: 'Save as a draft', act: () => this.save() }]);
  }

  private load(id: number): void {
    this.awaited.set(true);
    this.client.call(api.buying.getPurchase, { params: { id } }).subscribe({
      next: (order) => {
        this.version = order.version;
        this.awaited.set(false);
        this.number.set(order.number);
        this.entry.begin({
          supplierId: order.supplierId,
          warehouseId: order.warehouseId,
          note: order.note,
          lines: order.lines.map((line) =>
            freshLine({
              item: itemOf(line),
              quantity: line.quantity,
              price: line.price,
              date: line.dueDate,
            }),
          ),
        });
      },
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }

  protected point(index: number): void {
    const { lines, warehouseId } = this.draft();
    const item = lines[index]?.item;
    if (item) this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId }));
  }

  private bodyOf({ supplierId, warehouseId, note, lines }: PurchaseDraft): BodyIn<typeof api.buying.createPurchase> {
    return {
      supplierId,
      warehouseId,
      note,
      lines: lines
        .filter((line) => line.item !== null || line.quantity !== '')
        .map((line) => ({
          itemId: line.item?.id ?? 0,
          quantity: line.quantity,
          ...(line.price === '' ? {} : { price: line.price }),
          dueDate: line.date,
        })),
      ...(this.version > 0 ? { version: this.version } : {}),
    };
  }

  protected save(): void {
    (document.activeElement as HTMLElement | null)?.blur();
    const body = this.bodyOf(this.draft());
    const id = Number(this.id() ?? 0);
    this.entry.send(
      id > 0
        ? this.client.call(api.buying.changePurchase, { params: { id }, body: { ...body, version: this.version } })
        : this.client.call(api.buying.createPurchase, { body }),
      (order) => void this.router.navigateByUrl(`/buying/orders/${order.id}`),
    );
  }
}
