/** People and roles as the server has them, for the pages that change them. */
import { computed, inject, signal, type Signal, type WritableSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import { api, type PeopleView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';

export interface PeopleDesk {
  readonly view: WritableSignal<PeopleView | null>;
  readonly problem: Signal<Problem | null>;
  /** Whether whoever looks may change any of it. */
  readonly may: Signal<boolean>;
}

/** Loads them, now and whenever they change; `loaded` hears of each time. To be called where things can be injected. */
export function peopleDesk(loaded: () => void): PeopleDesk {
  const client = inject(ApiClient);
  const rights = inject(Store).selectSignal(sessionFeature.selectRights);
  const view = signal<PeopleView | null>(null);
  const problem = signal<Problem | null>(null);
  const load = (): void => {
    client.call(api.setup.people).subscribe({
      next: (fresh) => {
        view.set(fresh);
        loaded();
      },
      error: (error: unknown) => problem.set(problemOf(error)),
    });
  };
  load();
  whenHeard(() => ['setup'], load);
  return { view, problem: problem.asReadonly(), may: computed(() => rights().has('setup.people')) };
}
