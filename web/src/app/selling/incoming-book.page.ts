/** The tray: orders that came as files, the chosen one beside; a file is read by choosing it or dropping it here. */
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { VIEWS, api } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { sessionFeature } from '../client/session.state';
import { Book, type BookOf } from '../ui/book';
import { FileField } from '../ui/file-field';
import { Refused } from '../ui/refusal';
import { IncomingPanel } from './incoming-panel';

@Component({
  imports: [Book, FileField, IncomingPanel, Refused],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="in">
      @if (rights().has('selling.edit')) {
        <t-file words="Read a file of orders" accept=".xml,.csv,.txt" [first]="true" (chosen)="read($event)" />
        <span class="quiet">UBL 2.1 Order, or CSV with order, customer, item and quantity. What matches becomes drafts at once.</span>
      }
      <span class="good" role="status">{{ done() }}</span>
      <t-refusal [problem]="problem()" />
    </div>
    <t-book [book]="book" [view]="view()">
      <ng-template let-id><t-incoming-panel [id]="id" /></ng-template>
    </t-book>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      height: 100%;
    }
    .in {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 12px;
      padding: 8px 12px;
      border-bottom: 1px solid var(--line);
    }
  `,
})
export class IncomingBookPage {
  /** The view that the address names. */
  readonly view = input<string>();
  private readonly client = inject(ApiClient);
  protected readonly rights = inject(Store).selectSignal(sessionFeature.selectRights);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly done = signal('');
  protected readonly book: BookOf = {
    heading: 'Orders from outside',
    name: 'incoming',
    route: api.incoming.listIncoming,
    topics: ['incomingOrder'],
    emptyWords: 'Nothing came. Read a file that a customer has sent.',
    page: '/selling/incoming',
    others: [{ words: 'Orders', page: '/selling' }],
    columns: [
      { field: 'number', title: 'Number', kind: 'code', width: 90 },
      { field: 'buyer', title: 'From', kind: 'text' },
      { field: 'reference', title: 'Their number', kind: 'code', width: 120 },
      { field: 'state', title: 'State', kind: 'state', width: 108 },
      { field: 'at', title: 'Came', kind: 'moment', width: 110, spare: 2 },
      { field: 'order', title: 'Order', kind: 'code', width: 88 },
      { field: 'fileName', title: 'File', kind: 'text', width: 150, spare: 1 },
    ],
    views: VIEWS.incoming,
  };

  protected read(file: File): void {
    this.problem.set(null);
    this.done.set('');
    file.text().then(
      (text) => this.send(file.name, text),
      (error: unknown) => this.problem.set(problemOf(error)),
    );
  }

  private send(name: string, text: string): void {
    this.client.call(api.incoming.receiveOrders, { body: { name, text } }).subscribe({
      next: (views) => {
        const taken = views.filter(({ state }) => state === 'taken').length;
        const left = views.length - taken;
        this.done.set(
          [taken > 0 ? `${taken} became ${taken === 1 ? 'a draft' : 'drafts'}` : '', left > 0 ? `${left} to mend` : ''].filter(Boolean).join(', ') +
            '.',
        );
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
