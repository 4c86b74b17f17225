/** Changes typed into a list: gathered, taken back one by one, saved in one transaction. */
import { computed, inject } from '@angular/core';
import { patchState, signalStoreFeature, withComputed, withMethods, withState } from '@ngrx/signals';
import type { Observable } from 'rxjs';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import type { GridEdit, GridPending, GridRow } from './grid-cells';

interface Step {
  readonly edits: readonly GridEdit[];
}

interface EditState {
  readonly editing: boolean;
  readonly steps: readonly Step[];
  readonly chosen: readonly GridRow[];
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: EditState = { editing: false, steps: [], chosen: [], busy: false, problem: null };

/** What a row is to be changed to. */
export interface ListChange {
  readonly id: number;
  readonly version: number;
  readonly fields: Readonly<Record<string, string>>;
}

/** The words that a cell shows of what is kept. */
function keptText(kept: unknown): string {
  return typeof kept === 'string' ? kept : kept === true ? 'yes' : kept === false ? 'no' : '';
}

/**
 * Editing in a list. `save` sends all changes; `applied` works out what a value given to several rows makes of a cell.
 */
export function withListEdits(
  save: (client: ApiClient, changes: ListChange[]) => Observable<{ readonly changed: number }>,
  applied: (current: string, value: string) => string = (_current, value) => value,
) {
  return signalStoreFeature(
    withState(initial),
    withComputed(({ steps }) => {
      const edits = computed(() => steps().flatMap((step) => step.edits));
      return {
        edits,
        /** The last value typed for each cell; a cell that is back at what is kept is none. */
        pending: computed((): GridPending => {
          const pending = new Map<number | string, Record<string, string>>();
          for (const { row, field, value } of edits()) {
            const { [field]: _before, ...rest } = pending.get(row.id) ?? {};
            const now = value === keptText(row[field]) ? rest : { ...rest, [field]: value };
            if (Object.keys(now).length === 0) pending.delete(row.id);
            else pending.set(row.id, now);
          }
          return pending;
        }),
      };
    }),
    withMethods((store, client = inject(ApiClient)) => ({
      begin: (): void => patchState(store, { ...initial, editing: true }),
      leave: (): void => patchState(store, initial),
      choose: (chosen: readonly GridRow[]): void => patchState(store, { chosen }),
      type: (edit: GridEdit): void => patchState(store, ({ steps }) => ({ steps: [...steps, { edits: [edit] }] })),
      /** Gives all chosen rows a value. */
      apply: (field: string, value: string): void => {
        const pending = store.pending();
        const edits = store.chosen().map((row): GridEdit => {
          const current = pending.get(row.id)?.[field] ?? (typeof row[field] === 'string' ? row[field] : '');
          return { row, field, value: applied(current, value) };
        });
        if (edits.length > 0) patchState(store, ({ steps }) => ({ steps: [...steps, { edits }] }));
      },
      undo: (): void => patchState(store, ({ steps }) => ({ steps: steps.slice(0, -1), problem: null })),
      save: (done: (changed: number) => void): void => {
        if (store.busy() || store.pending().size === 0) return;
        patchState(store, { busy: true, problem: null });
        const rows = new Map(store.edits().map(({ row }) => [row.id, row]));
        const changes = [...store.pending()].map(([id, fields]) => ({ id: Number(id), version: Number(rows.get(id)?.['version']), fields }));
        save(client, changes).subscribe({
          next: ({ changed }) => {
            patchState(store, { busy: false, steps: [] });
            done(changed);
          },
          error: (error: unknown) => {
            const problem = problemOf(error);
            const [, index = '', field = ''] = /^changes\.(\d+)\.?(.*)$/.exec(Object.keys(problem.fields)[0] ?? '') ?? [];
            const code = rows.get(changes[Number(index)]?.id ?? -1)?.['code'];
            if (typeof code === 'string') problem.message = `${code}${field === '' ? '' : `, ${field}`}: ${problem.message}`;
            patchState(store, { busy: false, problem });
          },
        });
      },
    })),
  );
}
