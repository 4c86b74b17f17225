/** Recording a payment: from whom, how much, and which invoices it closes. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { Router } from '@angular/router';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, paymentMethods, type BodyIn, type CustomerAccount, type OrderRow, viewFilter } from '@terrace/contract';
import { ApiClient, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import { lastAsked } from '../client/last-asked';
import { ChoiceField } from '../ui/choice-field';
import { DateField, NumberField } from '../ui/fields';
import { GroupedPipe } from '../ui/format';
import { Control, beginsAt, entryOf } from '../ui/forms';
import { useKeys } from '../ui/keys';
import { Labelled } from '../ui/labelled';
import { Leave } from '../ui/leave';
import { CompanyCurrency, InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { SelectField, SelectOption } from '../ui/select-field';
import { TextField } from '../ui/text-field';
import { CashField, drawerIn } from './cash-field';
import { settleOf, spreadOver, type Settles } from './settle-draft';
import { SettleLines } from './settle-lines';

interface Draft {
  readonly customerId: number;
  readonly amount: string;
  /** What one of their currency was worth, as the bank says; empty for the rate of the day. */
  readonly rate: string;
  /** Empty for today. */
  readonly date: string;
  readonly method: (typeof paymentMethods)[number];
  /** Where cash goes; 0 for the bank. */
  readonly drawerId: number;
  readonly reference: string;
  /** 0 for none. */
  readonly orderId: number;
  readonly settles: Settles;
}

const MOST_ORDERS = 50;

