/** All notices of this person, older ones too, and of which kinds they are told. */
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { api, noticeKinds, type NoticeKind } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { CheckField } from '../ui/check-field';
import { pageOf } from '../ui/documents';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow, GridView } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';
import { NOTICE_KINDS } from '../client/notice-kinds';

@Component({
  imports: [CheckField, Grid, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="page">
      <h1>Notices</h1>
      <t-refusal [problem]="problem()" />
      @if (muted(); as silent) {
        <fieldset>
          <legend class="quiet">Notify me of</legend>
          @for (kind of kinds; track kind) {
            <t-check [checked]="!silent.has(kind)" (checkedChange)="tell(kind, $event)">{{ words[kind] }}</t-check>
          }
        </fieldset>
      }
    </div>
    <t-grid
      name="notices"
      [route]="route"
      [columns]="columns"
      [views]="views"
      [topics]="['notice']"
      emptyWords="Nothing was told yet."
      (opened)="open($event)"
    />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      height: 100%;
    }
    fieldset {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 18px;
      margin: 0;
      padding: 0;
      border: 0;
    }
  `,
})
export class NoticesPage {
  private readonly client = inject(ApiClient);
  private readonly router = inject(Router);
  protected readonly route = api.platform.allNotices;
  protected readonly kinds = noticeKinds;
  protected readonly words = NOTICE_KINDS;
  protected readonly problem = signal<Problem | null>(null);
  protected readonly muted = signal<ReadonlySet<NoticeKind> | null>(null);
  protected readonly views: readonly GridView[] = [
    { key: 'all', title: 'All', filter: {} },
    { key: 'unread', title: 'Not read', filter: { read: { op: 'equals', value: 'false' } } },
  ];
  protected readonly columns: readonly GridColumn[] = [
    { field: 'day', title: 'On', kind: 'date', width: 90 },
    { field: 'text', title: 'What', kind: 'text' },
    {
      field: 'kind',
      title: 'Kind',
      kind: 'text',
      width: 220,
      says: (row) => (Object.hasOwn(NOTICE_KINDS, String(row['kind'])) ? NOTICE_KINDS[row['kind'] as NoticeKind] : ''),
    },
    { field: 'read', title: 'Read', kind: 'flag', width: 70 },
  ];

  constructor() {
    this.client.call(api.platform.mutedNotices).subscribe({
      next: ({ kinds }) => this.muted.set(new Set(kinds)),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected tell(kind: NoticeKind, told: boolean): void {
    const kinds = noticeKinds.filter((each) => (each === kind ? !told : this.muted()?.has(each)));
    this.client.call(api.platform.muteNotices, { body: { kinds } }).subscribe({
      next: (kept) => this.muted.set(new Set(kept.kinds)),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected open(row: GridRow): void {
    const [kind, id] = [row['linkKind'], row['linkId']];
    this.client.beside(api.platform.readNotices, { body: { ids: [Number(row.id)] } }, null).subscribe();
    const page = typeof kind === 'string' && typeof id === 'number' ? pageOf(kind, id) : null;
    if (page !== null) void this.router.navigateByUrl(page);
  }
}
