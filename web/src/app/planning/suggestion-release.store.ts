/** Releasing what is chosen: first looked at, then made; refused where the plan says otherwise by now. */
import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { switchMap } from 'rxjs';
import { api, type ReleaseDocument } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

interface Chosen {
  readonly name: string;
  readonly seen: { readonly quantity: string; readonly due: string };
}

interface ReleaseState {
  readonly seq: number;
  readonly chosen: readonly Chosen[];
  readonly preview: readonly ReleaseDocument[] | null;
  readonly made: readonly ReleaseDocument[];
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: ReleaseState = { seq: 0, chosen: [], preview: null, made: [], busy: false, problem: null };

export const ReleaseStore = signalStore(
  withState(initial),
  withMethods((store, client = inject(ApiClient)) => {
    const failed = (error: unknown): void => patchState(store, { busy: false, preview: null, problem: problemOf(error) });
    const body = (withLevels: boolean): { seq: number; suggestions: Chosen[]; withLevels: boolean } => ({
      seq: store.seq(),
      suggestions: [...store.chosen()],
      withLevels,
    });
    return {
      choose: (chosen: readonly Chosen[]): void => patchState(store, { chosen }),
      forget: (): void => patchState(store, { made: [] }),
      drop: (): void => patchState(store, { preview: null }),
      /** Asks what a release would make, of the plan as it is now. */
      look: (withLevels: boolean): void => {
        if (store.busy()) return;
        patchState(store, { busy: true, problem: null });
        client
          .call(api.planning.getPlan)
          .pipe(
            switchMap(({ seq }) => {
              patchState(store, { seq });
              return client.call(api.planning.previewRelease, { body: body(withLevels) });
            }),
          )
          .subscribe({ next: ({ documents }) => patchState(store, { preview: documents, busy: false }), error: failed });
      },
      release: (withLevels: boolean): void => {
        if (store.busy()) return;
        patchState(store, { busy: true, problem: null });
        client.call(api.planning.release, { body: body(withLevels) }).subscribe({
          next: ({ documents }) => patchState(store, { made: documents, preview: null, busy: false, chosen: [] }),
          error: failed,
        });
      },
    };
  }),
);
