/** What the plan says about what is ordered already; moved or cancelled many at a time. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { switchMap } from 'rxjs';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';
import { focusActions } from '../shell/focus.state';
import { Choices } from '../shell/choices';
import { sessionFeature } from '../shell/session.state';
import { Confirm } from '../ui/confirm';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow, GridView } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { PlanningNav } from './planning-nav';

type Done = AnswerOf<typeof api.planning.applyExceptions>['done'];

@Component({
  imports: [Grid, Refused, Confirm, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Exceptions</h1>
    <t-planning-nav />
    <div class="notes">
      <t-refusal [problem]="problem()" />
      @if (done().length > 0) {
        <div class="band calm">
          <span>{{ words() }}. Suppliers who have the order are asked by mail.</span
          ><button type="button" class="act small" (click)="done.set([])">Hide</button>
        </div>
      }
    </div>
    <t-grid
      name="plan-exceptions"
      [route]="route"
      [columns]="columns"
      [views]="views"
      [topics]="['plan']"
      [several]="rights().has('planning.release')"
      emptyWords="What is ordered fits what is wanted."
      (pointed)="point($event)"
      (selected)="chosen.set($event)"
    >
      @if (rights().has('planning.release')) {
        <button
          tool
          type="button"
          class="act small"
          [class.first]="able().length > 0"
          [disabled]="busy() || able().length === 0"
          (click)="asked.set(true)"
        >
          Do what it says for {{ able().length }} …
        </button>
      }
    </t-grid>
    @if (asked()) {
      <t-confirm
        heading="Do what the plan says"
        [consequences]="able().length + ' orders are moved or cancelled; whoever has them is asked by mail.'"
        [action]="'Change ' + able().length"
        (agreed)="apply()"
        (dropped)="asked.set(false)"
      >
        <table class="sheet">
          <tbody>
            @for (each of able(); track each.id) {
              <tr>
                <td class="code">{{ each['subject'] }}</td>
                <td>{{ each['words'] }}</td>
              </tr>
            }
          </tbody>
        </table>
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
  protected readonly chosen = signal<readonly GridRow[]>([]);
  protected readonly asked = signal(false);
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
    { field: 'words', title: 'What', kind: 'text', width: 340, sortable: false },
    { field: 'subject', title: 'On', kind: 'code', width: 120 },
    { field: 'code', title: 'Item', kind: 'code', width: 110 },
    { field: 'description', title: 'Description', kind: 'text' },
    { field: 'warehouse', title: 'In', kind: 'text', width: 80 },
    { field: 'from', title: 'Now', kind: 'date', width: 76 },
    { field: 'to', title: 'Better', kind: 'date', width: 76 },
    { field: 'remedy', title: 'Can be done', kind: 'text', width: 110, sortable: false },
  ];

  protected able(): readonly GridRow[] {
    return this.chosen().filter((row) => row['remedy'] !== '');
  }

  protected words(): string {
    return this.done()
      .map((each) => each.words)
      .join('; ');
  }

  protected point(row: GridRow): void {
    const warehouseId = this.choices.all().warehouses.find((each) => each.code === row['warehouse'])?.id ?? null;
    this.ngrx.dispatch(focusActions.point({ itemId: Number(row['itemId']), warehouseId }));
  }

  protected apply(): void {
    if (this.busy()) return;
    const exceptions = this.able().map((row) => ({ kind: String(row['kind']), subject: String(row['subject']) }));
    this.busy.set(true);
    this.problem.set(null);
    this.client
      .call(api.planning.getPlan)
      .pipe(switchMap(({ seq }) => this.client.call(api.planning.applyExceptions, { body: { seq, exceptions } })))
      .subscribe({
        next: ({ done }) => {
          this.done.set(done);
          this.busy.set(false);
          this.asked.set(false);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
          this.busy.set(false);
          this.asked.set(false);
        },
      });
  }
}
