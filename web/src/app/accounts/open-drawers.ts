/** Where cash of a payment goes: the drawers that are open, asked for once somebody pays in cash. */
import { computed, effect, inject, signal, untracked, type Signal } from '@angular/core';
import { api, type AnswerOf } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

export type OpenDrawer = AnswerOf<typeof api.accounts.openDrawers>[number];

/** Drawers that are open, while cash is wanted; none in a currency that they don't hold. */
export function openDrawers(wanted: () => boolean, failed: (problem: Problem) => void): Signal<readonly OpenDrawer[]> {
  const client = inject(ApiClient);
  const drawers = signal<readonly OpenDrawer[]>([]);
  const asked = computed(wanted);
  effect(() => {
    if (!asked()) return drawers.set([]);
    untracked(() =>
      client
        .call(api.accounts.openDrawers, {})
        .subscribe({ next: (found) => drawers.set(found), error: (error: unknown) => failed(problemOf(error)) }),
    );
  });
  return drawers;
}

/** A drawer as a body names it: none where the cash is brought to the bank, or nobody pays in cash. */
export function drawerIn({ method, drawerId }: { readonly method: string; readonly drawerId: number }): number | null {
  return method === 'cash' && drawerId > 0 ? drawerId : null;
}
