/** Stock that is free, and the order lines that wait for it: looked at in the order in which they get it, then reserved at once. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';
import { Empty } from '../ui/empty';
import { GroupedPipe, ShortDayPipe } from '../ui/format';
import { OneOfField } from '../ui/one-of';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

const WAYS = [
  { value: 'press', words: 'when somebody says so' },
  { value: 'self', words: 'by itself' },
] as const;

@Component({
  imports: [Empty, GroupedPipe, NzButtonModule, OneOfField, Refused, RouterLink, Sheet, ShortDayPipe],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Free stock for orders that wait</h1>
      <t-refusal [problem]="problem()" />
      @if (found(); as all) {
        <p>
          What is free goes to the earlier promise first, then to the earlier wish, then to the older line.
          @if (rights().has('setup.edit')) {
            It is reserved
            <t-one-of label="When free stock is reserved" [options]="ways" [value]="all.byItself ? 'self' : 'press'" (chosen)="choose($event)" />
          } @else {
            It is reserved {{ all.byItself ? 'by itself.' : 'when somebody says so.' }}
          }
        </p>
        @if (all.rows.length > 0) {
          @if (rights().has('selling.confirm')) {
            <div class="acts">
              <button nz-button type="button" class="act first" [disabled]="busy()" (click)="reserve()">
                Reserve for {{ all.rows.length }} {{ all.rows.length === 1 ? 'line' : 'lines' }}
              </button>
            </div>
          }
          <div class="wide" tabindex="0" role="region" aria-label="Lines that wait">
            <t-sheet>
              <thead>
                <tr>
                  <th>Order</th>
                  <th>Customer</th>
                  <th>Item</th>
                  <th>From</th>
                  <th>Wanted</th>
                  <th>Promised</th>
                  <th class="figure">Waits for</th>
                  <th class="figure">Would get</th>
                </tr>
              </thead>
              <tbody>
                @for (row of all.rows; track row.lineId) {
                  <tr>
                    <td>
                      <a class="code" [routerLink]="['/selling/orders', row.orderId]">{{ row.order }}/{{ row.position }}</a>
                    </td>
                    <td>{{ row.customer }}</td>
                    <td>
                      <a class="code" [routerLink]="['/catalogue/items', row.itemId]">{{ row.code }}</a>
                      <div class="quiet">{{ row.description }}</div>
                    </td>
                    <td>{{ row.warehouse }}</td>
                    <td>{{ row.wanted | shortDay }}</td>
                    <td [class.trouble]="row.promised === null || row.promised > row.wanted">
                      {{ row.promised === null ? 'not promised' : (row.promised | shortDay) }}
                    </td>
                    <td class="figure">
                      {{ row.waits | grouped }} <span class="quiet">{{ row.unit }}</span>
                    </td>
                    <td class="figure">
                      <b>{{ row.gets | grouped }}</b>
                    </td>
                  </tr>
                }
              </tbody>
            </t-sheet>
          </div>
        } @else {
          <t-empty words="Nothing that is free is waited for." />
        }
      }
      <p class="good" role="status">{{ done() }}</p>
    </div>
  `,
  styles: `
    .wide {
      overflow-x: auto;
    }
  `,
})
export class WaitingPage {
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly ways = WAYS;
  protected readonly found = signal<AnswerOf<typeof api.selling.freeForWaiting> | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly busy = signal(false);
  protected readonly done = signal('');

  constructor() {
    this.load();
    whenHeard(
      () => ['stock', 'customerOrder'],
      () => this.load(),
    );
  }

  private load(): void {
    this.client.call(api.selling.freeForWaiting).subscribe({
      next: (found) => this.found.set(found),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected reserve(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set(null);
    this.client.call(api.selling.reserveForWaiting).subscribe({
      next: ({ reserved }) => {
        this.busy.set(false);
        this.done.set(`Reserved for ${reserved} ${reserved === 1 ? 'line' : 'lines'}.`);
        this.load();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected choose(way: (typeof WAYS)[number]['value']): void {
    this.client.call(api.selling.setReservesByItself, { body: { byItself: way === 'self' } }).subscribe({
      next: () => this.load(),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
