/** Who sells an item and on what terms; terms are set and dropped here. */
import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Subject, catchError, debounceTime, map, of, switchMap } from 'rxjs';
import { api, type BodyIn, type ItemView, type SupplierTermView } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { Choices } from '../client/choices';
import { ChoiceField } from '../ui/choice-field';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { ItemStore } from './item.store';
import { CompanyCurrency } from '../ui/money';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { Sheet } from '../ui/sheet';
import { Fold } from '../ui/fold';

interface TermDraft {
  readonly id?: number;
  readonly version?: number;
  readonly supplierId: number;
  readonly supplierItemCode: string;
  readonly supplierDescription: string;
  readonly price: string;
  readonly currency: string;
  readonly discount: string;
  readonly buyUnit: string;
  readonly leadDays: string;
  readonly minimum: string;
  readonly multiple: string;
  readonly preferred: boolean;
  readonly validFrom: string;
  readonly validTo: string;
  readonly breaks: readonly { readonly from: string; readonly price: string }[];
}

const SETTLE_MS = 250;
const EMPTY: TermDraft = {
  supplierId: 0,
  supplierItemCode: '',
  supplierDescription: '',
  price: '',
  currency: '',
  discount: '0',
  buyUnit: '',
  leadDays: '',
  minimum: '0',
  multiple: '0',
  preferred: true,
  validFrom: '',
  validTo: '',
  breaks: [],
};

function bodyOf(draft: TermDraft): BodyIn<typeof api.catalogue.setTerm> {
  const { id, version, supplierId, supplierItemCode, supplierDescription, price, currency, preferred } = draft;
  return {
    ...(id === undefined ? {} : { id, version }),
    supplierId,
    supplierItemCode,
    supplierDescription,
    price,
    currency,
    preferred,
    discount: draft.discount || '0',
    buyUnit: draft.buyUnit || null,
    ...(draft.leadDays === '' ? {} : { leadDays: Number(draft.leadDays) }),
    minimum: draft.minimum || '0',
    multiple: draft.multiple || '0',
    validFrom: draft.validFrom || null,
    validTo: draft.validTo || null,
    breaks: draft.breaks.filter((each) => each.from !== '' || each.price !== ''),
  };
}

@Component({
  selector: 't-item-terms',
  imports: [
    Control,
    Fold,
    Sheet,
    NzButtonModule,
    CheckField,
    SelectField,
    SelectOption,
    TextField,
    ChoiceField,
    NumberField,
    DateField,
    Labelled,
    GroupedPipe,
    ShortDayPipe,
    RouterLink,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './item-terms.html',
  styleUrl: './item-edit.page.less',
})
export class ItemTerms {
  readonly item = input.required<ItemView>();
  readonly editable = input(false);
  protected readonly store = inject(ItemStore);
  protected readonly choices = inject(Choices);
  private readonly currency = inject(CompanyCurrency);
  protected readonly draft = signal<TermDraft>(EMPTY);
  protected readonly editing = signal(false);
  protected readonly entry = entryOf({
    part: () => 'terms',
    draft: this.draft,
    problem: () => (this.editing() ? this.store.problem() : null),
    route: () => (this.editing() ? api.catalogue.setTerm : null),
    body: bodyOf,
  });
  private readonly client = inject(ApiClient);
  private readonly codes = new Subject<string>();
  protected readonly twin = toSignal(
    this.codes.pipe(
      debounceTime(SETTLE_MS),
      switchMap((supplierCode) =>
        supplierCode === ''
          ? of([])
          : this.client.call(api.catalogue.likeItems, { query: { supplierCode, except: this.item().id } }).pipe(
              // A warning that can't be had holds nobody up.
              catchError(() => of([])),
            ),
      ),
      map(([first]) => (first ? `${first.code}, ${first.description}, is sold under this code, too` : '')),
    ),
    { initialValue: '' },
  );

  constructor() {
    effect(() => {
      const { terms } = this.item();
      untracked(() => {
        const waiting = this.entry.waiting();
        if (waiting) this.open(terms.find((each) => each.id === waiting.id));
      });
    });
  }

  protected open(term?: SupplierTermView): void {
    this.entry.begin(
      term
        ? {
            ...term,
            leadDays: String(term.leadDays),
            buyUnit: term.buyUnit ?? '',
            validFrom: term.validFrom ?? '',
            validTo: term.validTo ?? '',
          }
        : { ...EMPTY, currency: this.currency.code() },
    );
    this.editing.set(true);
  }

  protected close(): void {
    this.entry.settle();
    this.editing.set(false);
  }

  protected addBreak(): void {
    this.draft.update((draft) => ({ ...draft, breaks: [...draft.breaks, { from: '', price: '' }] }));
  }

  /** Looks whether a supplier's code is another item's already, before it is kept. */
  protected typeCode(supplierItemCode: string): void {
    this.codes.next(supplierItemCode.trim());
  }

  protected save(): void {
    this.store.perform(api.catalogue.setTerm, { params: { id: this.item().id }, body: bodyOf(this.draft()) }, () => this.close());
  }

  protected drop(term: number): void {
    this.store.perform(api.catalogue.dropTerm, { params: { id: this.item().id, term } }, () => this.close());
  }
}
