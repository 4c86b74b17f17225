/** Amounts are in the company's own currency unless another is named. */
import { Injectable, Pipe, inject, type PipeTransform } from '@angular/core';
import { Store } from '@ngrx/store';
import { sessionFeature } from '../client/session.state';

@Injectable({ providedIn: 'root' })
export class CompanyCurrency {
  /** Its code; empty before somebody has signed in. */
  readonly code = inject(Store).selectSignal(sessionFeature.selectCurrency);

  /** A text with the currency behind it: `1,250.00` is `1,250.00 EUR`, nothing is `EUR`. */
  readonly behind = (text: string): string => `${text} ${this.code()}`.trim();
}

@Pipe({ name: 'inCurrency' })
export class InCurrencyPipe implements PipeTransform {
  transform = inject(CompanyCurrency).behind;
}
