import { inject } from '@angular/core';
import { Router, type CanActivateFn } from '@angular/router';
import { Store } from '@ngrx/store';
import { catchError, map, of, switchMap, take } from 'rxjs';
import { api } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { sessionActions, sessionFeature } from '../client/session.state';

/** Lets in who is signed in, asking the server once; everybody else signs in first and then gets where they wanted. */
export const signedIn: CanActivateFn = (_route, state) => {
  const store = inject(Store);
  const client = inject(ApiClient);
  const router = inject(Router);
  return store.select(sessionFeature.selectSession).pipe(
    take(1),
    switchMap((session) => {
      if (session) return of(true);
      return client.call(api.platform.getSession).pipe(
        map((fresh) => {
          store.dispatch(sessionActions.signedIn({ session: fresh }));
          return true;
        }),
        catchError(() => of(router.createUrlTree(['/sign-in'], { queryParams: state.url === '/' ? {} : { then: state.url } }))),
      );
    }),
  );
};
