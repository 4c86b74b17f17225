/** One suggestion beside the list, with what the plan counts with for its item; followed by name as the plan changes. */
import { inject } from '@angular/core';
import { patchState, signalStore, withHooks, withMethods, withState } from '@ngrx/signals';
import { switchMap, tap } from 'rxjs';
import { api, type ItemRecord, type SuggestionView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { lastAsked } from '../client/last-asked';
import { sendKept, type KeptFigures } from './suggestion-figures';

interface SuggestionState {
  readonly name: string;
  readonly suggestion: SuggestionView | null;
  readonly record: ItemRecord | null;
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** True once the plan has dropped it. */
  readonly gone: boolean;
}

const initial: SuggestionState = { name: '', suggestion: null, record: null, busy: false, problem: null, gone: false };

export const SuggestionStore = signalStore(
  withState(initial),
  withMethods((store, client = inject(ApiClient)) => {
    const failed = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    const ask = lastAsked();
    const load = (name: string): void => {
      patchState(store, name === store.name() ? { gone: false } : { name, suggestion: null, record: null, problem: null, gone: false });
      const found = client.call(api.planning.getSuggestion, { query: { name } }).pipe(
        tap((suggestion) => patchState(store, { suggestion })),
        switchMap(({ itemId, warehouseId }) => client.call(api.planning.getRecord, { params: { itemId, warehouseId } })),
      );
      ask(found, {
        next: (record) => patchState(store, { record }),
        error: (error: unknown) => {
          const problem = problemOf(error);
          patchState(store, problem.code === 'notFound' ? { gone: true } : { problem });
        },
      });
    };
    return {
      load,
      reload: (): void => {
        if (store.name() !== '' && !store.busy()) load(store.name());
      },
      /** Keeps the suggestion with these figures; `done` hears the number under which it is kept. */
      keep: (figures: KeptFigures, done: (number: string) => void): void => {
        const suggestion = store.suggestion();
        if (!suggestion || store.busy()) return;
        patchState(store, { busy: true, problem: null });
        const kept = (answer: { number: string }): void => {
          patchState(store, { busy: false });
          done(answer.number);
        };
        sendKept(client, suggestion, figures).subscribe({ next: kept, error: failed });
      },
      /** Leaves it to the plan again. */
      leave: (): void => {
        const id = store.suggestion()?.firmId;
        if (id === null || id === undefined || store.busy()) return;
        patchState(store, { busy: true, problem: null });
        client
          .call(api.planning.dropFirm, { params: { id } })
          .subscribe({ next: () => patchState(store, { busy: false, gone: true }), error: failed });
      },
      putAside: (until: string | null, note: string): void => {
        const suggestion = store.suggestion();
        if (!suggestion || store.busy()) return;
        patchState(store, { busy: true, problem: null });
        const { itemId, warehouseId } = suggestion;
        client.call(api.planning.ignoreSuggestions, { body: { itemId, warehouseId, until, note } }).subscribe({
          next: () => patchState(store, { busy: false }),
          error: failed,
        });
      },
    };
  }),
  withHooks({
    onInit: (store) => {
      whenHeard(
        () => ['plan'],
        () => store.reload(),
      );
    },
  }),
);
