/**
 * Something that people enter: the fields as Angular's form, the contract's rules said as soon as a field is left, what
 * the server refuses set on the field that it names, sending once at a time, and what is typed kept until it is saved.
 */
import { DestroyRef, computed, effect, inject, signal, untracked, type Signal, type WritableSignal } from '@angular/core';
import { form, validateTree, type FieldTree, type SchemaPath, type SchemaPathTree } from '@angular/forms/signals';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import type { Observable } from 'rxjs';
import type { AnyRoute } from '@terrace/contract';
import { problemOf, type Problem } from '../../client/api-client';
import { sessionFeature } from '../../client/session.state';
import { rebased } from '../rebase';
import { KeptEntries } from './kept-entries';
import { Leaving } from './leaving';
import { nearest, stillRefused } from './paths';

export interface EntryOptions<T extends object> {
  /** What is being entered; fields are bound to its parts. */
  readonly draft: WritableSignal<T>;
  /** The route that takes it, whose rules are said beforehand, and what would be sent. Places in both are named alike. */
  readonly route?: () => AnyRoute;
  readonly body?: (draft: T) => unknown;
  /** What was refused, where a store that sends it says so; without it the entry sends by itself. */
  readonly problem?: () => Problem | null;
  /** False where it is a part of a page that shows one record after the other: what is typed is asked about, but not kept over a reload. */
  readonly keeps?: boolean;
  /** More that holds of its fields, such as when one is off. */
  readonly shape?: (path: SchemaPathTree<T>) => void;
}

export interface Entry<T extends object> {
  /** Each part as a field, for `[formField]`. */
  readonly fields: FieldTree<T>;
  readonly problem: Signal<Problem | null>;
  readonly busy: Signal<boolean>;
  /** Whether something was typed that is not saved. */
  readonly typed: Signal<boolean>;
  /** Whether what was typed before the page was loaded again is here again. */
  readonly again: Signal<boolean>;
  /** What is refused where, for parts that say it themselves: by the server, and by the contract where a field was left. */
  readonly refused: Signal<Readonly<Record<string, string>>>;
  /** Begins with something that is kept, such as a record that was loaded: nothing is typed. */
  begin(draft: T): void;
  /** What is typed is typed over this: a record that was loaded, or loaded again. */
  over(base: T): void;
  /** It is saved, or not wanted any more: nothing is typed, and nothing is kept. */
  settle(): void;
  /** Gives parts that nobody has typed over a value of their own, such as the working warehouse once it is known. */
  preset(given: Partial<T>): void;
  /** Sends it, once at a time, and says what was refused. Leaving is free once it is done. */
  send<A>(call: Observable<A>, done: (answer: A) => void): void;
  refuse(problem: Problem | null): void;
  /** Throws away what was typed. */
  drop(): void;
}