@Component({
  imports: [
    CashField,
    ChoiceField,
    Control,
    DateField,
    GroupedPipe,
    InCurrencyPipe,
    Labelled,
    Leave,
    NumberField,
    NzButtonModule,
    Refused,
    SelectField,
    SelectOption,
    SettleLines,
    TextField,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Payment received</h1>
      <div class="header">
        <t-field class="wide" name="Customer">
          <t-choice #customer label="Customer" [choices]="choices.all().customers" [formField]="entry.fields.customerId" />
        </t-field>
        <t-field [name]="'Amount' | inCurrency: account()?.currency"><t-number label="Amount" [formField]="entry.fields.amount" /></t-field>
        @if (foreign(); as currency) {
          <t-field [name]="'1 ' + currency + ' was worth, in' | inCurrency" hint="empty: the rate of the day">
            <t-number [label]="'What 1 ' + currency + ' was worth'" [formField]="entry.fields.rate" />
          </t-field>
        }
        <t-field name="On" hint="empty: today"><t-date label="Received on" [formField]="entry.fields.date" /></t-field>
        <t-field name="By">
          <t-select [formField]="entry.fields.method">
            @for (each of methods; track each) {
              <t-option [value]="each" label="{{ each }}" />
            }
          </t-select>
        </t-field>
        <t-cash-field [field]="entry.fields.drawerId" [wanted]="inCash()" (failed)="entry.refuse($event)" />
        @if (orders().length > 0) {
          <t-field name="Ahead of order" hint="closes its invoices by itself">
            <t-select as="number" [formField]="entry.fields.orderId">
              <t-option [value]="0" label="" />
              @for (each of orders(); track each.id) {
                <t-option [value]="each.id" label="{{ each.number }} {{ each.reference }}" />
              }
            </t-select>
          </t-field>
        }
        <t-field name="What they wrote with it"><t-text [formField]="entry.fields.reference" /></t-field>
      </div>
      @if (account(); as all) {
        <section class="pane">
          <h2>What it closes</h2>
          <p class="quiet">
            {{ all.customer }} owes {{ all.balance | grouped | inCurrency: all.currency
            }}{{ all.overdue === '0.00' ? '' : ', ' + (all.overdue | grouped) + ' of it overdue' }}
          </p>
          <t-settle-lines
            [open]="all.open"
            [currency]="all.currency"
            [available]="draft().amount"
            [settles]="draft().settles"
            [refused]="refused()"
            (settlesChange)="byHand($event)"
          />
        </section>
      }
      <t-refusal [problem]="entry.problem()" />
      <div class="acts">
        <button nz-button type="button" class="act first" [disabled]="entry.busy()" (click)="save()">Record it <kbd>Ctrl+Enter</kbd></button>
      </div>
    </div>
    <t-leave [entry]="entry" />
  `,
  styleUrl: '../ui/entry.less',
})
export class PaymentEntryPage {
  /** The customer that the address names. */
  readonly customer = input<string>();
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  private readonly books = inject(CompanyCurrency);
  private readonly ask = lastAsked();
  protected readonly choices = inject(Choices);
  protected readonly methods = paymentMethods;
  private readonly field = viewChild<ChoiceField>('customer');
  protected readonly draft = signal<Draft>({
    customerId: 0,
    amount: '',
    rate: '',
    date: '',
    method: 'transfer',
    drawerId: 0,
    reference: '',
    orderId: 0,
    settles: {},
  });
  protected readonly account = signal<CustomerAccount | null>(null);
  /** What they pay in, where that is not the currency of the books; else empty. */
  protected readonly foreign = computed(() => {
    const currency = this.account()?.currency ?? '';
    return currency === this.books.code() ? '' : currency;
  });
  /** Open orders of the customer. */
  protected readonly orders = signal<readonly OrderRow[]>([]);
  /** Whether it is cash that a drawer can hold. */
  protected readonly inCash = computed(() => this.draft().method === 'cash' && this.account() !== null && this.foreign() === '');
  private readonly customerId = computed(() => this.draft().customerId);
  private readonly amount = computed(() => this.draft().amount);
  /** Whether somebody has said themselves what it closes: then it is not spread anew. */
  private typed = false;
  protected readonly entry = entryOf({
    draft: this.draft,
    route: () => api.accounts.recordPayment,
    body: () => this.body(),
  });
  protected readonly refused = computed(() => {
    const sent = settleOf(this.account()?.open ?? [], this.draft().settles);
    return Object.fromEntries(sent.map(({ invoiceId }, at) => [invoiceId, this.entry.refused()[`settle.${at}.amount`] ?? '']));
  });

  constructor() {
    effect(() => {
      const named = Number(this.customer() ?? 0);
      if (named > 0) untracked(() => this.entry.preset({ customerId: named }));
    });
    effect(() => {
      const id = this.customerId();
      untracked(() => this.meet(id));
    });
    effect(() => {
      const [account, amount] = [this.account(), this.amount()];
      untracked(() => {
        if (account && !this.typed) this.draft.update((draft) => ({ ...draft, settles: spreadOver(account.open, amount, true) }));
      });
    });
    beginsAt(this.entry, this.field);
    useKeys([{ key: 'Ctrl+Enter', words: 'Record the payment', act: () => this.save() }]);
  }

  private meet(id: number): void {
    this.account.set(null);
    this.orders.set([]);
    if (id === 0) return;
    this.ask(this.client.call(api.accounts.customerAccount, { params: { id } }), {
      next: (account) => {
        this.account.set(account);
        this.ordersOf(account);
      },
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }

  private ordersOf({ customer }: CustomerAccount): void {
    const query = { find: customer, filter: viewFilter('orders', 'open'), limit: MOST_ORDERS };
    this.client.call(api.selling.listOrders, { query: { ...query, filter: JSON.stringify(query.filter) } }).subscribe({
      next: ({ rows }) => this.orders.set(rows.filter((row) => row.customer === customer)),
      error: (error: unknown) => this.entry.refuse(problemOf(error)),
    });
  }

  protected byHand(settles: Settles): void {
    this.typed = true;
    this.draft.update((draft) => ({ ...draft, settles }));
  }

  private body(): BodyIn<typeof api.accounts.recordPayment> {
    const { customerId, amount, rate, date, method, drawerId, reference, orderId, settles } = this.draft();
    return {
      customerId,
      amount,
      method,
      drawerId: drawerIn({ method, drawerId }),
      reference,
      ...(rate === '' || this.foreign() === '' ? {} : { rate }),
      ...(date === '' ? {} : { date }),
      orderId: orderId > 0 ? orderId : null,
      settle: settleOf(this.account()?.open ?? [], settles),
    };
  }

  protected save(): void {
    (document.activeElement as HTMLElement | null)?.blur();
    this.entry.send(this.client.call(api.accounts.recordPayment, { body: this.body() }), (payment) => {
      void this.router.navigateByUrl(`/accounts/payments/${payment.id}`);
    });
  }
}
