/** What suppliers are to ship straight to customers: open needs, by the day on which they are wanted. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { Empty } from '../ui/empty';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

@Component({
  imports: [Empty, GroupedPipe, Refused, RouterLink, Sheet, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Straight to customers</h1>
      <p class="quiet">Lines that a supplier is to ship. They take nothing from stock, and the plan buys nothing for them: order them for each.</p>
      <t-refusal [problem]="problem()" />
      @if (rows(); as all) {
        @if (all.length > 0) {
          <t-sheet>
            <thead>
              <tr>
                <th>Wanted</th>
                <th>Supplier</th>
                <th>Item</th>
                <th class="figure">Quantity</th>
                <th>For</th>
                <th>Goes to</th>
                <th>Promised</th>
              </tr>
            </thead>
            <tbody>
              @for (row of all; track row.lineId) {
                <tr>
                  <td>{{ row.wanted | shortDay }}</td>
                  <td>
                    @if (row.supplierId !== null) {
                      <a [routerLink]="['/catalogue/suppliers', row.supplierId]">{{ row.supplier }}</a>
                    } @else {
                      <span class="trouble">none known</span>
                    }
                  </td>
                  <td>
                    <a class="code" [routerLink]="['/catalogue/items', row.itemId]">{{ row.code }}</a>
                    <div class="quiet">{{ row.description }}</div>
                  </td>
                  <td class="figure">
                    {{ row.quantity | grouped }} <span class="quiet">{{ row.unit }}</span>
                  </td>
                  <td>
                    <a class="code" [routerLink]="['/selling/orders', row.orderId]">{{ row.order }}/{{ row.position }}</a>
                    <div class="quiet">{{ row.customer }}</div>
                  </td>
                  <td class="words">{{ row.shipTo }}</td>
                  <td [class.trouble]="row.promised === null || row.promised > row.wanted">
                    {{ row.promised === null ? 'not promised' : (row.promised | shortDay) }}
                  </td>
                </tr>
              }
            </tbody>
          </t-sheet>
        } @else {
          <t-empty words="No supplier is to ship anything straight to a customer." />
        }
      }
    </div>
  `,
})
export class DirectPage {
  private readonly client = inject(ApiClient);
  private readonly ask = lastAsked();
  protected readonly rows = signal<AnswerOf<typeof api.selling.shippedDirect> | null>(null);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    this.load();
    whenHeard(
      () => ['customerOrder'],
      () => this.load(),
    );
  }

  private load(): void {
    this.ask(this.client.call(api.selling.shippedDirect), {
      next: (rows) => this.rows.set(rows),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
