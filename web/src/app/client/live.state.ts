/** What others change, as it happens, while somebody is signed in. */
import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { EMPTY, catchError, debounceTime, filter, map, switchMap, takeUntil } from 'rxjs';
import { api, type LiveEvent } from '@terrace/contract';
import { ApiClient, problemOf } from './api-client';
import { sessionActions } from './session.state';
import { sharedLive, type LiveMessage } from './shared-live';

export const liveActions = createActionGroup({
  source: 'live',
  events: { heard: props<{ event: LiveEvent }>(), connected: props<{ again: boolean }>(), lost: emptyProps() },
});

interface LiveState {
  readonly connected: boolean;
  readonly last: LiveEvent | null;
  /** How often something may have been missed: whatever follows others is then fetched again. */
  readonly missed: number;
}

export const liveFeature = createFeature({
  name: 'live',
  reducer: createReducer<LiveState>(
    { connected: false, last: null, missed: 0 },
    on(liveActions.connected, (state, { again }): LiveState => ({ ...state, connected: true, missed: state.missed + (again ? 1 : 0) })),
    on(liveActions.lost, (state): LiveState => ({ ...state, connected: false })),
    on(liveActions.heard, (state, { event }): LiveState => ({ ...state, last: event })),
  ),
});

function actionOf(message: LiveMessage) {
  switch (message.kind) {
    case 'heard':
      return liveActions.heard({ event: message.event });
    case 'connected':
      return liveActions.connected({ again: message.again });
    case 'lost':
      return liveActions.lost();
  }
}

const TOGETHER_MS = 300;

export const liveEffects = {
  /** What somebody may do follows at once when an administrator changes it. */
  renew: createEffect(
    (actions$ = inject(Actions), client = inject(ApiClient)) =>
      actions$.pipe(
        ofType(liveActions.heard),
        filter(({ event }) => event.topic === 'setup'),
        debounceTime(TOGETHER_MS),
        switchMap(() =>
          client.call(api.platform.getSession).pipe(
            map((session) => sessionActions.renewed({ session })),
            catchError((error: unknown) => {
              client.tell(problemOf(error));
              return EMPTY;
            }),
          ),
        ),
      ),
    { functional: true },
  ),
  listen: createEffect(
    (actions$ = inject(Actions)) =>
      actions$.pipe(
        ofType(sessionActions.signedIn),
        switchMap(() => sharedLive().pipe(map(actionOf), takeUntil(actions$.pipe(ofType(sessionActions.signedOut))))),
      ),
    { functional: true },
  ),
};
