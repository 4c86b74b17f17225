/** One price list: whom it is for, and its prices. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, priceWays, roundings, type AnswerOf, type BodyIn, type ItemChoice, type PriceListView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe, ShortDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { Refused } from '../ui/refusal';
import { CompanyCurrency } from '../ui/money';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Tip } from '../ui/tip';

type Entry = AnswerOf<typeof api.selling.listPriceEntries>['rows'][number];
type Way = (typeof priceWays)[number];

interface Draft {
  readonly code: string;
  readonly name: string;
  readonly currency: string;
  /** For everybody (empty), for a group (`g:CODE`), or for one customer (`c:7`). */
  readonly audience: string;
  readonly validFrom: string;
  readonly validTo: string;
  readonly rounding: (typeof roundings)[number];
}

interface PriceDraft {
  readonly id: number;
  readonly version: number;
  readonly item: Pick<ItemChoice, 'id' | 'code'> | null;
  readonly groupCode: string;
  readonly way: Way;
  readonly validFrom: string;
  readonly validTo: string;
  readonly breaks: readonly { readonly from: string; readonly value: string }[];
}

const EMPTY: Draft = { code: '', name: '', currency: '', audience: '', validFrom: '', validTo: '', rounding: '0.01' };
const NEW_PRICE: PriceDraft = {
  id: 0,
  version: 0,
  item: null,
  groupCode: '',
  way: 'amount',
  validFrom: '',
  validTo: '',
  breaks: [{ from: '0', value: '' }],
};

function listDraft({ code, name, currency, customerId, customerGroup, validFrom, validTo, rounding }: PriceListView): Draft {
  const audience = customerId !== null ? `c:${customerId}` : customerGroup === null ? '' : `g:${customerGroup}`;
  return { code, name, currency, audience, validFrom: validFrom ?? '', validTo: validTo ?? '', rounding };
}

function listBody({ audience, validFrom, validTo, ...draft }: Draft): BodyIn<typeof api.selling.createPriceList> {
  return {
    ...draft,
    customerGroup: audience.startsWith('g:') ? audience.slice(2) : null,
    customerId: audience.startsWith('c:') ? Number(audience.slice(2)) : null,
    validFrom: validFrom || null,
    validTo: validTo || null,
  };
}

function priceDraft(row: Entry): PriceDraft {
  return {
    id: row.id,
    version: row.version,
    item: row.itemId === null ? null : { id: row.itemId, code: row.code },
    groupCode: row.groupCode ?? '',
    way: row.way,
    validFrom: row.validFrom ?? '',
    validTo: row.validTo ?? '',
    breaks: row.breaks.map((each) => ({ ...each })),
  };
}

/** Breaks that say something; one that is still empty is not sent. */
const stated = (breaks: PriceDraft['breaks']): PriceDraft['breaks'] => breaks.filter((each) => each.value !== '');

function priceBody({ item, groupCode, way, validFrom, validTo, breaks }: PriceDraft): BodyIn<typeof api.selling.addPriceEntry> {
  return {
    itemId: item?.id ?? null,
    groupCode: item ? null : groupCode || null,
    way,
    validFrom: validFrom || null,
    validTo: validTo || null,
    breaks: stated(breaks).map(({ from, value }) => ({ from: from || '0', value })),
  };
}

const WAYS: Readonly<Record<Way, string>> = {
  amount: 'a fixed amount',
  offList: '% off the list price',
  overCost: '% on top of current cost',
  overStandard: '% on top of standard cost',
  marginOnCost: '% margin to reach on cost',
};

