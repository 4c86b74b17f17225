/** What is supposed, and how the plan would be then; kept while one looks elsewhere, saved nowhere until it is adopted. */
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { api, type Adoption } from '@terrace/contract';
import type { Supposition } from '@terrace/core';
import { ApiClient, addressOf, problemOf, type Problem } from '../client/api-client';
import { WhatIfChannel } from './what-if.channel';
import type { CopyWords, WhatIfView } from './what-if.desk';

/** Something supposed, in effect or for the moment not. */
export interface Entry {
  readonly key: number;
  readonly supposition: Supposition;
  readonly words: string;
  readonly on: boolean;
  /** Why it could not be supposed on the newest copy; empty where it could. */
  readonly why: string;
}

interface WhatIfState {
  /** Who supposes. */
  readonly user: string;
  readonly copy: CopyWords | null;
  readonly entries: readonly Entry[];
  readonly view: WhatIfView | null;
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** True once the plan has changed since it was copied. */
  readonly behind: boolean;
  readonly done: readonly string[];
}

const initial: WhatIfState = { user: '', copy: null, entries: [], view: null, busy: false, problem: null, behind: false, done: [] };

export const WhatIfStore = signalStore(
  { providedIn: 'root' },
  withState(initial),
  withComputed(({ entries }) => ({
    inEffect: computed(() => entries().filter((each) => each.on)),
    /** Key of the supposition that is new the next time. */
    nextKey: computed(() => Math.max(0, ...entries().map((each) => each.key)) + 1),
  })),
  withMethods((store, client = inject(ApiClient), channel = inject(WhatIfChannel)) => {
    let latest = 0;
    const compute = async (entries: readonly Entry[]): Promise<void> => {
      latest += 1;
      const mine = latest;
      patchState(store, { busy: true, problem: null });
      const list = entries.filter((each) => each.on).map((each) => each.supposition);
      try {
        const view = await channel.ask({ about: 'suppose', list });
        if (mine === latest) patchState(store, { view, entries, busy: false });
      } catch (error) {
        // What is refused is not kept among what is supposed.
        if (mine === latest) patchState(store, { busy: false, problem: problemOf(error) });
      }
    };
    /** Supposes on a new copy what still holds there; what does not is left out and says why. */
    const supposeAgain = async (): Promise<void> => {
      for (;;) {
        const entries = store.entries();
        await compute(entries);
        const problem = store.problem();
        const refused = entries.filter((each) => each.on)[Number(Object.keys(problem?.fields ?? {})[0] ?? -1)];
        if (!problem || !refused) return;
        patchState(store, {
          problem: null,
          entries: entries.map((each) => (each === refused ? { ...each, on: false, why: problem.message } : each)),
        });
      }
    };
    const begin = async (): Promise<void> => {
      patchState(store, { busy: true, problem: null });
      try {
        const copy = await channel.ask({ about: 'begin', address: addressOf(api.planning.getPlanCopy) });
        patchState(store, { copy, behind: false });
      } catch (error) {
        patchState(store, { busy: false, problem: problemOf(error) });
        return;
      }
      await supposeAgain();
    };
    /** Hears that the plan has changed: without anything supposed the copy simply follows. */
    const planChanged = (): void => {
      const { copy, entries, busy } = { copy: store.copy(), entries: store.entries(), busy: store.busy() };
      if (!copy || busy) return;
      client.call(api.planning.getPlan).subscribe({
        next: ({ seq }) => {
          if (seq === copy.seq) return;
          if (entries.length === 0) void begin();
          else patchState(store, { behind: true });
        },
        error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
      });
    };
    return {
      begin,
      /** Somebody looks: what another person supposed in this window is theirs, and forgotten. */
      open: async (user: string): Promise<void> => {
        if (store.user() !== user) patchState(store, { ...initial, user });
        if (store.copy()) planChanged();
        else await begin();
      },
      /** Supposes one thing more. */
      add: (supposition: Supposition, words: string): Promise<void> =>
        compute([...store.entries(), { key: store.nextKey(), supposition, words, on: true, why: '' }]),
      /** Leaves one out for a moment, or takes it in again. */
      turn: (key: number): Promise<void> => compute(store.entries().map((each) => (each.key === key ? { ...each, on: !each.on, why: '' } : each))),
      drop: (key: number): Promise<void> => compute(store.entries().filter((each) => each.key !== key)),
      dropAll: (): Promise<void> => compute([]),
      planChanged,
      /** Makes what is in effect real; orders go to the customers that are named by key. */
      adopt: (customers: ReadonlyMap<number, number>, adopted: () => void): void => {
        const historyId = store.copy()?.historyId;
        if (store.busy() || historyId === undefined) return;
        patchState(store, { busy: true, problem: null });
        const suppositions = store.inEffect().map(({ key, supposition }): Adoption => {
          if (supposition.kind === 'order') {
            const { item, warehouse, quantity, date } = supposition;
            return { kind: 'order', item, warehouse, quantity, date, customerId: customers.get(key) ?? 0 };
          }
          return supposition;
        });
        client.call(api.planning.adopt, { body: { historyId, suppositions } }).subscribe({
          next: ({ done }) => {
            patchState(store, { done, entries: store.entries().filter((each) => !each.on) });
            adopted();
            void begin();
          },
          error: (error: unknown) => patchState(store, { busy: false, problem: problemOf(error) }),
        });
      },
      forgetDone: (): void => patchState(store, { done: [] }),
    };
  }),
);
