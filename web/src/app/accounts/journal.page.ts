/** The journal, and beside it the proof that it equals the ledgers. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { debounceTime, filter, startWith } from 'rxjs';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { liveFeature } from '../client/live.state';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Confirm } from '../ui/confirm';
import { DateField } from '../ui/fields';
import { GroupedPipe, LongDayPipe } from '../ui/format';
import { Grid } from '../ui/grid';
import type { GridColumn } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { Sheet } from '../ui/sheet';

const TOGETHER_MS = 400;

@Component({
  imports: [Sheet, NzButtonModule, Beside, Confirm, DateField, Grid, GroupedPipe, LongDayPipe, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-beside>
      <t-grid
        list
        name="journal"
        [route]="route"
        [columns]="columns"
        [topics]="['stock', 'invoice', 'payment']"
        emptyWords="Nothing is posted yet."
      />
      <div record class="page">
        <h1>Proof</h1>
        <t-refusal [problem]="problem()" />
        <t-sheet>
          <tbody>
            @for (each of proof()?.checks; track each.name) {
              <tr [class.bad]="!each.holds">
                <td>{{ each.name }}</td>
                <td class="figure">{{ each.found | grouped }}</td>
                <td [class.good]="each.holds" [class.trouble]="!each.holds">{{ each.holds ? '✓ holds' : '✗ expected ' + each.expected }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
        <section class="pane">
          <h2>Books</h2>
          <p>{{ closed() === null ? 'Every day is open.' : 'Closed through ' + (closed() | longDay) + ': nothing more is posted on these days.' }}</p>
          @if (rights().has('accounts.close')) {
            <div class="acts">
              <label class="field" style="width: 140px"
                ><span>Close through</span><t-date label="Close the books through" [(value)]="through" [quiet]="true"
              /></label>
              <button nz-button type="button" class="act small" [disabled]="through() === ''" (click)="asking.set(true)">Close for good</button>
            </div>
          }
        </section>
        <h2>Balances</h2>
        <t-sheet>
          <tbody>
            @for (each of proof()?.accounts; track each.code) {
              <tr>
                <td class="code">{{ each.code }}</td>
                <td>{{ each.name }}</td>
                <td class="figure">{{ each.balance | grouped }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </div>
    </t-beside>
    @if (asking()) {
      <t-confirm
        [heading]="'Close the books through ' + (through() | longDay)"
        consequences="Nothing more can be posted on these days: no receipt, no shipment, no adjustment. What is closed can’t be opened again."
        action="Close them"
        (agreed)="close()"
        (dropped)="asking.set(false)"
      />
    }
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class JournalPage {
  protected readonly route = api.accounts.journal;
  protected readonly proof = signal<AnswerOf<typeof api.accounts.proof> | null>(null);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'date', title: 'Date', kind: 'date', width: 80 },
    { field: 'event', title: 'Event', kind: 'text' },
    { field: 'document', title: 'Document', kind: 'code', width: 98 },
    { field: 'account', title: 'Account', kind: 'code', width: 84 },
    { field: 'accountName', title: 'Name', kind: 'text' },
    { field: 'debit', title: 'Debit', kind: 'figure', width: 100 },
    { field: 'credit', title: 'Credit', kind: 'figure', width: 100 },
  ];

  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly closed = signal<string | null>(null);
  protected readonly through = signal('');
  protected readonly asking = signal(false);

  protected close(): void {
    this.asking.set(false);
    this.client.call(api.accounts.closeBooks, { body: { through: this.through() } }).subscribe({
      next: ({ closedThrough }) => {
        this.closed.set(closedThrough);
        this.through.set('');
        this.problem.set(null);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  constructor() {
    const { client } = this;
    client.call(api.accounts.books).subscribe({
      next: ({ closedThrough }) => this.closed.set(closedThrough),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
    inject(Store)
      .select(liveFeature.selectLast)
      .pipe(
        filter((event) => event !== null),
        debounceTime(TOGETHER_MS),
        startWith(null),
        takeUntilDestroyed(),
      )
      .subscribe(() =>
        client
          .call(api.accounts.proof)
          .subscribe({ next: (proof) => this.proof.set(proof), error: (error: unknown) => this.problem.set(problemOf(error)) }),
      );
  }
}
