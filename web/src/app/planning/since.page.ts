/** How the plan differs from before: what is new, gone, moved or changed, and because of what. */
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { sessionActions, sessionFeature } from '../client/session.state';
import { Grid } from '../ui/grid';
import type { GridColumn, GridView } from '../ui/grid-cells';
import { PlanningNav } from './planning-nav';

const KEY = 'plan.seen';

@Component({
  imports: [NzButtonModule, Grid, PlanningNav],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Since last time</h1>
    <t-planning-nav />
    <div class="notes"></div>
    <t-grid
      name="plan-differences"
      [route]="route"
      [query]="query()"
      [columns]="columns"
      [views]="views"
      [topics]="['plan']"
      [emptyWords]="all() ? 'The plan has not changed.' : 'The plan says what it said when you last looked.'"
    >
      <button nz-button tool type="button" class="act small" [attr.aria-pressed]="all()" (click)="all.set(!all())">Earlier, too</button>
    </t-grid>
  `,
  styleUrl: './planning.less',
})
export class SincePage {
  private readonly ngrx = inject(Store);
  protected readonly route = api.planning.listDifferences;
  protected readonly all = signal(false);
  /** The plan's number when this person last looked here. */
  private readonly seen = Number(this.ngrx.selectSignal(sessionFeature.selectPreferences)()[KEY] ?? 0);
  protected readonly query = computed(() => ({ since: this.all() ? 0 : this.seen }));
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'new', title: 'New', filter: { change: { op: 'equals', value: 'new' } } },
    { key: 'gone', title: 'Gone', filter: { change: { op: 'equals', value: 'gone' } } },
    { key: 'moved', title: 'Moved', filter: { change: { op: 'equals', value: 'moved' } } },
    { key: 'changed', title: 'Changed', filter: { change: { op: 'equals', value: 'changed' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'change', title: 'Change', kind: 'text', width: 80 },
    { field: 'kind', title: 'To', kind: 'text', width: 74 },
    { field: 'code', title: 'Item', kind: 'code', width: 110 },
    { field: 'warehouse', title: 'For', kind: 'text', width: 76 },
    { field: 'before', title: 'Before', kind: 'text', width: 190, sortable: false },
    { field: 'after', title: 'Now', kind: 'text', width: 190, sortable: false },
    { field: 'cause', title: 'Because', kind: 'text', sortable: false },
    { field: 'seq', title: 'Plan', kind: 'count', width: 66, hidden: true },
  ];

  constructor() {
    let latest = this.seen;
    const [client, ask] = [inject(ApiClient), lastAsked()];
    const note = (): void => ask(client.beside(api.planning.getPlan, {}, null), { next: (plan) => (latest = plan?.seq ?? latest) });
    note();
    // What changes while one looks is seen, too.
    whenHeard(() => ['plan'], note);
    // What has been looked at is old the next time.
    inject(DestroyRef).onDestroy(() => this.ngrx.dispatch(sessionActions.keepPreference({ key: KEY, value: latest })));
  }
}
