import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { api, type TodayView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

export const TodayStore = signalStore(
  withState<{ view: TodayView | null; problem: Problem | null }>({ view: null, problem: null }),
  withComputed(({ view }) => ({
    waiting: computed(() => view()?.waiting.filter((each) => each.count > 0) ?? []),
    nothing: computed(
      () =>
        view()
          ?.waiting.filter((each) => each.count === 0)
          .map((each) => each.label.toLowerCase()) ?? [],
    ),
  })),
  withMethods((store, client = inject(ApiClient)) => ({
    load: (): void => {
      client.call(api.platform.today).subscribe({
        next: (view) => patchState(store, { view, problem: null }),
        error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
      });
    },
  })),
);
