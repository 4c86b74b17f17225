import '@angular/compiler';
import { Injector, runInInjectionContext } from '@angular/core';
import { Actions } from '@ngrx/effects';
import { Subject } from 'rxjs';
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { ApiClient, Problem } from './api-client';
import { sessionActions, sessionEffects } from './session.state';

/** What signing out comes to. */
function signingOut(client: FakeClient): { readonly done: unknown[]; readonly told: readonly Problem[] } {
  const actions = new Subject<unknown>();
  const injector = Injector.create({
    providers: [
      { provide: Actions, useValue: new Actions(actions as never) },
      { provide: ApiClient, useValue: client },
    ],
  });
  const done: unknown[] = [];
  runInInjectionContext(injector, () => sessionEffects.signOut()).subscribe((action) => done.push(action));
  actions.next(sessionActions.signOut());
  return { done, told: client.told };
}

describe('signing out', () => {
  it('is over when the server has ended the session', () => {
    const client = new FakeClient();
    client.answer(api.platform.signOut, () => ({}));
    expect(signingOut(client)).toEqual({ done: [sessionActions.signedOut()], told: [] });
  });

  it('is not pretended where the server does not answer: whoever is still signed in there should know it', () => {
    const client = new FakeClient();
    client.refuse(api.platform.signOut, new Problem('noAnswer', 'The server does not answer.', {}, {}));
    const { done, told } = signingOut(client);
    expect(done).toEqual([]);
    expect(told.map((each) => each.code)).toEqual(['noAnswer']);
  });
});
