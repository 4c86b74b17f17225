/** A record on the screen: loaded, changed by commands, and loaded again when somebody else changes it. */
import { DestroyRef, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { patchState, signalStoreFeature, withHooks, withMethods, withState } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { debounceTime, filter } from 'rxjs';
import type { AnswerOf, AnyRoute, DocumentKind, LiveEvent, LiveTopic } from '@terrace/contract';
import { ApiClient, problemOf, type Call, type Problem } from '../client/api-client';
import { whenHeard, whenMissed } from '../client/heard';
import { liveFeature } from '../client/live.state';
import { sessionFeature } from '../client/session.state';

export interface RecordState<T> {
  readonly id: number;
  readonly record: T | null;
  readonly loading: boolean;
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** What somebody else has just done to it. */
  readonly news: string;
}

const TOGETHER_MS = 150;

/**
 * Adds a record to a store. It is loaded again when somebody changes it, and when anything is told of the topics that it
 * follows as it stands, like the plan.
 */
export function withRecord<T>(route: AnyRoute, kind: DocumentKind, follows: (record: T) => readonly LiveTopic[] = () => []) {
  const initial: RecordState<T> = { id: 0, record: null, loading: false, busy: false, problem: null, news: '' };
  return signalStoreFeature(
    withState(initial),
    withMethods((store, client = inject(ApiClient)) => {
      let turn = 0;
      let missed: string | null = null;
      // Only what was asked for last counts: an answer that comes late says what was.
      const load = (id: number, news = '', problem: Problem | null = null): void => {
        turn += 1;
        const mine = turn;
        patchState(store, (state) => ({ id, loading: true, problem, news, record: state.id === id ? state.record : null }));
        client.call(route, { params: { id } }).subscribe({
          next: (record) => {
            if (turn === mine) patchState(store, { record: record as T, loading: false });
          },
          error: (error: unknown) => {
            if (turn === mine) patchState(store, { loading: false, problem: problemOf(error) });
          },
        });
      };
      /** Others have changed it: loaded again, at once or when what is being done is answered. A refusal that is being read stays. */
      const hear = (news: string): void => {
        if (store.busy()) missed = news === '' ? (missed ?? '') : news;
        else load(store.id(), news, store.problem());
      };
      const answered = (): void => {
        if (missed === null) return;
        const news = missed;
        missed = null;
        hear(news);
      };
      return {
        load,
        hear,
        reload: (): void => load(store.id()),
        /** Sends a command; what it answers, or what `take` makes of it, becomes the record. */
        perform: <C extends AnyRoute>(command: C, call: Call<C>, done: (answer: AnswerOf<C>) => void = () => undefined, take = true): void => {
          if (store.busy()) return;
          patchState(store, { busy: true, problem: null, news: '' });
          const id = store.id();
          client.call(command, call).subscribe({
            next: (answer) => {
              if (take && store.id() === id) {
                turn += 1;
                patchState(store, { busy: false, loading: false, record: answer as T });
              } else patchState(store, { busy: false });
              done(answer);
              answered();
            },
            error: (error: unknown) => {
              patchState(store, { busy: false, problem: problemOf(error) });
              answered();
            },
          });
        },
        fail: (problem: Problem | null): void => patchState(store, { problem }),
      };
    }),
    withHooks((store, ngrx = inject(Store), destroyed = inject(DestroyRef)) => ({
      onInit: () => {
        const me = ngrx.selectSignal(sessionFeature.selectSession);
        ngrx
          .select(liveFeature.selectLast)
          .pipe(
            filter((event): event is LiveEvent => event !== null && event.topic === kind && event.id === store.id()),
            debounceTime(TOGETHER_MS),
            takeUntilDestroyed(destroyed),
          )
          .subscribe((event) => store.hear(event.userId === me()?.user.id ? '' : `${event.who}: ${event.what}`));
        const followed = (): readonly LiveTopic[] => {
          const record = store.record();
          return record ? follows(record) : [];
        };
        whenHeard(followed, () => store.hear(store.news()));
        // What follows others has heard of it already.
        whenMissed(() => {
          if (store.id() !== 0 && followed().length === 0) store.hear(store.news());
        });
      },
    })),
  );
}
