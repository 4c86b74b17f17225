import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { forkJoin } from 'rxjs';
import { api, type AnswerOf, type BalanceStrip } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';

interface StockState {
  readonly asked: string;
  readonly strip: BalanceStrip | null;
  readonly places: AnswerOf<typeof api.stores.places>;
  readonly holders: AnswerOf<typeof api.stores.holders>;
  readonly problem: Problem | null;
}

const initial: StockState = { asked: '', strip: null, places: [], holders: [], problem: null };

export const StockPanelStore = signalStore(
  withState(initial),
  withMethods((store, client = inject(ApiClient)) => {
    const load = (item: number, warehouse: number): void => {
      const asked = `${item} ${warehouse}`;
      patchState(store, { asked });
      forkJoin({
        strip: client.call(api.stores.strip, { query: { item, warehouse } }),
        places: client.call(api.stores.places, { params: { id: item } }),
        holders: client.call(api.stores.holders, { params: { id: item } }),
      }).subscribe({
        next: (found) => {
          if (store.asked() === asked) patchState(store, { ...found, problem: null });
        },
        error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
      });
    };
    return {
      load,
      release: (id: number): void => {
        client.call(api.stores.release, { params: { id } }).subscribe({
          next: () => patchState(store, { holders: store.holders().filter((each) => each.id !== id) }),
          error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
        });
      },
    };
  }),
);
