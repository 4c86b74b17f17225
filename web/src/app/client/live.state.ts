/** What others change, as it happens: one stream of server-sent events while somebody is signed in. */
import { inject } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { Observable, switchMap, takeUntil } from 'rxjs';
import type { LiveEvent } from '@terrace/contract';
import { sessionActions } from './session.state';

export const liveActions = createActionGroup({
  source: 'live',
  events: { heard: props<{ event: LiveEvent }>(), connected: emptyProps(), lost: emptyProps() },
});

interface LiveState {
  readonly connected: boolean;
  readonly last: LiveEvent | null;
}

export const liveFeature = createFeature({
  name: 'live',
  reducer: createReducer<LiveState>(
    { connected: false, last: null },
    on(liveActions.connected, (state): LiveState => ({ ...state, connected: true })),
    on(liveActions.lost, (state): LiveState => ({ ...state, connected: false })),
    on(liveActions.heard, (state, { event }): LiveState => ({ ...state, last: event })),
  ),
});

type Heard = ReturnType<typeof liveActions.heard> | ReturnType<typeof liveActions.connected> | ReturnType<typeof liveActions.lost>;

function listen(): Observable<Heard> {
  return new Observable<Heard>((observer) => {
    const source = new EventSource('/api/live');
    source.onopen = () => observer.next(liveActions.connected());
    source.onerror = () => observer.next(liveActions.lost());
    source.onmessage = (message: MessageEvent<string>) => observer.next(liveActions.heard({ event: JSON.parse(message.data) as LiveEvent }));
    return () => source.close();
  });
}

export const liveEffects = {
  listen: createEffect(
    (actions$ = inject(Actions)) =>
      actions$.pipe(
        ofType(sessionActions.signedIn),
        switchMap(() => listen().pipe(takeUntil(actions$.pipe(ofType(sessionActions.signedOut))))),
      ),
    { functional: true },
  ),
};
