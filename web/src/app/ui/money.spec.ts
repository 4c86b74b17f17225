import '@angular/compiler';
import { Injector, runInInjectionContext, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { describe, expect, it } from 'vitest';
import { sessionFeature } from '../client/session.state';
import { CompanyCurrency, InCurrencyPipe } from './money';

const code = signal('');
const store = { selectSignal: (selector: unknown) => (selector === sessionFeature.selectCurrency ? code : signal(undefined)) };
const injector = Injector.create({ providers: [{ provide: Store, useValue: store }, { provide: CompanyCurrency }] });

describe('the currency of the company', () => {
  it('stands behind amounts, once it is known', () => {
    const pipe = runInInjectionContext(injector, () => new InCurrencyPipe());
    expect(pipe.transform('12.00')).toBe('12.00');
    code.set('CHF');
    expect([pipe.transform('12.00'), pipe.transform('')]).toEqual(['12.00 CHF', 'CHF']);
  });

  it('is taken from the session', () => {
    const session = { currency: 'SEK' } as never;
    expect(sessionFeature.selectCurrency.projector(session)).toBe('SEK');
    expect(sessionFeature.selectCurrency.projector(null)).toBe('');
  });
});
