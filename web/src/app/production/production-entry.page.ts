/** A production order entered by hand. */
import { ChangeDetectionStrategy, Component, afterNextRender, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type BodyIn, type ItemChoice } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { DateField, NumberField } from '../ui/fields';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { Leave } from '../ui/leave';
import { SelectField, SelectOption } from '../ui/select-field';

interface ProductionDraft {
  readonly item: ItemChoice | null;
  readonly quantity: string;
  readonly dueDate: string;
  readonly warehouseId: number;
}

const bodyOf = ({ item, ...draft }: ProductionDraft): BodyIn<typeof api.production.createProduction> => ({ ...draft, itemId: item?.id ?? 0 });

@Component({
  imports: [Control, Labelled, NzButtonModule, SelectField, SelectOption, Leave, ItemField, NumberField, DateField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>New production order</h1>
      <div class="header">
        <t-field class="wide" name="Make"
          ><t-item-field label="Make" [code]="draft().item?.code ?? ''" [refused]="entry.refused()['itemId']" (taken)="take($event)"
        /></t-field>
        <t-field name="Quantity {{ draft().item?.unit }}"
          ><t-number #quantityField label="Quantity" [formField]="entry.fields.quantity" [packs]="draft().item?.packs ?? []"
        /></t-field>
        <t-field name="Due"><t-date label="Due" [formField]="entry.fields.dueDate" /></t-field>
        <t-field name="In">
          <t-select as="number" [formField]="entry.fields.warehouseId">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }
          </t-select>
        </t-field>
      </div>
      <p class="quiet">
        {{ draft().item?.description ?? 'The start follows from the lead time of the item; components come from its bill of materials.' }}
      </p>
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="entry.busy()" (click)="save()">Save as a draft <kbd>Ctrl+Enter</kbd></button>
      </div>
    </div>
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../ui/entry.less',
})
export class ProductionEntryPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  protected readonly choices = inject(Choices);
  private readonly itemField = viewChild.required(ItemField);
  private readonly quantityField = viewChild.required<NumberField>('quantityField');
  protected readonly draft = signal<ProductionDraft>({ item: null, quantity: '', dueDate: '', warehouseId: 0 });
  protected readonly entry = entryOf({ draft: this.draft, route: () => api.production.createProduction, body: bodyOf });

  constructor() {
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => this.entry.preset({ warehouseId: warehouse }));
    });
    afterNextRender(() => this.itemField().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Save as a draft', act: () => this.save() }]);
  }

  protected take(item: ItemChoice): void {
    this.draft.update((draft) => ({ ...draft, item }));
    this.quantityField().focus();
    this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.draft().warehouseId }));
  }

  protected save(): void {
    (document.activeElement as HTMLElement | null)?.blur();
    this.entry.send(
      this.client.call(api.production.createProduction, { body: bodyOf(this.draft()) }),
      (order) => void this.router.navigateByUrl(`/production/orders/${order.id}`),
    );
  }
}
