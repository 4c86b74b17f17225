/** Who is signed in, what they may do, and how they like it. */
import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { createActionGroup, createFeature, createReducer, createSelector, emptyProps, on, props } from '@ngrx/store';
import { EMPTY, catchError, debounceTime, groupBy, map, mergeMap, of, switchMap, tap } from 'rxjs';
import { api, type Right, type Session } from '@terrace/contract';
import { ApiClient, problemOf } from './api-client';

export const sessionActions = createActionGroup({
  source: 'session',
  events: {
    'signed in': props<{ session: Session }>(),
    /** Something of it may have changed, such as what they may do. */
    renewed: props<{ session: Session }>(),
    'sign out': emptyProps(),
    'signed out': emptyProps(),
    /** They know of the attempts with their name. */
    'attempts read': emptyProps(),
    'choose warehouse': props<{ warehouseId: number }>(),
    'keep preference': props<{ key: string; value: unknown }>(),
    'not kept': props<{ message: string }>(),
    kept: emptyProps(),
  },
});

interface SessionState {
  readonly session: Session | null;
}

const initial: SessionState = { session: null };

export const sessionFeature = createFeature({
  name: 'session',
  reducer: createReducer(
    initial,
    on(sessionActions.signedIn, (_, { session }): SessionState => ({ session })),
    on(sessionActions.renewed, (state, { session }): SessionState => ({
      // What they like may be newer here than there, and of attempts one is told once.
      session: state.session && {
        ...session,
        preferences: state.session.preferences,
        warehouseId: state.session.warehouseId,
        attempts: state.session.attempts,
      },
    })),
    on(sessionActions.signedOut, (): SessionState => initial),
    on(sessionActions.attemptsRead, (state): SessionState => ({ session: state.session && { ...state.session, attempts: null } })),
    on(sessionActions.chooseWarehouse, (state, { warehouseId }): SessionState => ({ session: state.session && { ...state.session, warehouseId } })),
    on(sessionActions.keepPreference, (state, { key, value }): SessionState => ({
      session: state.session && { ...state.session, preferences: { ...state.session.preferences, [key]: value } },
    })),
  ),
  extraSelectors: ({ selectSession }) => ({
    selectRights: createSelector(selectSession, (session): ReadonlySet<Right> => new Set(session?.rights ?? [])),
    selectPreferences: createSelector(selectSession, (session) => session?.preferences ?? {}),
    selectCurrency: createSelector(selectSession, (session) => session?.currency ?? ''),
    selectToday: createSelector(selectSession, (session) => session?.today ?? ''),
    selectWarehouseId: createSelector(selectSession, (session) => session?.warehouseId ?? null),
  }),
});

const KEEP_AFTER_MS = 400;

export const sessionEffects = {
  within: createEffect(
    (actions$ = inject(Actions), client = inject(ApiClient)) =>
      actions$.pipe(
        ofType(sessionActions.signedIn, sessionActions.signedOut),
        tap(({ type }) => client.within(type === sessionActions.signedIn.type)),
      ),
    { functional: true, dispatch: false },
  ),
  keep: createEffect(
    (actions$ = inject(Actions), client = inject(ApiClient)) =>
      actions$.pipe(
        ofType(sessionActions.keepPreference, sessionActions.chooseWarehouse),
        map((action) => ('key' in action ? { key: action.key, value: action.value } : { key: 'warehouse', value: action.warehouseId })),
        groupBy(({ key }) => key),
        mergeMap((same) =>
          same.pipe(
            debounceTime(KEEP_AFTER_MS),
            switchMap(({ key, value }) =>
              client.call(api.platform.setPreference, { params: { key }, body: { value: value as never } }).pipe(
                map(() => sessionActions.kept()),
                catchError((error: unknown) => of(sessionActions.notKept({ message: error instanceof Error ? error.message : '' }))),
              ),
            ),
          ),
        ),
      ),
    { functional: true },
  ),
  signOut: createEffect(
    (actions$ = inject(Actions), client = inject(ApiClient)) =>
      actions$.pipe(
        ofType(sessionActions.signOut),
        switchMap(() =>
          client.call(api.platform.signOut).pipe(
            map(() => sessionActions.signedOut()),
            // Whoever the server does not answer is still signed in there, and should know it.
            catchError((error: unknown) => {
              client.tell(problemOf(error));
              return EMPTY;
            }),
          ),
        ),
      ),
    { functional: true },
  ),
  leave: createEffect(
    (actions$ = inject(Actions), router = inject(Router)) =>
      actions$.pipe(
        ofType(sessionActions.signedOut),
        tap(() => void router.navigateByUrl('/sign-in')),
      ),
    { functional: true, dispatch: false },
  ),
};
