/** Setting an item up and changing it: what is needed first, what the group gives beside what was typed. */
import { FormsModule } from '@angular/forms';
import { NzRadioModule } from 'ng-zorro-antd/radio';
import { ChangeDetectionStrategy, Component, effect, inject, input, untracked, viewChild } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type GivenField } from '@terrace/contract';
import { Choices } from '../client/choices';
import { useKeys } from '../ui/keys';
import { NumberField } from '../ui/fields';
import { Control, beginsAt, entryOf, writable } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { OwnFields } from '../ui/own-fields';
import { Refused } from '../ui/refusal';
import { CHOICES, givenWords } from './given-words';
import { draftOf, inputOf, type ItemDraft, type Size } from './item-draft';
import { AccountChange } from './account-change';
import { ItemEditStore } from './item-edit.store';
import { InCurrencyPipe } from '../ui/money';
import { Leave } from '../ui/leave';
import { TextArea, TextField } from '../ui/text-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';

interface GivenRow {
  readonly field: GivenField;
  readonly name: string;
  readonly kind: 'choice' | 'number';
  readonly choices: readonly string[];
  readonly unit: string;
}

/** The parts of a draft that differ from what they were. */
function changedParts(before: ItemDraft, after: ItemDraft): Partial<ItemDraft> {
  return Object.fromEntries(Object.entries(after).filter(([part, value]) => value !== before[part as keyof ItemDraft]));
}

@Component({
  imports: [
    AccountChange,
    Control,
    Tip,
    Sheet,
    NzButtonModule,
    FormsModule,
    NzRadioModule,
    TextArea,
    SelectField,
    SelectOption,
    TextField,
    Leave,
    InCurrencyPipe,
    Labelled,
    NumberField,
    OwnFields,
    Refused,
    RouterLink,
  ],
  providers: [ItemEditStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './item-edit.page.html',
  styleUrls: ['../ui/entry.less', './item-edit.page.less'],
})
export class ItemEditPage {
  readonly id = input<string>();
  readonly copy = input<string>();
  readonly group = input<string>();
  protected readonly store = inject(ItemEditStore);
  protected readonly choices = inject(Choices);
  private readonly router = inject(Router);
  private readonly first = viewChild.required<TextField>('code');
  protected readonly rows = (): readonly GivenRow[] => [
    { field: 'unit', name: 'Unit', kind: 'choice', choices: this.choices.all().units.map((each) => each.code), unit: '' },
    { field: 'kind', name: 'Kind', kind: 'choice', choices: CHOICES['kind'] ?? [], unit: '' },
    { field: 'tracking', name: 'Tracked', kind: 'choice', choices: CHOICES['tracking'] ?? [], unit: '' },
    { field: 'costing', name: 'Costing method', kind: 'choice', choices: CHOICES['costing'] ?? [], unit: '' },
    { field: 'discountCeiling', name: 'Discount ceiling', kind: 'number', choices: [], unit: '%' },
    { field: 'shelfLifeDays', name: 'Shelf life', kind: 'number', choices: [], unit: 'days' },
    { field: 'restLifeDays', name: 'Minimum remaining life when sold', kind: 'number', choices: [], unit: 'days' },
    { field: 'storageOverhead', name: 'Storage overhead', kind: 'number', choices: [], unit: '% a year' },
  ];

  protected readonly measures = ['weight', 'length', 'width', 'height'] as const;
  protected readonly unitFields = [
    { key: 'buyUnit', name: 'Bought in' },
    { key: 'sellUnit', name: 'Sold in' },
    { key: 'countUnit', name: 'Counted in' },
  ] as const;
  protected readonly texts = [
    { key: 'secondCode', name: 'Second code', hint: '' },
    { key: 'manufacturer', name: 'Manufacturer', hint: '' },
    { key: 'originCountry', name: 'Country of origin', hint: 'two letters' },
    { key: 'commodityCode', name: 'Commodity code', hint: '6 to 10 figures' },
  ] as const;

  private readonly draft = writable(
    () => this.store.draft(),
    (draft) => this.store.set(changedParts(this.store.draft(), draft)),
  );
  protected readonly entry = entryOf({
    draft: this.draft,
    problem: this.store.problem,
    route: () => api.catalogue.createItem,
    body: inputOf,
    ready: () => !this.store.awaited(),
  });

  constructor() {
    // What another has saved meanwhile comes under what is typed.
    effect(() => {
      const item = this.store.item();
      if (item) untracked(() => this.entry.over(draftOf(item)));
    });
    effect(() => {
      const [id, copy, group] = [Number(this.id() ?? 0), Number(this.copy() ?? 0), this.group()];
      untracked(() => {
        if (id > 0) this.store.load(id, false);
        else if (copy > 0) this.store.load(copy, true);
        else if (group !== undefined) {
          // What the address names is not typed.
          this.store.chooseGroup(group);
          this.entry.over(this.draft());
        }
      });
    });
    beginsAt(this.entry, this.first);
    useKeys([{ key: 'Ctrl+Enter', words: 'Save the item', act: () => this.save() }]);
  }

  protected words(value: string): string {
    return givenWords(value);
  }

  protected value(field: GivenField): string {
    return this.store.draft().typed[field] ?? this.store.given()[field]?.value ?? '';
  }

  protected save(): void {
    (document.activeElement as HTMLElement | null)?.blur();
    this.store.save((item) => {
      this.entry.settle();
      this.choices.refresh();
      void this.router.navigateByUrl(`/catalogue/items/${item.id}`);
    });
  }

  /** Enter goes on to the next field. */
  protected next(event: Event): void {
    const from = event.target as HTMLElement;
    if (from.tagName === 'TEXTAREA' || from.tagName === 'BUTTON' || from.tagName === 'A') return;
    event.preventDefault();
    const fields = [...document.querySelectorAll<HTMLElement>('main input:not([type=checkbox]):not([type=radio]), main textarea')].filter(
      (each) => !each.hasAttribute('disabled'),
    );
    fields[fields.findIndex((each) => from.contains(each)) + 1]?.focus();
  }

  protected nameOf(field: GivenField): string {
    return this.rows().find((row) => row.field === field)?.name ?? field;
  }

  protected asChange(key: keyof Size, value: string): Partial<Size> {
    return { [key]: value };
  }

  protected asUnit(key: 'buyUnit' | 'sellUnit' | 'countUnit', value: string): Partial<ItemDraft> {
    return { [key]: value === this.store.unit() ? '' : value };
  }

  protected dropPack(index: number): void {
    this.store.set({ packs: this.store.draft().packs.filter((_, each) => each !== index) });
  }

  protected setPack(index: number, change: Partial<{ code: string; factor: string }>): void {
    this.store.set({ packs: this.store.draft().packs.map((pack, each) => (each === index ? { ...pack, ...change } : pack)) });
  }

  protected sizeOf(unit: string): Size {
    return this.store.draft().sizes.find((size) => size.unit === unit) ?? { unit, weight: '', length: '', width: '', height: '' };
  }

  protected setSize(unit: string, change: Partial<Size>): void {
    const others = this.store.draft().sizes.filter((size) => size.unit !== unit);
    this.store.set({ sizes: [...others, { ...this.sizeOf(unit), ...change }] });
  }
}
