/** The outbox: every mail as it left, waits to leave, or would have left. */
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { Refused } from '../ui/refusal';

@Component({
  imports: [Beside, Grid, NzButtonModule, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h1 class="sr">Outbox</h1>
    <t-beside>
      <t-grid
        list
        name="outbox"
        [route]="route"
        [columns]="columns"
        [topics]="['mail']"
        emptyWords="Nothing has been sent yet."
        (pointed)="mail.set($event)"
      />
      <div record>
        @if (mail(); as each) {
          <div class="page">
            <h1>{{ each['subject'] }}</h1>
            <p class="quiet">to {{ each['to'] }}</p>
            <t-refusal [problem]="problem()" />
            <div class="acts">
              <span [class.trouble]="each['state'] === 'failed'">{{ stateWords(each) }}</span>
              @if (may() && each['state'] !== 'sent') {
                <button nz-button type="button" class="act small" (click)="send(+each.id)">
                  Send it {{ each['state'] === 'kept' ? 'after all' : 'again' }}
                </button>
              }
            </div>
            <section class="pane">
              <p style="white-space: pre-line">{{ each['body'] }}</p>
            </section>
            @if (each['attachment']) {
              <a class="act" [href]="'/api/outbox/' + each.id + '/attachment'" target="_blank">Open {{ each['attachment'] }}</a>
            } @else {
              <p class="quiet">The attachment is being rendered.</p>
            }
          </div>
        }
      </div>
    </t-beside>
  `,
  styles: ':host { display: block; height: 100%; }',
})
export class OutboxPage {
  protected readonly route = api.platform.outbox;
  protected readonly mail = signal<GridRow | null>(null);
  private readonly client = inject(ApiClient);
  private readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly may = computed(() => this.rights().has('setup.edit'));
  protected readonly problem = signal<Problem | null>(null);
  protected readonly columns: readonly GridColumn[] = [
    { field: 'at', title: 'Sent', kind: 'moment', width: 104 },
    { field: 'to', title: 'To', kind: 'text' },
    { field: 'subject', title: 'Subject', kind: 'text' },
    { field: 'document', title: 'Document', kind: 'code', width: 100 },
    { field: 'state', title: 'Now', kind: 'text', width: 80 },
  ];

  protected stateWords(mail: GridRow): string {
    const said = typeof mail['said'] === 'string' ? mail['said'] : '';
    switch (mail['state']) {
      case 'sent':
        return 'The mail server took it.';
      case 'waiting':
        return said === '' ? 'Waits for the mail server.' : `Waits; the mail server said: ${said}`;
      case 'failed':
        return `Not taken: ${said}`;
      default:
        return 'Kept here and not sent.';
    }
  }

  protected send(id: number): void {
    this.problem.set(null);
    this.client.call(api.setup.sendAgain, { params: { id } }).subscribe({ error: (error: unknown) => this.problem.set(problemOf(error)) });
  }
}
