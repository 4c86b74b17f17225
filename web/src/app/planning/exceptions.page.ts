/** What the plan says about what is ordered already; moved or cancelled many at a time. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { switchMap } from 'rxjs';
import { api, type AnswerOf, type ExceptionRow } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { focusActions } from '../shell/focus.state';
import { Choices } from '../client/choices';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Confirm } from '../ui/confirm';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow, GridView } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { ExceptionPanel } from './exception-panel';
import { PlanningNav } from './planning-nav';
import { Sheet } from '../ui/sheet';
import { Note } from '../ui/note';
import { Empty } from '../ui/empty';

type Done = AnswerOf<typeof api.planning.applyExceptions>['done'];

@Component({
  imports: [Empty, Note, Sheet, NzButtonModule, Beside, ExceptionPanel, Grid, Refused, Confirm, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Exceptions</h1>
    <t-planning-nav />
    <div class="notes">
      <t-refusal [problem]="problem()" />
      @if (done().length > 0) {
        <t-note kind="calm">
          <span>{{ words() }}. Suppliers who have the order are asked by mail.</span
          ><button nz-button type="button" class="act small" (click)="done.set([])">Hide</button>
        </t-note>
      }
    </div>
    <t-beside>
      <t-grid
        list
        name="plan-exceptions"
        [route]="route"
        [columns]="columns"
        [views]="views"
        [topics]="['plan']"
        [several]="rights().has('planning.release')"
        emptyWords="What is ordered fits what is wanted."
        (pointed)="point($event)"
        (selected)="choose($event)"
      >
        @if (rights().has('planning.release')) {
          <button
            nz-button
            tool
            type="button"
            class="act small"
            [class.first]="able().length > 0"
            [disabled]="busy() || able().length === 0"
            (click)="asking.set(able())"
          >
            Carry out {{ able().length }} …
          </button>
        }
      </t-grid>
      <div record>
        @if (at(); as row) {
          <t-exception-panel [row]="row" [warehouseId]="place(row)" [mayApply]="rights().has('planning.release')" (apply)="asking.set([row])" />
        } @else {
          <t-empty words="Point at an exception to see what it does to the balance and whom it concerns." />
        }
      </div>
    </t-beside>
    @if (asking().length > 0) {
      <t-confirm
        heading="Carry out what the plan says"
        [consequences]="
          asking().length + (asking().length === 1 ? ' order is' : ' orders are') + ' moved or cancelled; whoever has them is asked by mail.'
        "
        [action]="'Change ' + asking().length"
        (agreed)="apply()"
        (dropped)="asking.set([])"
      >
        <t-sheet>
          <tbody>
            @for (each of asking(); track each.id) {
              <tr>
                <td class="code">{{ each.subject }}</td>
                <td>{{ each.words }}</td>
              </tr>
            }
          </tbody>
        </t-sheet>
      </t-confirm>
    }
  `,
  styleUrl: './planning.less',
})
export class ExceptionsPage {
  private readonly client = inject(ApiClient);
  private readonly ngrx = inject(Store);
  private readonly choices = inject(Choices);
  protected readonly rights = this.ngrx.selectSignal(sessionFeature.selectRights);
  protected readonly route = api.planning.listExceptions;
  protected readonly chosen = signal<readonly ExceptionRow[]>([]);
  /** What is about to be done, once somebody has agreed. */
  protected readonly asking = signal<readonly ExceptionRow[]>([]);
  protected readonly at = signal<ExceptionRow | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly done = signal<Done>([]);
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'move', title: 'To move', filter: { kind: { op: 'among', value: ['bringForward', 'pushBack', 'overdueReceipt'] } } },
    { key: 'cancel', title: 'Not needed', filter: { kind: { op: 'equals', value: 'cancel' } } },
    { key: 'short', title: 'Missing', filter: { kind: { op: 'equals', value: 'short' } } },
    { key: 'demand', title: 'Wanted already', filter: { kind: { op: 'equals', value: 'overdueDemand' } } },
    { key: 'expires', title: 'Expires unused', filter: { kind: { op: 'equals', value: 'expires' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'subject', title: 'Document', kind: 'code', width: 128 },
    { field: 'code', title: 'Item', kind: 'code', beside: 'description' },
    { field: 'words', title: 'What', kind: 'text', sortable: false },
    { field: 'from', title: 'Now', kind: 'date', width: 72 },
    { field: 'to', title: 'Better', kind: 'date', width: 72 },
    { field: 'warehouse', title: 'In', kind: 'text', width: 76 },
    { field: 'remedy', title: 'Can be done', kind: 'text', width: 100, sortable: false, hidden: true },
  ];

  protected able(): readonly ExceptionRow[] {
    return this.chosen().filter((row) => row.remedy !== '');
  }

  protected choose(rows: readonly GridRow[]): void {
    this.chosen.set(rows as unknown as readonly ExceptionRow[]);
  }

  protected place(row: ExceptionRow): number {
    return this.choices.all().warehouses.find((each) => each.code === row.warehouse)?.id ?? 0;
  }

  protected words(): string {
    return this.done()
      .map((each) => each.words)
      .join('; ');
  }

  protected point(pointed: GridRow): void {
    const row = pointed as unknown as ExceptionRow;
    this.at.set(row);
    this.ngrx.dispatch(focusActions.point({ itemId: row.itemId, warehouseId: this.place(row) || null }));
  }

  protected apply(): void {
    if (this.busy()) return;
    const exceptions = this.asking().map(({ kind, subject, itemId, to, quantity }) => ({ kind, subject, seen: { itemId, to, quantity } }));
    this.busy.set(true);
    this.problem.set(null);
    this.client
      .call(api.planning.getPlan)
      .pipe(switchMap(({ seq }) => this.client.call(api.planning.applyExceptions, { body: { seq, exceptions } })))
      .subscribe({
        next: ({ done }) => {
          this.done.set(done);
          this.busy.set(false);
          this.asking.set([]);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
          this.busy.set(false);
          this.asking.set([]);
        },
      });
  }
}
