/** The stand-in outbox: every mail that would have left, as it would have left. */
import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { api } from '@terrace/contract';
import { Beside } from '../ui/beside';
import { Grid } from '../ui/grid';
import type { GridColumn, GridRow } from '../ui/grid-cells';

@Component({
  imports: [Beside, Grid],
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
  protected readonly columns: readonly GridColumn[] = [
    { field: 'at', title: 'Sent', kind: 'moment', width: 104 },
    { field: 'to', title: 'To', kind: 'text' },
    { field: 'subject', title: 'Subject', kind: 'text' },
    { field: 'document', title: 'Document', kind: 'code', width: 100 },
  ];
}
