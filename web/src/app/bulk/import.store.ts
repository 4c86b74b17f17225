/** The file in hand: sent, mapped, tried, taken. */
import { DestroyRef, computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withHooks, withMethods, withState } from '@ngrx/signals';
import { api, type AnswerOf, type ImportKind, type ImportRow, type ImportView, type Outcome } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

interface ImportStateOfPage {
  readonly kind: ImportKind;
  readonly view: ImportView | null;
  readonly rows: readonly ImportRow[];
  readonly total: number;
  readonly outcome: Outcome | '';
  readonly past: AnswerOf<typeof api.bulk.listImports>;
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: ImportStateOfPage = { kind: 'items', view: null, rows: [], total: 0, outcome: '', past: [], busy: false, problem: null };
const LOOK_MS = 400;
const ROWS = 300;

export const ImportStore = signalStore(
  withState(initial),
  withComputed(({ view }) => ({
    running: computed(() => view()?.state === 'trying' || view()?.state === 'taking'),
    good: computed(() => (view()?.counts.added ?? 0) + (view()?.counts.changed ?? 0)),
    missing: computed(() => {
      const mapped = new Set(view()?.headings.map((each) => each.column));
      return (view()?.columns ?? []).filter((column) => column.needed && !mapped.has(column.key)).map((column) => column.title);
    }),
  })),
  withMethods((store, client = inject(ApiClient)) => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const fail = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    const loadPast = (): void => {
      client.call(api.bulk.listImports).subscribe({ next: (list) => patchState(store, { past: list }), error: fail });
    };
    const show = (outcome: Outcome | ''): void => {
      const view = store.view();
      if (!view) return;
      patchState(store, { outcome });
      client.call(api.bulk.importRows, { params: { id: view.id }, query: { limit: ROWS, ...(outcome === '' ? {} : { outcome }) } }).subscribe({
        next: ({ rows, total }) => patchState(store, { rows, total }),
        error: fail,
      });
    };
    const follow = (view: ImportView): void => {
      const before = store.view()?.state;
      patchState(store, { view, busy: false });
      clearTimeout(timer);
      if (view.state === 'trying' || view.state === 'taking') {
        timer = setTimeout(() => client.call(api.bulk.getImport, { params: { id: view.id } }).subscribe({ next: follow, error: fail }), LOOK_MS);
      } else if (before === undefined) loadPast();
      else if (before === 'trying' || before === 'taking') {
        show(view.counts.refused > 0 ? 'refused' : '');
        loadPast();
      }
    };
    const act = (call: { subscribe: (observer: { next: (view: ImportView) => void; error: (error: unknown) => void }) => unknown }): void => {
      patchState(store, { busy: true, problem: null });
      call.subscribe({ next: follow, error: fail });
    };
    return {
      loadPast,
      show,
      choose: (kind: ImportKind): void => patchState(store, { kind, view: null, rows: [], total: 0, problem: null }),
      send: (file: File): void => {
        patchState(store, { view: null, rows: [], total: 0 });
        act(client.send<ImportView>(`/bulk/files/${store.kind()}`, file));
      },
      map: (heading: string, column: string): void =>
        patchState(store, ({ view }) => ({
          view: view && {
            ...view,
            headings: view.headings.map((each) =>
              each.heading === heading ? { ...each, column } : each.column === column && column !== '' ? { ...each, column: '' } : each,
            ),
          },
        })),
      read: (change: Partial<Pick<ImportView, 'decimals' | 'dates'>>): void =>
        patchState(store, ({ view }) => ({ view: view && { ...view, ...change } })),
      tryOut: (): void => {
        const view = store.view();
        if (!view || store.busy()) return;
        const mapping = Object.fromEntries(view.headings.map((each) => [each.heading, each.column]));
        patchState(store, { rows: [], total: 0 });
        act(client.call(api.bulk.tryImport, { params: { id: view.id }, body: { mapping, decimals: view.decimals, dates: view.dates } }));
      },
      take: (goodOnly: boolean): void => {
        const view = store.view();
        if (view && !store.busy()) act(client.call(api.bulk.takeImport, { params: { id: view.id }, body: { goodOnly } }));
      },
      stop: (): void => {
        const view = store.view();
        if (view) act(client.call(api.bulk.stopImport, { params: { id: view.id } }));
      },
      quiet: (): void => clearTimeout(timer),
    };
  }),
  withHooks((store, destroyed = inject(DestroyRef)) => ({
    onInit: () => {
      store.loadPast();
      destroyed.onDestroy(() => store.quiet());
    },
  })),
);
