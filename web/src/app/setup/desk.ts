/** What a page of the set-up shows: asked for as it opens, and again when others change it. */
import { computed, inject, signal, type Signal, type WritableSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import type { AnswerOf, AnyRoute, LiveTopic, Right } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { whenHeard } from '../client/heard';
import { sessionFeature } from '../client/session.state';

export interface Desk<A> {
  readonly view: WritableSignal<A | null>;
  readonly problem: WritableSignal<Problem | null>;
  /** Whether whoever looks may change any of it. */
  readonly may: Signal<boolean>;
}

export interface DeskOptions {
  /** What is heard of, where it is more than the set-up. */
  readonly topics?: readonly LiveTopic[];
  /** What it takes to change any of it. */
  readonly right?: Right;
  readonly loaded?: () => void;
}

/** To be called where things can be injected. */
export function deskOf<R extends AnyRoute>(route: R, { topics = ['setup'], right = 'setup.edit', loaded }: DeskOptions = {}): Desk<AnswerOf<R>> {
  const client = inject(ApiClient);
  const rights = inject(Store).selectSignal(sessionFeature.selectRights);
  const view = signal<AnswerOf<R> | null>(null);
  const problem = signal<Problem | null>(null);
  const load = (): void => {
    client.call(route).subscribe({
      next: (fresh) => {
        view.set(fresh);
        loaded?.();
      },
      error: (error: unknown) => problem.set(problemOf(error)),
    });
  };
  load();
  whenHeard(() => topics, load);
  return { view, problem, may: computed(() => rights().has(right)) };
}
