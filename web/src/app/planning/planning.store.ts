import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { api, type PlanView, type ReleaseDocument, type SuggestionRow } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';

interface PlanningState {
  readonly plan: PlanView | null;
  readonly chosen: readonly number[];
  readonly at: number;
  readonly preview: readonly ReleaseDocument[] | null;
  readonly made: readonly ReleaseDocument[];
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: PlanningState = { plan: null, chosen: [], at: 0, preview: null, made: [], busy: false, problem: null };

export const PlanningStore = signalStore(
  withState(initial),
  withComputed(({ plan, at }) => ({
    suggestion: computed((): SuggestionRow | undefined => plan()?.suggestions.find((each) => each.id === at())),
    open: computed(() => plan()?.suggestions.filter((each) => each.released === null) ?? []),
  })),
  withMethods((store, client = inject(ApiClient)) => {
    const failed = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    const wish = (): { runId: number; suggestions: { id: number }[] } => ({
      runId: store.plan()?.run?.id ?? 0,
      suggestions: store.chosen().map((id) => ({ id })),
    });
    const load = (): void => {
      client.call(api.planning.getPlan).subscribe({ next: (plan) => patchState(store, { plan }), error: failed });
    };
    return {
      load,
      set: (change: Partial<PlanningState>): void => patchState(store, change),
      run: (): void => {
        patchState(store, { busy: true, problem: null, made: [] });
        client.call(api.planning.runPlan).subscribe({ next: (plan) => patchState(store, { plan, busy: false, chosen: [] }), error: failed });
      },
      look: (): void => {
        patchState(store, { busy: true, problem: null });
        client
          .call(api.planning.previewRelease, { body: wish() })
          .subscribe({ next: ({ documents }) => patchState(store, { preview: documents, busy: false }), error: failed });
      },
      release: (): void => {
        patchState(store, { busy: true, preview: null, problem: null });
        client.call(api.planning.release, { body: wish() }).subscribe({
          next: ({ documents }) => {
            patchState(store, { made: documents, busy: false, chosen: [] });
            load();
          },
          error: failed,
        });
      },
    };
  }),
);