/** To be called where things can be injected. */
export function entryOf<T extends object>({ draft, route, body, shape, keeps = true, problem: told }: EntryOptions<T>): Entry<T> {
  const store = inject(Store);
  const session = store.selectSignal(sessionFeature.selectSession);
  const leaving = inject(Leaving);
  const kept = new KeptEntries(keeps && typeof sessionStorage !== 'undefined' ? sessionStorage : null);
  const router = inject(Router);
  const nameNow = (): string => `${untracked(session)?.user.login ?? ''} ${router.url}`;
  let name = nameNow();
  /** What was kept when the page came, until a record has gone beneath it. */
  let before = kept.read(name) as { base: T; typed: T } | null;

  const own = signal<Problem | null>(null);
  const problem = computed(() => told?.() ?? own());
  const busy = signal(false);
  const again = signal(false);
  const base = signal<T>(untracked(draft));
  const saved = signal(false);
  const typed = computed(() => !saved() && JSON.stringify(draft()) !== JSON.stringify(base()));
  /** What was refused, and of what. */
  const refusal = computed(() => ({ fields: problem()?.fields ?? {}, of: problem() ? untracked(draft) : null }));
  const byServer = computed(() => stillRefused(refusal().fields, refusal().of, draft()));
  const byRules = computed((): Readonly<Record<string, string>> => {
    const read = route?.().body.safeParse(body ? body(draft()) : draft());
    return Object.fromEntries((read?.error?.issues ?? []).map((issue) => [issue.path.join('.'), issue.message]));
  });

  const fields = form(draft, (path) => {
    shape?.(path);
    validateTree(path as SchemaPath<T>, ({ value, fieldTree }) => {
      const of = (place: string): FieldTree<unknown> =>
        nearest(value(), place).reduce<unknown>((at, key) => (at as Readonly<Record<string, unknown>>)[key], fieldTree) as FieldTree<unknown>;
      const rules = Object.entries(byRules()).map(([place, message]) => ({ kind: 'rule', message, fieldTree: of(place) }));
      const server = Object.entries(byServer()).map(([place, message]) => ({ kind: 'refused', message, fieldTree: of(place) }));
      return [...server, ...rules] as never;
    });
  });

  const stateAt = (place: string): { touched: () => boolean; markAsTouched: () => void } | null => {
    const keys = nearest(draft(), place);
    if (keys.join('.') !== place) return null;
    const field = keys.reduce<unknown>((at, key) => (at as Readonly<Record<string, unknown>>)[key], fields);
    return typeof field === 'function' ? (field as () => { touched: () => boolean; markAsTouched: () => void })() : null;
  };
  const refused = computed(() => ({
    ...Object.fromEntries(Object.entries(byRules()).filter(([place]) => stateAt(place)?.touched() === true)),
    ...byServer(),
  }));

  const refuse = (now: Problem | null): void => own.set(now);
  const settle = (): void => {
    saved.set(true);
    again.set(false);
    kept.drop(name);
  };
  const restore = (): void => {
    if (before) draft.set(rebased(before.base, before.typed, untracked(draft)));
    again.set(before !== null);
  };
  restore();
  const over = (fresh: T): void => {
    if (name !== nameNow()) {
      name = nameNow();
      before = kept.read(name) as { base: T; typed: T } | null;
    }
    saved.set(false);
    base.set(fresh);
    restore();
    before = null;
  };
  // Whoever is refused something has left it.
  effect(() => {
    for (const place of Object.keys(problem()?.fields ?? {})) untracked(() => stateAt(place)?.markAsTouched());
  });
  effect(() => {
    if (typed()) kept.keep(name, { base: base(), typed: draft() });
    else if (!before) kept.drop(name);
  });
  inject(DestroyRef).onDestroy(leaving.watch({ typed, drop: settle }));

  return {
    fields,
    problem,
    busy: busy.asReadonly(),
    typed,
    again: again.asReadonly(),
    refused,
    begin: (fresh) => {
      own.set(null);
      draft.set(fresh);
      over(fresh);
    },
    over,
    settle,
    preset: (given) => {
      const before = untracked(base);
      const untyped = Object.entries(given).filter(([part]) => {
        const key = part as keyof T;
        return JSON.stringify(untracked(draft)[key]) === JSON.stringify(before[key]);
      });
      base.update((now) => ({ ...now, ...given }));
      if (untyped.length > 0) draft.update((now) => ({ ...now, ...(Object.fromEntries(untyped) as Partial<T>) }));
    },
    send: (call, done) => {
      if (busy()) return;
      busy.set(true);
      own.set(null);
      call.subscribe({
        next: (answer) => {
          busy.set(false);
          settle();
          done(answer);
        },
        error: (error: unknown) => {
          busy.set(false);
          refuse(problemOf(error));
        },
      });
    },
    refuse,
    drop: () => {
      kept.drop(name);
      again.set(false);
      saved.set(false);
      draft.set(untracked(base));
    },
  };
}
