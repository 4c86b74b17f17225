/** What has left and is on no invoice, by customer: chosen as each of them wants to be invoiced, then invoiced at once. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { CheckField } from '../ui/check-field';
import { Empty } from '../ui/empty';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { InCurrencyPipe } from '../ui/money';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

type Row = AnswerOf<typeof api.accounts.toInvoice>['rows'][number];
type Made = AnswerOf<typeof api.accounts.invoiceShipments>;

const MOST = 500;
const WISHES = { shipment: 'each shipment by itself', order: 'the whole order at once', together: 'all of them together' } as const;

@Component({
  imports: [CheckField, Empty, GroupedPipe, InCurrencyPipe, NzButtonModule, Refused, RouterLink, Sheet, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Shipped and not invoiced</h1>
      <t-refusal [problem]="problem()" />
      @if (found(); as all) {
        @if (all.length > 0) {
          @if (rights().has('accounts.invoice')) {
            <div class="acts">
              <button nz-button type="button" class="act first" [disabled]="busy() || chosen().length === 0" (click)="send()">
                Invoice {{ chosen().length }} {{ chosen().length === 1 ? 'shipment' : 'shipments' }}
              </button>
            </div>
          }
          <t-sheet>
            <thead>
              <tr>
                <th>Chosen</th>
                <th>Shipment</th>
                <th>Left on</th>
                <th>Order</th>
                <th>Customer</th>
                <th>Wants an invoice for</th>
              </tr>
            </thead>
            <tbody>
              @for (row of all; track row.id) {
                <tr>
                  <td><t-check [label]="'Invoice ' + row.number" [checked]="isChosen(row)" (checkedChange)="choose(row.id, $event)" /></td>
                  <td>
                    <a class="code" [routerLink]="['/dispatch/shipments', row.id]">{{ row.number }}</a>
                  </td>
                  <td>{{ row.date | shortDay }}</td>
                  <td>
                    <a class="code" [routerLink]="['/selling/orders', row.orderId]">{{ row.order }}</a>
                  </td>
                  <td>
                    <a [routerLink]="['/accounts/customers', row.customerId]">{{ row.customer }}</a>
                  </td>
                  <td>
                    {{ wishes[row.invoicing] }}
                    @if (waits(row)) {
                      <div class="quiet">The rest of the order has not gone.</div>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
          @if (all.length === most) {
            <p class="quiet">These are the first {{ most }}: invoice them, and the others follow.</p>
          }
        } @else {
          <t-empty words="All that has left is invoiced." />
        }
      }
      <div role="status">
        @for (each of made(); track each.id) {
          <p class="good">
            <a class="code" [routerLink]="['/accounts/invoices', each.id]">{{ each.number }}</a> for {{ each.customer }} over
            {{ each.total | grouped | inCurrency: each.currency }}{{ each.shipments > 1 ? ', ' + each.shipments + ' shipments' : '' }}
          </p>
        }
      </div>
    </div>
  `,
})
export class ToInvoicePage {
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly wishes = WISHES;
  protected readonly most = MOST;
  protected readonly found = signal<readonly Row[] | null>(null);
  /** What somebody chose or left out themselves, by shipment. */
  private readonly byHand = signal<Readonly<Record<number, boolean>>>({});
  protected readonly problem = signal<Problem | null>(null);
  protected readonly busy = signal(false);
  protected readonly made = signal<Made>([]);
  protected readonly chosen = computed(() => (this.found() ?? []).filter((row) => this.isChosen(row)));

  constructor() {
    this.load();
    whenHeard(
      () => ['shipment', 'invoice'],
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.accounts.toInvoice, { query: { limit: MOST } }).subscribe({
      next: ({ rows }) => this.found.set(rows),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  /** Whoever wants one invoice for an order waits until all of it has gone. */
  protected waits(row: Row): boolean {
    return row.invoicing === 'order' && !row.whole;
  }

  protected isChosen(row: Row): boolean {
    return this.byHand()[row.id] ?? !this.waits(row);
  }

  protected choose(id: number, chosen: boolean): void {
    this.byHand.update((all) => ({ ...all, [id]: chosen }));
  }

  protected send(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.accounts.invoiceShipments, { body: { shipmentIds: this.chosen().map(({ id }) => id) } }).subscribe({
      next: (made) => {
        this.busy.set(false);
        this.made.set(made);
        this.load();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
