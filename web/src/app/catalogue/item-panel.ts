/** An item: prices, who sells it, how it is planned, what it is made from and where it is used. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type ItemView } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { focusActions } from '../shell/focus.state';
import { sessionFeature } from '../client/session.state';
import { Refused } from '../ui/refusal';
import { givenWords } from './given-words';
import { draftOf, inputOf } from './item-draft';
import { ItemBom } from './item-bom';
import { ItemPlanning } from './item-planning';
import { ItemRules } from './item-rules';
import { ItemSubstitutes } from './item-substitutes';
import { ItemTracking } from './item-tracking';
import { ItemTerms } from './item-terms';
import { ItemStore } from './item.store';
import { CompanyCurrency } from '../ui/money';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';
import { Fold } from '../ui/fold';
import { ItemStock } from './item-stock';
import { Jump } from '../ui/sections';

interface Fact {
  readonly name: string;
  readonly value: string;
  /** The group that gives it. */
  readonly from?: string | undefined;
}

@Component({
  selector: 't-item-panel',
  imports: [
    Jump,
    ItemStock,
    Fold,
    Note,
    Sheet,
    NzButtonModule,
    Refused,
    RouterLink,
    ItemBom,
    ItemPlanning,
    ItemRules,
    ItemTracking,
    ItemTerms,
    ItemSubstitutes,
  ],
  providers: [ItemStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './item-panel.html',
})
export class ItemPanel {
  readonly id = input.required<number>();
  readonly wide = input(false);
  protected readonly store = inject(ItemStore);
  private readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  private readonly client = inject(ApiClient);
  private readonly ngrx = inject(Store);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  readonly version = computed(() => this.store.record()?.version ?? 0);
  protected readonly editable = computed(() => this.wide() && this.rights().has('catalogue.edit'));
  /** Asked once before something that is in use becomes inactive. */
  protected readonly leaving = signal(false);
  protected readonly facts = computed((): readonly Fact[] => {
    const item = this.store.record();
    if (!item) return [];
    const from = (field: string): { from: string | undefined } => ({ from: item.origins[field] });
    const own = this.choices
      .all()
      .fields.filter((field) => field.record === 'item')
      .map((field): Fact => ({ name: field.title, value: item.custom[field.id] ?? '' }));
    const all: Fact[] = [
      { name: 'Costing method', value: givenWords(item.costing), ...from('costing') },
      { name: 'Tracked', value: item.tracking === 'none' ? '' : item.tracking, ...from('tracking') },
      { name: 'Discount ceiling', value: item.discountCeiling === null ? '' : `${item.discountCeiling} %`, ...from('discountCeiling') },
      { name: 'Shelf life', value: item.shelfLifeDays === null ? '' : `${item.shelfLifeDays} days`, ...from('shelfLifeDays') },
      { name: 'Minimum remaining life when sold', value: item.restLifeDays === null ? '' : `${item.restLifeDays} days`, ...from('restLifeDays') },
      { name: 'Barcodes', value: item.barcodes.map((each) => (each.unit === null ? each.barcode : `${each.barcode} (${each.unit})`)).join(', ') },
      { name: 'Packs', value: item.packs.map((pack) => `${pack.code} of ${pack.factor}`).join(', ') },
      { name: 'Standard cost', value: Number(item.standardCost) === 0 ? '' : this.currency.behind(item.standardCost) },
      { name: 'Manufacturer', value: item.manufacturer },
      { name: 'Origin', value: item.originCountry },
      { name: 'Commodity code', value: item.commodityCode },
      {
        name: 'Weight',
        value: item.sizes
          .filter((size) => size.weight !== null)
          .map((size) => `${(size.weight ?? 0) / 1000} kg a ${size.unit}`)
          .join(', '),
      },
      { name: 'Second code', value: item.secondCode ?? '' },
      ...Object.entries(item.variant ?? {}).map(([name, value]): Fact => ({ name, value })),
      ...own,
    ];
    return all.filter((fact) => fact.value !== '');
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.store.load(id);
        this.leaving.set(false);
        this.ngrx.dispatch(focusActions.point({ itemId: id, warehouseId: null }));
      });
    });
  }

  protected turnActive(item: ItemView): void {
    if (item.active && item.inUse.length > 0 && !this.leaving()) {
      this.leaving.set(true);
      return;
    }
    const body = { ...inputOf(draftOf(item)), version: item.version, active: !item.active };
    this.client.call(api.catalogue.changeItem, { params: { id: item.id }, body }).subscribe({
      next: () => {
        this.leaving.set(false);
        this.store.reload();
      },
      error: (error: unknown) => this.store.fail(problemOf(error)),
    });
  }
}
