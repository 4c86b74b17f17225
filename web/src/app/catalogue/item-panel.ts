/** An item: prices, who sells it, how it is planned, what it is made from and where it is used. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { signalStore } from '@ngrx/signals';
import { api, type ItemView } from '@terrace/contract';
import { Choices } from '../shell/choices';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../shell/session.state';
import { ChoiceField } from '../ui/choice-field';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { withRecord } from '../ui/record.store';
import { Refused } from '../ui/refusal';

const ItemStore = signalStore(withRecord<ItemView>(api.catalogue.getItem, 'item'));

@Component({
  selector: 't-item-panel',
  imports: [Refused, RouterLink, GroupedPipe, ChoiceField, NumberField],
  providers: [ItemStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './item-panel.html',
})
export class ItemPanel {
  readonly id = input.required<number>();
  readonly wide = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly choices = inject(Choices);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly adding = signal(false);
  protected readonly supplierId = signal(0);
  protected readonly price = signal('');
  protected readonly leadDays = signal('');

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.store.load(id);
        this.ngrx.dispatch(focusActions.point({ itemId: id, warehouseId: null }));
      });
    });
  }

  protected setTerm(): void {
    this.store.perform(
      api.catalogue.setTerm,
      { params: { id: this.id() }, body: { supplierId: this.supplierId(), price: this.price(), leadDays: Number(this.leadDays() || '0') } },
      () => this.adding.set(false),
    );
  }

  protected turnActive(item: ItemView): void {
    const { code, description, kind, group, secondCode, barcodes, sellPrice, sellingNotes, packs } = item;
    this.store.perform(api.catalogue.changeItem, {
      params: { id: item.id },
      body: { code, description, kind, group, secondCode, barcodes, sellPrice, sellingNotes, packs, version: item.version, active: !item.active },
    });
  }
}
