/** What others change, as it happens, while somebody is signed in. */
import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { map, switchMap, takeUntil } from 'rxjs';
import type { LiveEvent } from '@terrace/contract';
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

export const liveEffects = {
  listen: createEffect(
    (actions$ = inject(Actions)) =>
      actions$.pipe(
        ofType(sessionActions.signedIn),
        switchMap(() => sharedLive().pipe(map(actionOf), takeUntil(actions$.pipe(ofType(sessionActions.signedOut))))),
      ),
    { functional: true },
  ),
};
