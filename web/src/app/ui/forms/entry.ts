/**
 * Something that people enter: the fields as Angular's form, the contract's rules said as soon as a field is left, what
 * the server refuses set on the field that it names, sending once at a time, and what is typed kept until it is saved.
 */
import { DestroyRef, Injector, afterNextRender, computed, effect, inject, signal, untracked, type Signal, type WritableSignal } from '@angular/core';
import { disabled, form, validateTree, type FieldTree, type SchemaPath, type SchemaPathTree } from '@angular/forms/signals';
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
  /** Where a page has several: which of them it is. It waits until something is begun. */
  readonly part?: () => string;
  /** The route that takes it, whose rules are said beforehand, and what would be sent; no route, no rules yet. */
  readonly route?: () => AnyRoute | null;
  readonly body?: (draft: T) => unknown;
  /** Where a place of what is sent stands in the draft; they are named alike unless this says otherwise. */
  readonly place?: (place: string, draft: T) => string;
  /** What was refused, where a store that sends it says so; without it the entry sends by itself. */
  readonly problem?: () => Problem | null;
  /** False where it is a part of a page that shows one record after the other: what is typed is asked about, but not kept over a reload. */
  readonly keeps?: boolean;
  /** False while what is to be changed has not been loaded: nothing can be typed or sent before. */
  readonly ready?: () => boolean;
  /** More that holds of its fields, such as when one is off. */
  readonly shape?: (path: SchemaPathTree<T>) => void;
}

export interface Entry<T extends object> {
  /** Each part as a field, for `[formField]`. */
  readonly fields: FieldTree<T>;
  readonly problem: Signal<Problem | null>;
  readonly busy: Signal<boolean>;
  /** Whether what is to be changed is there, so that something can be typed. */
  readonly ready: Signal<boolean>;
  /** Whether something was typed that is not saved. */
  readonly typed: Signal<boolean>;
  /** Whether what was typed before the page was loaded again is here again. */
  readonly again: Signal<boolean>;
  /** What was begun with before the page was loaded again, while what was typed over it waits to be begun again. */
  waiting(): T | null;
  /** What is refused where, for parts that say it themselves: by the server, and by the contract where a field was left. */
  readonly refused: Signal<Readonly<Record<string, string>>>;
  /** Begins with something that is kept, such as a record that was loaded: nothing is typed. */
  begin(draft: T): void;
  /** What is typed is typed over this: a record that was loaded, or loaded again. */
  over(base: T): void;
  /** What is typed goes on top of what the record has become; after it was saved, nothing is. */
  onto(fresh: T): void;
  /** It is saved, or not wanted any more: nothing is typed, and nothing is kept. */
  settle(): void;
  /** Gives parts that nobody has typed over a value of their own, such as the working warehouse once it is known. */
  preset(given: Partial<T>): void;
  /**
   * Sends it, once at a time, and says what was refused. Leaving is free once it is done; where only a part is sent, the
   * rest stays typed, and what is done about that part is said by whoever sends it.
   */
  send<A>(call: Observable<A>, done: (answer: A) => void, sent?: 'all' | 'part'): void;
  refuse(problem: Problem | null): void;
  /** Throws away what was typed. */
  drop(): void;
}

/** To be called where things can be injected. */
export function entryOf<T extends object>(options: EntryOptions<T>): Entry<T> {
  const { draft, part, route, body, place, shape, keeps = true, problem: told } = options;
  const ready = computed(() => options.ready?.() ?? true);
  const store = inject(Store);
  const session = store.selectSignal(sessionFeature.selectSession);
  const leaving = inject(Leaving);
  const kept = new KeptEntries(keeps && typeof sessionStorage !== 'undefined' ? sessionStorage : null);
  const router = inject(Router);
  const nameNow = (): string => `${untracked(session)?.user.login ?? ''} ${router.url}${part ? ` ${untracked(part)}` : ''}`;
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
  const placed = (fields: Readonly<Record<string, string>>, of: T): Readonly<Record<string, string>> =>
    place ? Object.fromEntries(Object.entries(fields).map(([at, message]) => [place(at, of), message])) : fields;
  const refusal = computed(() => {
    const refused = problem();
    const of = untracked(draft);
    return refused ? { fields: placed(refused.fields, of), of } : { fields: {}, of: null };
  });
  const byServer = computed(() => stillRefused(refusal().fields, refusal().of, draft()));
  const byRules = computed((): Readonly<Record<string, string>> => {
    const read = route?.()?.body.safeParse(body ? body(draft()) : draft());
    return placed(Object.fromEntries((read?.error?.issues ?? []).map((issue) => [issue.path.join('.'), issue.message])), draft());
  });

  const fields = form(draft, (path) => {
    shape?.(path);
    disabled(path as SchemaPath<T>, () => !ready());
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
  if (!part) restore();
  const renamed = (): void => {
    if (name === nameNow()) return;
    name = nameNow();
    before = kept.read(name) as { base: T; typed: T } | null;
  };
  const over = (fresh: T): void => {
    renamed();
    saved.set(false);
    base.set(fresh);
    restore();
    before = null;
  };
  const begin = (fresh: T): void => {
    own.set(null);
    draft.set(fresh);
    over(fresh);
  };
  // Whoever is refused something has left it.
  effect(() => {
    for (const place of Object.keys(refusal().fields)) untracked(() => stateAt(place)?.markAsTouched());
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
    ready,
    typed,
    again: again.asReadonly(),
    waiting: () => {
      renamed();
      return before?.base ?? null;
    },
    refused,
    begin,
    over,
    onto: (fresh) => {
      if (untracked(saved)) {
        begin(fresh);
        return;
      }
      draft.set(rebased(untracked(base), untracked(draft), fresh));
      base.set(fresh);
    },
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
    send: (call, done, sent = 'all') => {
      if (busy() || !ready()) return;
      busy.set(true);
      own.set(null);
      call.subscribe({
        next: (answer) => {
          busy.set(false);
          if (sent === 'all') settle();
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

/** Where somebody begins to type, once there is something to type into. To be called where things can be injected. */
export function beginsAt(entry: Pick<Entry<object>, 'ready'>, field: () => { focus(): void } | undefined): void {
  const injector = inject(Injector);
  effect(() => {
    if (entry.ready()) afterNextRender(() => untracked(field)?.focus(), { injector });
  });
}

interface Versioned {
  readonly id: number;
  readonly version: number;
}

/**
 * An entry over a record on the screen: it begins anew with another record, and what is typed goes on top of what others,
 * or what was sent, make of it meanwhile.
 */
export function overRecord<R extends Versioned, T extends object>(entry: Entry<T>, record: () => R | null, make: (record: R) => T): void {
  // A signal of its own, since the same version loaded again is no reason to do anything.
  const version = computed(() => {
    const kept = record();
    return kept === null ? '' : `${kept.id} ${kept.version}`;
  });
  let shown: number | null = null;
  effect(() => {
    if (version() === '') return;
    untracked(() => {
      const kept = record();
      if (!kept) return;
      if (kept.id === shown) entry.onto(make(kept));
      else entry.begin(make(kept));
      shown = kept.id;
    });
  });
}
