/** Changes typed into the item list: gathered, taken back one by one, saved in one transaction. */
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { api, bulkFields, type BulkField } from '@terrace/contract';
import { divideRounded, parsePrice, readDecimal, toScale, writePrice } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../shell/api-client';
import type { GridEdit, GridPending, GridRow } from '../ui/grid-cells';

interface Step {
  readonly edits: readonly GridEdit[];
}

interface ListState {
  readonly editing: boolean;
  readonly steps: readonly Step[];
  readonly chosen: readonly GridRow[];
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: ListState = { editing: false, steps: [], chosen: [], busy: false, problem: null };
const PERCENT = /^([+-]\d+(?:\.\d+)?)\s*%$/;

function isBulk(field: string): field is BulkField {
  return (bulkFields as readonly string[]).includes(field);
}

/** A price raised or lowered by a percentage, or the text as it is. */
export function appliedTo(current: string, value: string): string {
  const [, percent] = PERCENT.exec(value.trim()) ?? [];
  if (percent === undefined) return value;
  const points = toScale(readDecimal(percent.replace('+', '')) ?? { mantissa: 0n, scale: 0 }, 2) ?? 0n;
  const cents = divideRounded(BigInt(parsePrice(current)) * (10_000n + points), 100_000_000n);
  return writePrice(Number(cents) * 10_000);
}

export const ItemListStore = signalStore(
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
          const kept = row[field];
          const same = value === (typeof kept === 'string' ? kept : kept === true ? 'yes' : kept === false ? 'no' : '');
          const now = same ? rest : { ...rest, [field]: value };
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
    /** Gives all chosen rows a value; a percentage changes each price by it. */
    apply: (field: string, value: string): void => {
      const pending = store.pending();
      const edits = store.chosen().map((row): GridEdit => {
        const current = pending.get(row.id)?.[field] ?? (typeof row[field] === 'string' ? row[field] : '');
        return { row, field, value: appliedTo(current, value) };
      });
      if (edits.length > 0) patchState(store, ({ steps }) => ({ steps: [...steps, { edits }] }));
    },
    undo: (): void => patchState(store, ({ steps }) => ({ steps: steps.slice(0, -1), problem: null })),
    save: (done: (changed: number) => void): void => {
      if (store.busy() || store.pending().size === 0) return;
      patchState(store, { busy: true, problem: null });
      const rows = new Map(store.edits().map(({ row }) => [row.id, row]));
      const changes = [...store.pending()].map(([id, fields]) => ({
        id: Number(id),
        version: Number(rows.get(id)?.['version']),
        fields: Object.fromEntries(Object.entries(fields).filter(([field]) => isBulk(field))),
      }));
      client.call(api.catalogue.changeItems, { body: { changes } }).subscribe({
        next: ({ changed }) => {
          patchState(store, { busy: false, steps: [] });
          done(changed);
        },
        error: (error: unknown) => {
          const problem = problemOf(error);
          const [, index = '', field = ''] = /^changes\.(\d+)\.?(.*)$/.exec(Object.keys(problem.fields)[0] ?? '') ?? [];
          const row = rows.get(changes[Number(index)]?.id ?? -1);
          const code = row === undefined ? undefined : row['code'];
          const where = typeof code === 'string' ? new Map([['place', `${code}${field === '' ? '' : `, ${field}`}: `]]) : new Map<string, string>();
          problem.message = `${where.get('place') ?? ''}${problem.message}`;
          patchState(store, { busy: false, problem });
        },
      });
    },
  })),
);
