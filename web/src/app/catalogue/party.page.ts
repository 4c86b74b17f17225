/** A customer or supplier: looked at and changed in one place. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type CustomerInput, type CustomerView, type SupplierInput, type SupplierView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { Choices } from '../client/choices';
import { useKeys } from '../ui/keys';
import { sessionFeature } from '../client/session.state';
import { NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Labelled } from '../ui/labelled';
import { OwnFields } from '../ui/own-fields';
import { rebased } from '../ui/rebase';
import { Refused } from '../ui/refusal';
import { TrailPicture } from '../ui/trail';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { Leave } from '../ui/leave';
import { TextArea, TextField } from '../ui/text-field';
import { CheckField } from '../ui/check-field';
import { SelectField, SelectOption } from '../ui/select-field';
import { Sheet } from '../ui/sheet';

type View = CustomerView | SupplierView;
type Sure<T> = { [K in keyof T]-?: Exclude<T[K], undefined> };
type Draft = Sure<CustomerInput> & Sure<Pick<SupplierInput, 'leadDays' | 'calendar'>>;

const EMPTY: Draft = {
  code: '',
  name: '',
  address: '',
  email: '',
  paymentDays: 30,
  currency: '',
  addresses: [],
  contacts: [],
  custom: {},
  taxRate: 2000,
  taxCode: null,
  group: null,
  priceListId: null,
  carrier: '',
  service: '',
  creditLimit: null,
  onHold: false,
  leadDays: null,
  calendar: null,
};

@Component({
  imports: [
    Sheet,
    NzButtonModule,
    TextArea,
    CheckField,
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
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly fields = computed(() => this.problem()?.fields ?? {});
  protected readonly isCustomer = computed(() => this.kind() === 'customers');
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
    useKeys([{ key: 'Ctrl+Enter', words: 'Save', act: () => this.save() }]);
  }

  /** Loads a party; with `keep`, under what was typed already. */
  protected load(id: number, keep = false): void {
    const typed = this.draft();
    const before = this.view();
    const done = {
      next: (view: View) => {
        this.take(view);
        if (keep && before) this.draft.set(rebased<Draft>({ ...this.empty, ...before }, typed, { ...this.empty, ...view }));
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    };
    if (this.isCustomer()) this.client.call(api.catalogue.getCustomer, { params: { id } }).subscribe(done);
    else this.client.call(api.catalogue.getSupplier, { params: { id } }).subscribe(done);
  }

  private take(view: View | null): void {
    this.view.set(view);
    this.problem.set(null);
    this.draft.set(view ? { ...this.empty, ...view } : this.empty);
  }

  protected set(change: Partial<Draft>): void {
    this.draft.update((draft) => ({ ...draft, ...change }));
  }

  protected asText(key: keyof Draft, value: string): Partial<Draft> {
    return { [key]: value };
  }

  protected wholeOf(text: string): number | null {
    return /^\d+$/.test(text.trim()) ? Number(text) : null;
  }

  protected setAddress(index: number, change: Partial<Draft['addresses'][number]>): void {
    this.set({ addresses: this.draft().addresses.map((each, at) => (at === index ? { ...each, ...change } : each)) });
  }

  protected setContact(index: number, change: Partial<Draft['contacts'][number]>): void {
    this.set({ contacts: this.draft().contacts.map((each, at) => (at === index ? { ...each, ...change } : each)) });
  }

  protected without<T>(list: readonly T[], index: number): T[] {
    return list.filter((_, at) => at !== index);
  }

  protected save(active = this.view()?.active ?? true): void {
    if (this.busy()) return;
    (document.activeElement as HTMLElement | null)?.blur();
    this.busy.set(true);
    this.problem.set(null);
    const { leadDays, calendar, taxRate, taxCode, group, priceListId, carrier, service, creditLimit, onHold, ...common } = this.draft();
    const view = this.view();
    const customer = { ...common, taxRate, taxCode, group, priceListId, carrier, service, creditLimit: creditLimit || null, onHold };
    const supplier = { ...common, leadDays, calendar };
    const done = {
      next: (saved: View) => {
        this.busy.set(false);
        this.choices.refresh();
        if (view) this.take(saved);
        else void this.router.navigateByUrl(`/catalogue/${this.kind()}/${saved.id}`);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    };
    if (this.isCustomer()) {
      if (view)
        this.client
          .call(api.catalogue.changeCustomer, { params: { id: view.id }, body: { ...customer, version: view.version, active } })
          .subscribe(done);
      else this.client.call(api.catalogue.createCustomer, { body: customer }).subscribe(done);
    } else if (view)
      this.client
        .call(api.catalogue.changeSupplier, { params: { id: view.id }, body: { ...supplier, version: view.version, active } })
        .subscribe(done);
    else this.client.call(api.catalogue.createSupplier, { body: supplier }).subscribe(done);
  }
}
