/** One price list: whom it is for, and its prices. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import type { Observable } from 'rxjs';
import { api, priceWays, roundings, type AnswerOf, type ItemChoice, type PriceListView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { DateField, NumberField } from '../ui/fields';
import { CostPipe, GroupedPipe, ShortDayPipe } from '../ui/format';
import { ItemField } from '../ui/item-field';
import { Labelled } from '../ui/labelled';
import { rebased } from '../ui/rebase';
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
  readonly customerId: number | null;
  readonly customerGroup: string | null;
  readonly validFrom: string | null;
  readonly validTo: string | null;
  readonly rounding: (typeof roundings)[number];
}

interface EntryDraft {
  readonly id: number;
  readonly version: number;
  readonly item: Pick<ItemChoice, 'id' | 'code'> | null;
  readonly groupCode: string;
  readonly way: Way;
  readonly validFrom: string;
  readonly validTo: string;
  readonly breaks: readonly { readonly from: string; readonly value: string }[];
}

const EMPTY: Draft = { code: '', name: '', currency: '', customerId: null, customerGroup: null, validFrom: null, validTo: null, rounding: '0.01' };
const NEW_ENTRY: EntryDraft = {
  id: 0,
  version: 0,
  item: null,
  groupCode: '',
  way: 'amount',
  validFrom: '',
  validTo: '',
  breaks: [{ from: '0', value: '' }],
};
function draftOf(row: Entry): EntryDraft {
  return {
    id: row.id,
    version: row.version,
    item: row.itemId === null ? null : { id: row.itemId, code: row.code },
    groupCode: row.groupCode ?? '',
    way: row.way,
    validFrom: row.validFrom ?? '',
    validTo: row.validTo ?? '',
    breaks: row.breaks,
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
  protected readonly draft = signal<Draft | null>(null);
  protected readonly entries = signal<readonly Entry[]>([]);
  protected readonly entry = signal<EntryDraft | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly fields = computed(() => this.problem()?.fields ?? {});
  protected readonly roundings = roundings;
  protected readonly ways = priceWays;

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.problem.set(null);
        this.entry.set(null);
        if (id > 0) this.load(id);
        else {
          this.list.set(null);
          this.entries.set([]);
          this.draft.set({ ...EMPTY, currency: this.currency.code() });
        }
      });
    });
  }

  /** Loads a list; with `keep`, under what was typed already. */
  protected load(id: number, keep = false): void {
    const [base, rows] = [this.list(), this.entries()];
    this.client.call(api.selling.getPriceList, { params: { id } }).subscribe({
      next: (list) => {
        this.problem.set(null);
        this.list.set(list);
        this.draft.update((draft) => (keep && draft && base ? rebased<Draft>(base, draft, list) : null));
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
    this.client.call(api.selling.listPriceEntries, { params: { id }, query: { limit: 500 } }).subscribe({
      next: ({ rows: fresh }) => {
        this.entries.set(fresh);
        if (!keep) return;
        this.entry.update((entry) => {
          const [was, is] = [rows, fresh].map((list) => list.find((each) => each.id === entry?.id));
          return entry && was && is ? rebased(draftOf(was), entry, draftOf(is)) : entry;
        });
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected wayWords(way: string): string {
    return WAYS[way as Way];
  }

  protected asWay(text: string): Way {
    return priceWays.find((each) => each === text) ?? 'amount';
  }

  protected asRounding(text: string): Draft['rounding'] {
    return roundings.find((each) => each === text) ?? 'none';
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((draft) => draft && { ...draft, ...change });
  }

  protected audienceOf({ customerId, customerGroup }: Pick<Draft, 'customerId' | 'customerGroup'>): string {
    if (customerId !== null) return `c:${customerId}`;
    return customerGroup === null ? '' : `g:${customerGroup}`;
  }

  /** For everybody, for a group (`g:CODE`), or for one customer (`c:7`). */
  protected audience(text: string): Partial<Draft> {
    if (text.startsWith('g:')) return { customerGroup: text.slice(2), customerId: null };
    if (text.startsWith('c:')) return { customerId: Number(text.slice(2)), customerGroup: null };
    return { customerId: null, customerGroup: null };
  }

  protected save(active = this.list()?.active ?? true): void {
    const draft = this.draft() ?? this.list();
    if (!draft || this.busy()) return;
    const { code, name, currency, customerId, customerGroup, validFrom, validTo, rounding } = draft;
    const body = { code, name, currency, customerId, customerGroup, validFrom: validFrom || null, validTo: validTo || null, rounding };
    const list = this.list();
    const call = list
      ? this.client.call(api.selling.changePriceList, { params: { id: list.id }, body: { ...body, version: list.version, active } })
      : this.client.call(api.selling.createPriceList, { body });
    this.act(call, (saved) => {
      this.choices.refresh();
      this.list.set(saved);
      this.draft.set(null);
      this.made.emit(saved.id);
    });
  }

  protected open(row?: Entry): void {
    this.problem.set(null);
    this.entry.set(row ? draftOf(row) : NEW_ENTRY);
  }

  protected setEntry(change: Partial<EntryDraft>): void {
    this.entry.update((entry) => entry && { ...entry, ...change });
  }

  protected setBreak(index: number, change: Partial<{ from: string; value: string }>): void {
    this.entry.update((entry) => entry && { ...entry, breaks: entry.breaks.map((each, at) => (at === index ? { ...each, ...change } : each)) });
  }

  protected saveEntry(): void {
    const entry = this.entry();
    const list = this.list();
    if (!entry || !list || this.busy()) return;
    const body = {
      itemId: entry.item?.id ?? null,
      groupCode: entry.item ? null : entry.groupCode || null,
      way: entry.way,
      validFrom: entry.validFrom || null,
      validTo: entry.validTo || null,
      breaks: entry.breaks.filter((each) => each.value !== '').map((each) => ({ from: each.from || '0', value: each.value })),
    };
    const call =
      entry.id > 0
        ? this.client.call(api.selling.changePriceEntry, { params: { id: entry.id }, body: { ...body, version: entry.version } })
        : this.client.call(api.selling.addPriceEntry, { params: { id: list.id }, body });
    this.act(call, () => {
      this.entry.set(null);
      this.load(list.id);
    });
  }

  protected dropEntry(entry: EntryDraft): void {
    const list = this.list();
    if (!list) return;
    this.act(this.client.call(api.selling.dropPriceEntry, { params: { id: entry.id }, body: { version: entry.version } }), () => {
      this.entry.set(null);
      this.load(list.id);
    });
  }

  private act<T>(call: Observable<T>, done: (value: T) => void): void {
    this.busy.set(true);
    this.problem.set(null);
    call.subscribe({
      next: (value) => {
        this.busy.set(false);
        done(value);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
