/** Amounts are in the company's own currency unless another is named. */
import { Injectable, Pipe, inject, type PipeTransform } from '@angular/core';
import { Store } from '@ngrx/store';
import { sessionFeature } from '../client/session.state';

@Injectable({ providedIn: 'root' })
export class CompanyCurrency {
  /** Its code; empty before somebody has signed in. */
  readonly code = inject(Store).selectSignal(sessionFeature.selectCurrency);

  /** A text with the currency behind it, the company's where none is named: `1,250.00` is `1,250.00 EUR`, nothing is `EUR`. */
  readonly behind = (text: string, currency = ''): string => `${text} ${currency === '' ? this.code() : currency}`.trim();

  /** What an amount in another currency is in the books; empty of one in the company's own. */
  readonly inBooks = (amount: string, currency: string, rate: string): string =>
    currency === this.code() ? '' : `${this.behind(amount)}, ${currency} at ${rate}`;
}

@Pipe({ name: 'inCurrency' })
export class InCurrencyPipe implements PipeTransform {
  transform = inject(CompanyCurrency).behind;
}