@Component({
  selector: 't-price-list-panel',
  imports: [
    Control,
    Tip,
    Sheet,
    NzButtonModule,
    SelectField,
    SelectOption,
    TextField,
    Labelled,
    DateField,
    NumberField,
    ItemField,
    Refused,
    RouterLink,
    CostPipe,
    GroupedPipe,
    ShortDayPipe,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './price-list-panel.html',
  styleUrl: '../catalogue/item-edit.page.less',
})
export class PriceListPanel {
  readonly id = input.required<number>();
  readonly made = output<number>();
  private readonly client = inject(ApiClient);
  protected readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly editable = computed(() => this.rights().has('selling.price'));
  protected readonly list = signal<PriceListView | null>(null);
  protected readonly entries = signal<readonly Entry[]>([]);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly roundings = roundings;
  protected readonly ways = priceWays;
  private readonly at = signal(0);

  /** The list itself: whom it is for, and how it rounds. */
  protected readonly editing = signal(false);
  private readonly draft = signal<Draft>(EMPTY);
  protected readonly entry = entryOf({
    part: () => `price list ${this.at()}`,
    draft: this.draft,
    route: () => (this.editing() ? (this.at() > 0 ? api.selling.changePriceList : api.selling.createPriceList) : null),
    body: (draft) => ({ ...listBody(draft), ...(this.at() > 0 ? { version: this.list()?.version ?? 0, active: this.list()?.active ?? true } : {}) }),
    place: (place) => (place === 'customerGroup' || place === 'customerId' ? 'audience' : place),
  });

  /** One price of it. */
  protected readonly pricing = signal(false);
  protected readonly priced = signal<PriceDraft>(NEW_PRICE);
  protected readonly price = entryOf({
    part: () => `price in list ${this.at()}`,
    draft: this.priced,
    route: () => (this.pricing() ? (this.priced().id > 0 ? api.selling.changePriceEntry : api.selling.addPriceEntry) : null),
    body: (draft) => ({ ...priceBody(draft), ...(draft.id > 0 ? { version: draft.version } : {}) }),
    place: (place, { breaks }) =>
      (place === 'itemId' ? 'item' : place).replace(/^breaks\.(\d+)/, (_, sent: string) => {
        const line = stated(breaks)[Number(sent)];
        return `breaks.${line ? breaks.indexOf(line) : sent}`;
      }),
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.at.set(id);
        this.problem.set(null);
        this.pricing.set(false);
        this.list.set(null);
        this.entries.set([]);
        this.editing.set(id <= 0);
        if (id > 0) this.load(id);
        else this.entry.begin({ ...EMPTY, currency: this.currency.code() });
      });
    });
  }

  /** Loads a list, under what was typed already. */
  protected load(id: number): void {
    this.client.call(api.selling.getPriceList, { params: { id } }).subscribe({
      next: (list) => {
        if (this.at() !== id) return;
        this.problem.set(null);
        const first = this.list() === null;
        this.list.set(list);
        if (first) {
          if (this.entry.waiting()) this.editing.set(true);
          this.entry.begin(listDraft(list));
        } else this.entry.onto(listDraft(list));
        this.entry.refuse(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
    this.client.call(api.selling.listPriceEntries, { params: { id }, query: { limit: 500 } }).subscribe({
      next: ({ rows }) => {
        if (this.at() !== id) return;
        this.entries.set(rows);
        const waiting = this.price.waiting();
        if (waiting) this.open(rows.find((each) => each.id === waiting.id));
        else if (this.pricing()) {
          const row = rows.find((each) => each.id === this.priced().id);
          if (row) this.price.onto(priceDraft(row));
          this.price.refuse(null);
        }
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected wayWords(way: string): string {
    return WAYS[way as Way];
  }

  protected change(): void {
    const list = this.list();
    if (!list) return;
    this.entry.begin(listDraft(list));
    this.editing.set(true);
  }

  protected leave(): void {
    this.entry.drop();
    this.editing.set(false);
  }

  protected save(active = this.list()?.active ?? true): void {
    const list = this.list();
    const body = listBody(this.draft());
    const call = list
      ? this.client.call(api.selling.changePriceList, { params: { id: list.id }, body: { ...body, version: list.version, active } })
      : this.client.call(api.selling.createPriceList, { body });
    this.entry.send(call, (saved) => {
      this.choices.refresh();
      this.list.set(saved);
      this.entry.begin(listDraft(saved));
      this.editing.set(false);
      this.made.emit(saved.id);
    });
  }

  protected open(row?: Entry): void {
    this.price.begin(row ? priceDraft(row) : { ...NEW_PRICE, breaks: [{ from: '0', value: '' }] });
    this.pricing.set(true);
  }

  protected close(): void {
    this.price.settle();
    this.pricing.set(false);
  }

  protected takeItem(item: Pick<ItemChoice, 'id' | 'code'> | null): void {
    this.priced.update((draft) => ({ ...draft, item }));
  }

  protected addBreak(): void {
    this.priced.update((draft) => ({ ...draft, breaks: [...draft.breaks, { from: '', value: '' }] }));
  }

  protected savePrice(): void {
    const [list, draft] = [this.list(), this.priced()];
    if (!list) return;
    const body = priceBody(draft);
    const done = (): void => {
      this.close();
      this.load(list.id);
    };
    if (draft.id > 0)
      this.price.send(this.client.call(api.selling.changePriceEntry, { params: { id: draft.id }, body: { ...body, version: draft.version } }), done);
    else this.price.send(this.client.call(api.selling.addPriceEntry, { params: { id: list.id }, body }), done);
  }

  protected dropPrice(): void {
    const [list, { id, version }] = [this.list(), this.priced()];
    if (!list) return;
    this.price.send(this.client.call(api.selling.dropPriceEntry, { params: { id }, body: { version } }), () => {
      this.close();
      this.load(list.id);
    });
  }
}
