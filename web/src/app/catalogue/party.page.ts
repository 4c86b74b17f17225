/** A customer or supplier: looked at and changed in one place. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type CustomerInput, type CustomerView, type SupplierInput, type SupplierView } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, entryOf } from '../ui/forms';
import { Labelled } from '../ui/labelled';
import { OwnFields } from '../ui/own-fields';
import { rebased } from '../ui/rebase';
import { Refused } from '../ui/refusal';
import { TrailPicture } from '../ui/trail';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { Leave } from '../ui/leave';
import { TextArea, TextField } from '../ui/text-field';
import { CheckField } from '../ui/check-field';
import { CustomerNumbers } from './customer-numbers';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';

type View = CustomerView | SupplierView;
type Sure<T> = { [K in keyof T]-?: Exclude<T[K], undefined> };
type Person = Sure<NonNullable<CustomerInput['contacts']>[number]>;
/** A party as it is typed: figures as texts. */
type Draft = Omit<Sure<CustomerInput>, 'paymentDays' | 'creditLimit' | 'contacts'> &
  Sure<Pick<SupplierInput, 'calendar'>> & { paymentDays: string; leadDays: string; creditLimit: string; contacts: Person[] };

const wholeOf = (text: string): number | null => (/^\d+$/.test(text.trim()) ? Number(text) : null);

function draftOf(empty: Draft, view: View | null): Draft {
  if (!view) return empty;
  const { paymentDays, contacts } = view;
  const [leadDays, creditLimit] = ['leadDays' in view ? view.leadDays : null, 'creditLimit' in view ? view.creditLimit : null];
  return {
    ...empty,
    ...view,
    paymentDays: String(paymentDays),
    leadDays: leadDays === null ? '' : String(leadDays),
    creditLimit: creditLimit ?? '',
    contacts: contacts.map((each) => ({ name: each.name, part: each.part ?? '', email: each.email ?? '', phone: each.phone ?? '' })),
  };
}

const commonOf = ({ code, name, address, email, paymentDays, paymentTerm, currency, addresses, contacts, custom }: Draft) => ({
  code,
  name,
  address,
  email,
  paymentDays: wholeOf(paymentDays) ?? 0,
  paymentTerm,
  currency,
  addresses,
  contacts,
  custom,
});

function customerOf(draft: Draft): CustomerInput {
  const { taxRate, taxCode, group, priceListId, carrier, service, invoicing, creditLimit, onHold } = draft;
  return { ...commonOf(draft), taxRate, taxCode, group, priceListId, carrier, service, invoicing, creditLimit: creditLimit || null, onHold };
}

function supplierOf(draft: Draft): SupplierInput {
  return { ...commonOf(draft), leadDays: wholeOf(draft.leadDays), calendar: draft.calendar };
}

const EMPTY: Draft = {
  code: '',
  name: '',
  address: '',
  email: '',
  paymentDays: '30',
  paymentTerm: null,
  currency: '',
  addresses: [],
  contacts: [],
  custom: {},
  taxRate: 0,
  taxCode: null,
  group: null,
  priceListId: null,
  carrier: '',
  service: '',
  invoicing: 'shipment',
  creditLimit: '',
  onHold: false,
  leadDays: '',
  calendar: null,
};

@Component({
  imports: [
    Control,
    Sheet,
    NzButtonModule,
    TextArea,
    CheckField,
    CustomerNumbers,
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
    GroupedPipe,
    TrailPicture,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './party.page.html',
  styleUrl: './item-edit.page.less',
})
export class PartyPage {
  readonly kind = input.required<'customers' | 'suppliers'>();
  readonly id = input.required<string>();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly choices = inject(Choices);
  private readonly empty: Draft = { ...EMPTY, currency: inject(CompanyCurrency).code() };
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly view = signal<View | null>(null);
  protected readonly draft = signal<Draft>(this.empty);
  protected readonly isCustomer = computed(() => this.kind() === 'customers');
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => (this.isCustomer() ? api.catalogue.createCustomer : api.catalogue.createSupplier),
    body: (draft) => (this.isCustomer() ? customerOf(draft) : supplierOf(draft)),
    ready: () => !(Number(this.id()) > 0) || this.view()?.id === Number(this.id()),
  });
  protected readonly owes = computed(() => {
    const view = this.view();
    return view && 'owes' in view ? view.owes : '';
  });
  protected readonly sold = computed(() => {
    const view = this.view();
    return view && 'items' in view ? view.items : [];
  });

  constructor() {
    effect(() => {
      const id = Number(this.id());
      untracked(() => (id > 0 ? this.load(id) : this.take(null)));
    });
    // Who is new begins with the tax of the house.
    effect(() => {
      const { houseTaxCode } = this.choices.all();
      if (houseTaxCode !== null && this.isCustomer() && this.view() === null && !(Number(this.id()) > 0))
        untracked(() => this.entry.preset({ taxCode: houseTaxCode }));
    });
    useKeys([{ key: 'Ctrl+Enter', words: 'Save', act: () => this.save() }]);
  }

  /** Loads a party; with `keep`, under what was typed already. */
  protected load(id: number, keep = false): void {
    const [typed, before] = [this.draft(), this.view()];
    const done = {
      next: (view: View) => {
        this.take(view);
        const fresh = draftOf(this.empty, view);
        if (keep && before) this.draft.set(rebased<Draft>(draftOf(this.empty, before), typed, fresh));
      },
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    };
    if (this.isCustomer()) this.client.call(api.catalogue.getCustomer, { params: { id } }).subscribe(done);
    else this.client.call(api.catalogue.getSupplier, { params: { id } }).subscribe(done);
  }

  private take(view: View | null): void {
    this.view.set(view);
    this.entry.begin(draftOf(this.empty, view));
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected without<T>(list: readonly T[], index: number): T[] {
    return list.filter((_, at) => at !== index);
  }

  protected save(active = this.view()?.active ?? true): void {
    (document.activeElement as HTMLElement | null)?.blur();
    const [view, draft] = [this.view(), this.draft()];
    const done = (saved: View): void => {
      this.choices.refresh();
      if (view) this.take(saved);
      else void this.router.navigateByUrl(`/catalogue/${this.kind()}/${saved.id}`);
    };
    const kept = view && { params: { id: view.id }, more: { version: view.version, active } };
    if (this.isCustomer()) {
      const body = customerOf(draft);
      this.entry.send<View>(
        kept
          ? this.client.call(api.catalogue.changeCustomer, { params: kept.params, body: { ...body, ...kept.more } })
          : this.client.call(api.catalogue.createCustomer, { body }),
        done,
      );
    } else {
      const body = supplierOf(draft);
      this.entry.send<View>(
        kept
          ? this.client.call(api.catalogue.changeSupplier, { params: kept.params, body: { ...body, ...kept.more } })
          : this.client.call(api.catalogue.createSupplier, { body }),
        done,
      );
    }
  }
}
