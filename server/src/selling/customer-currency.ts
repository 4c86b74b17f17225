/** Orders are kept in the currency of the books. */
import { Refusal } from '@terrace/core';
import { booksCurrency } from '../catalogue';
import type { Work } from '../platform/work';

/**
 * Refuses `otherCurrency` for a customer who pays in another currency: what is printed for them would name amounts of the books as
 * if they were theirs.
 */
export function assertPaysInBooks(work: Work, customer: { readonly name: string; readonly currency: string }): void {
  const books = booksCurrency(work);
  if (customer.currency !== books)
    throw new Refusal(
      'otherCurrency',
      `${customer.name} pays in ${customer.currency}, and orders can be kept in ${books} only: agree on ${books} with them and set it on the customer.`,
      { field: 'customerId', currency: customer.currency },
    );
}
