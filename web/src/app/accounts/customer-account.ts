/** A customer's account: what is open and how old it is, and how it came about. */
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, numberAttribute, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type CustomerAccount } from '@terrace/contract';
import { ageBands } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { sessionFeature } from '../client/session.state';
import { GroupedPipe, ShortDayPipe, grouped, shortDay } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { LineCell, Lines, type LineColumn } from '../ui/lines';
import { Refused } from '../ui/refusal';
import { BAND_WORDS, MOVED_WORDS, REMINDED_WORDS } from './account-words';

type OpenItem = CustomerAccount['open'][number];
type Movement = CustomerAccount['movements'][number];

const PAGES = { invoice: '/accounts/invoices', credit: '/accounts/invoices', payment: '/accounts/payments', letOff: '/accounts/invoices' } as const;

@Component({
  selector: 't-customer-account',
  imports: [GroupedPipe, InCurrencyPipe, LineCell, Lines, NzButtonModule, Refused, RouterLink, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <t-refusal [problem]="problem()" />
      @if (account(); as all) {
        <h1>
          <a [routerLink]="['/catalogue/customers', all.customerId]">{{ all.customer }}</a>
        </h1>
        <dl class="facts">
          <div>
            <dt>Owes</dt>
            <dd>{{ all.balance | grouped | inCurrency: all.currency }}</dd>
          </div>
          <div>
            <dt>Overdue</dt>
            <dd [class.trouble]="all.overdue !== '0.00'">{{ all.overdue | grouped }}</dd>
          </div>
          @if (all.creditLimit !== null) {
            <div>
              <dt>Credit limit</dt>
              <dd>{{ all.creditLimit | grouped | inCurrency }}</dd>
            </div>
          }
        </dl>
        <div class="bands" role="list" aria-label="How old it is">
          @for (band of bands(); track band.band) {
            <div role="listitem" [class.late]="band.late">
              <span class="quiet">{{ band.words }}</span>
              <b>{{ band.amount | grouped }}</b>
              <i [style.width.%]="band.share"></i>
            </div>
          }
          @if (all.credit !== '0.00') {
            <div role="listitem">
              <span class="quiet">Paid ahead, credited</span>
              <b>{{ all.credit | grouped }}</b>
            </div>
          }
        </div>
        <div class="acts">
          @if (rights().has('accounts.pay')) {
            <a class="act first" routerLink="/accounts/payments/new" [queryParams]="{ customer: all.customerId }">Payment received</a>
          }
          <a class="act" [href]="'/api/papers/customer/' + all.customerId" target="_blank">Statement (PDF)</a>
          @if (all.overdue !== '0.00' && rights().has('accounts.invoice')) {
            <a class="act" routerLink="/accounts/reminders">Remind them</a>
          }
        </div>
        <section class="pane">
          <h2>{{ all.open.length === 0 ? 'Nothing is open' : 'Open' }}</h2>
          @if (all.open.length > 0) {
            <t-lines [lines]="all.open" [columns]="openColumns()">
              <ng-template tCell="number" [of]="all.open" let-each>
                <a class="code" [routerLink]="[pages[each.kind], each.id]">{{ each.number }}</a>
              </ng-template>
            </t-lines>
          }
        </section>
        <section class="pane">
          <h2>Since {{ all.since | shortDay }}</h2>
          <p class="quiet figure">Open before: {{ all.before | grouped }}</p>
          <t-lines [lines]="all.movements" [columns]="movedColumns">
            <ng-template tCell="number" [of]="all.movements" let-each>
              <a class="code" [routerLink]="[pages[each.kind], each.id]">{{ each.number }}</a>
            </ng-template>
          </t-lines>
        </section>
      }
    </div>
  `,
  styles: `
    .bands {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 18px;
      margin: 6px 0 12px;
    }
    .bands div {
      display: grid;
      min-width: 84px;
      font-variant-numeric: tabular-nums;
    }
    .bands i {
      height: 3px;
      background: var(--line-strong);
    }
    .bands .late i {
      background: var(--trouble);
    }
  `,
})
export class CustomerAccountPanel {
  readonly id = input.required({ transform: numberAttribute });
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly account = signal<CustomerAccount | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly pages = PAGES;
  protected readonly bands = computed(() => {
    const bands = this.account()?.bands;
    const all = ageBands.map((band) => ({ band, words: BAND_WORDS[band], amount: bands?.[band] ?? '0.00', late: band !== 'notDue' }));
    const most = Math.max(1, ...all.map(({ amount }) => Math.abs(Number(amount))));
    return all.filter(({ amount }) => amount !== '0.00').map((each) => ({ ...each, share: (Math.abs(Number(each.amount)) / most) * 100 }));
  });
  protected readonly openColumns = computed((): readonly LineColumn<OpenItem>[] => [
    { title: 'What', value: (each) => MOVED_WORDS[each.kind], quiet: true },
    { title: 'Number', cell: 'number' },
    { title: 'Due', value: (each) => (each.dueDate === '' ? '' : shortDay(each.dueDate)), trouble: (each) => each.band !== 'notDue' },
    {
      title: 'Open',
      figure: true,
      value: (each) => grouped(each.open),
      below: (each) => (each.open === each.total ? '' : `of ${grouped(each.total)}`),
    },
    {
      title: 'Reminded',
      shown: this.account()?.open.some(({ remindedOn }) => remindedOn !== null) ?? false,
      quiet: true,
      value: (each) => (each.remindedOn === null ? '' : `${REMINDED_WORDS[each.reminded] ?? ''} ${shortDay(each.remindedOn)}`),
    },
  ]);
  protected readonly movedColumns: readonly LineColumn<Movement>[] = [
    { title: 'Date', value: (each) => shortDay(each.date) },
    { title: 'What', value: (each) => MOVED_WORDS[each.kind], quiet: true },
    { title: 'Number', cell: 'number' },
    { title: 'Amount', figure: true, value: (each) => grouped(each.amount) },
    { title: 'Owed then', figure: true, value: (each) => grouped(each.balance) },
  ];

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.load(id));
    });
    whenHeard(
      () => ['invoice', 'payment'],
      () => this.load(this.id()),
    );
  }

  private load(id: number): void {
    this.ask(this.client.call(api.accounts.customerAccount, { params: { id } }), {
      next: (account) => this.account.set(account),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
