/** A production order entered by hand. */
import { ChangeDetectionStrategy, Component, afterNextRender, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemChoice } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { useKeys } from '../ui/keys';
import { DateField, NumberField } from '../ui/fields';
import { ItemField } from '../ui/item-field';
import { Refused } from '../ui/refusal';
import { Leave } from '../ui/leave';
import { SelectField, SelectOption } from '../ui/select-field';

@Component({
  imports: [NzButtonModule, SelectField, SelectOption, Leave, ItemField, NumberField, DateField, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>New production order</h1>
      <div class="header">
        <label class="field wide"
          ><span>Make</span><t-item-field label="Make" [refused]="problem()?.fields?.['itemId']" (taken)="take($event)"
        /></label>
        <label class="field"
          ><span>Quantity {{ item()?.unit }}</span
          ><t-number #quantityField label="Quantity" [(value)]="quantity" [packs]="item()?.packs ?? []" [refused]="problem()?.fields?.['quantity']"
        /></label>
        <label class="field"><span>Due</span><t-date label="Due" [(value)]="dueDate" [refused]="problem()?.fields?.['dueDate']" /></label>
        <label class="field"
          ><span>In</span>
          <t-select [value]="warehouseId()" (valueChange)="warehouseId.set(+$event)">
            @for (each of choices.all().warehouses; track each.id) {
              <t-option [value]="each.id" label="{{ each.code }} · {{ each.name }}" />
            }
          </t-select>
        </label>
      </div>
      <p class="quiet">
        {{ item()?.description ?? 'The start follows from the lead time of the item; components come from its bill of materials.' }}
      </p>
      <t-refusal [problem]="problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="busy()" (click)="save()">Save as a draft <kbd>Ctrl+Enter</kbd></button>
      </div>
    </div>
    <t-leave />
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
  protected readonly item = signal<ItemChoice | null>(null);
  protected readonly quantity = signal('');
  protected readonly dueDate = signal('');
  protected readonly warehouseId = signal(0);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    effect(() => {
      const warehouse = this.choices.warehouseId();
      untracked(() => this.warehouseId.update((chosen) => chosen || warehouse));
    });
    afterNextRender(() => this.itemField().focus());
    useKeys([{ key: 'Ctrl+Enter', words: 'Save as a draft', act: () => this.save() }]);
  }

  protected take(item: ItemChoice): void {
    this.item.set(item);
    this.quantityField().focus();
    this.store.dispatch(focusActions.point({ itemId: item.id, warehouseId: this.warehouseId() }));
  }

  protected save(): void {
    if (this.busy()) return;
    (document.activeElement as HTMLElement | null)?.blur();
    this.busy.set(true);
    this.client
      .call(api.production.createProduction, {
        body: { itemId: this.item()?.id ?? 0, warehouseId: this.warehouseId(), quantity: this.quantity(), dueDate: this.dueDate() },
      })
      .subscribe({
        next: (order) => void this.router.navigateByUrl(`/production/orders/${order.id}`),
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
        },
      });
  }
}
