/** Reminding customers of what is overdue: whom, of what and for which time, looked at before anything is sent. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type Reminder } from '@terrace/contract';
import { writeAmount } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Empty } from '../ui/empty';
import { GroupedPipe, ShortDayPipe, grouped } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';
import { typedAmount } from '../ui/typed-amount';

const STEPS = ['', 'first time, a friendly word', 'second time', 'last time'];

@Component({
  imports: [CheckField, Empty, GroupedPipe, InCurrencyPipe, NzButtonModule, Refused, RouterLink, Sheet, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Reminders due today</h1>
      <p class="quiet">Each gets one mail over all that is due to be reminded of, with their statement. After how many days is said in Set-up.</p>
      <t-refusal [problem]="problem()" />
      @if (found(); as all) {
        @if (all.length > 0) {
          @if (rights().has('accounts.invoice')) {
            <div class="acts">
              <button nz-button type="button" class="act first" [disabled]="busy() || chosen().length === 0" (click)="send()">
                Remind {{ chosen().length }} {{ chosen().length === 1 ? 'customer' : 'customers' }} of {{ sums() }}
              </button>
            </div>
          }
          <t-sheet>
            <thead>
              <tr>
                <th>Chosen</th>
                <th>Customer</th>
                <th>For the</th>
                <th>Invoices</th>
                <th class="figure">Overdue</th>
              </tr>
            </thead>
            <tbody>
              @for (each of all; track each.customerId) {
                <tr>
                  <td>
                    @if (each.why === '') {
                      <t-check
                        [label]="'Remind ' + each.customer"
                        [checked]="!left().has(each.customerId)"
                        (checkedChange)="choose(each.customerId, $event)"
                      />
                    }
                  </td>
                  <td>
                    <a [routerLink]="['/accounts/customers', each.customerId]">{{ each.customer }}</a>
                    @if (each.why !== '') {
                      <div class="trouble">{{ each.why }}</div>
                    }
                  </td>
                  <td [class.trouble]="each.step === 3">{{ steps[each.step] }}</td>
                  <td>
                    @for (invoice of each.invoices; track invoice.id) {
                      <div>
                        <a class="code" [routerLink]="['/accounts/invoices', invoice.id]">{{ invoice.number }}</a>
                        <span class="quiet"> due {{ invoice.dueDate | shortDay }} · {{ invoice.open | grouped }}</span>
                      </div>
                    }
                  </td>
                  <td class="figure">
                    <b>{{ each.total | grouped | inCurrency: each.currency }}</b>
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
        } @else {
          <t-empty words="Nobody is due to be reminded today." />
        }
      }
      <p class="good" role="status">{{ done() }}</p>
    </div>
  `,
})
export class RemindersPage {
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly steps = STEPS;
  protected readonly found = signal<readonly Reminder[] | null>(null);
  /** Who is left out, by id. */
  protected readonly left = signal<ReadonlySet<number>>(new Set());
  protected readonly problem = signal<Problem | null>(null);
  protected readonly busy = signal(false);
  protected readonly done = signal('');
  protected readonly chosen = computed(() => (this.found() ?? []).filter((each) => each.why === '' && !this.left().has(each.customerId)));
  /** What they are reminded of in all, a sum for each currency. */
  protected readonly sums = computed(() => {
    const by = new Map<string, number>();
    for (const { total, currency } of this.chosen()) by.set(currency, (by.get(currency) ?? 0) + typedAmount(total));
    return [...by].map(([currency, sum]) => `${grouped(writeAmount(sum))} ${currency}`).join(' and ');
  });

  constructor() {
    this.load();
  }

  private load(): void {
    this.client.call(api.accounts.previewReminders).subscribe({
      next: (found) => this.found.set(found),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected choose(id: number, chosen: boolean): void {
    this.left.update((left) => new Set(chosen ? [...left].filter((each) => each !== id) : [...left, id]));
  }

  protected send(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.accounts.remind, { body: { customerIds: this.chosen().map((each) => each.customerId) } }).subscribe({
      next: (answers) => {
        const sent = answers.filter(({ why }) => why === '').length;
        this.busy.set(false);
        this.done.set(`Reminded ${sent} ${sent === 1 ? 'customer' : 'customers'}; the mails are in the outbox.`);
        this.load();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
