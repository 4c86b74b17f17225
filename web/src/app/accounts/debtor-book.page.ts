/** Who owes what, and how old it is; the account of the chosen customer beside. */
import { ChangeDetectionStrategy, Component } from '@angular/core';
import { api } from '@terrace/contract';
import { ageBands } from '@terrace/core';
import { Book, type BookOf } from '../ui/book';
import type { GridColumn, GridRow } from '../ui/grid-cells';
import { BAND_TITLES, REMINDED_WORDS } from './account-words';
import { CustomerAccountPanel } from './customer-account';

const nothing = (field: string) => (row: GridRow) => (row[field] === '0.00' ? '' : undefined);
const amount = (field: string, title: string, more: Partial<GridColumn> = {}): GridColumn => ({
  field,
  title,
  kind: 'figure',
  width: 110,
  says: nothing(field),
  ...more,
});

@Component({
  imports: [Book, CustomerAccountPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <t-book [book]="book">
      <ng-template let-id><t-customer-account [id]="id" /></ng-template>
    </t-book>
  `,
})
export class DebtorBookPage {
  protected readonly book: BookOf = {
    heading: 'Who owes what',
    name: 'debtors',
    route: api.accounts.debtors,
    topics: ['invoice', 'payment'],
    emptyWords: 'Nobody owes anything.',
    page: '/accounts/customers',
    others: [
      { words: 'Remind', page: '/accounts/reminders' },
      { words: 'Invoices', page: '/accounts' },
      { words: 'Payments', page: '/accounts/payments' },
    ],
    columns: [
      { field: 'customer', title: 'Customer', kind: 'text' },
      amount('balance', 'Owes', { money: true, width: 104 }),
      amount('overdue', 'Overdue', { money: true, width: 110 }),
      ...ageBands.map((band, at) => amount(band, BAND_TITLES[band], { spare: at + 2 })),
      amount('credit', 'Credit', { spare: 8 }),
      { field: 'currency', title: 'Pays in', kind: 'text', width: 80, hidden: true },
      {
        field: 'reminded',
        title: 'Reminded',
        kind: 'text',
        width: 100,
        spare: 1,
        says: (row) => REMINDED_WORDS[Number(row['reminded'])] ?? '',
      },
    ],
  };
}
