/**
 * Suggestions changed in the list itself: what is typed into a cell is kept at once, so that the plan, and with it the
 * balance strip, answers. What is refused stays in its cell, with the reason above the list.
 */
import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { Refusal, addDays, dayOf } from '@terrace/core';
import { api, type SuggestionView } from '@terrace/contract';
import { ApiClient, Problem, problemOf } from '../client/api-client';
import { Choices } from '../client/choices';
import type { GridEdit, GridPending } from '../ui/grid-cells';
import { figuresOf, sendKept, type KeptFigures } from './suggestion-figures';

interface RowsState {
  readonly pending: GridPending;
  readonly problem: Problem | null;
}

interface Warehouse {
  readonly id: number;
  readonly code: string;
}

const TRANSFER = /^transfer from (.+)$/;

/** The ways to supply an item that a cell offers: buy, make, or bring it over from each other warehouse. */
export function waysFor(warehouseId: number, warehouses: readonly Warehouse[]): string[] {
  return ['buy', 'make', ...warehouses.filter((each) => each.id !== warehouseId).map((each) => `transfer from ${each.code}`)];
}

/** A day that moves the other with it, by as many days; nothing is placed before today. */
function moved(day: string, from: string, to: string, today: string): string {
  const other = addDays(to, dayOf(day) - dayOf(from));
  return other < today ? today : other;
}

/**
 * The figures of a suggestion with one cell as it was typed. Refuses `notOffered` for a supplier who does not sell the
 * item, naming those who do, and for a way that there is none of.
 */
export function withCell(each: SuggestionView, field: string, value: string, warehouses: readonly Warehouse[], today: string): KeptFigures {
  const now = figuresOf(each, warehouses);
  const { placeBy, due } = now;
  if (field === 'quantity') return { ...now, quantity: value };
  if (field === 'due') return { ...now, due: value, placeBy: moved(placeBy, due, value, today) };
  if (field === 'placeBy') return { ...now, placeBy: value, due: moved(due, placeBy, value, today) };
  if (field === 'supplier') {
    const words = value.trim().toLowerCase();
    const named = each.choices.filter((one) => words !== '' && one.supplier.toLowerCase().startsWith(words));
    const [supplier] = named;
    if (supplier && named.length === 1) return { ...now, kind: 'buy', supplierId: supplier.supplierId };
    const who = each.choices.map((one) => one.supplier).join(', ');
    throw new Refusal('notOffered', who === '' ? `No supplier sells ${each.code} yet.` : `“${value}” does not sell ${each.code}: ${who} can.`);
  }
  const [, code] = TRANSFER.exec(value) ?? [];
  const source = warehouses.find((one) => one.code === code);
  if (source) return { ...now, kind: 'transfer', fromId: source.id };
  if (value === 'buy' || value === 'make') return { ...now, kind: value };
  throw new Refusal('notOffered', `“${value}” is no way to get ${each.code}.`);
}

function without(pending: GridPending, row: number | string): GridPending {
  return new Map([...pending].filter(([id]) => id !== row));
}

export const SuggestionRowsStore = signalStore(
  withState<RowsState>({ pending: new Map(), problem: null }),
  withMethods((store, client = inject(ApiClient), choices = inject(Choices)) => ({
    /** Keeps a suggestion as one of its cells was typed; `done` hears the number under which it is kept. */
    type: ({ row, field, value }: GridEdit, today: string, done: (number: string) => void): void => {
      if (value === row[field]) {
        patchState(store, ({ pending }) => ({ pending: without(pending, row.id), problem: null }));
        return;
      }
      patchState(store, ({ pending }) => ({ pending: new Map([...pending, [row.id, { ...pending.get(row.id), [field]: value }]]), problem: null }));
      const name = String(row.id);
      const refused = (error: unknown): void => {
        const problem = error instanceof Refusal ? new Problem(error.code, error.message, {}, {}) : problemOf(error);
        problem.message = `${String(row['code'])}: ${problem.message}`;
        patchState(store, { problem });
      };
      const kept = ({ number }: { number: string }): void => {
        patchState(store, ({ pending }) => ({ pending: without(pending, row.id) }));
        done(number);
      };
      const keep = (suggestion: SuggestionView): void => {
        let figures: KeptFigures;
        try {
          figures = withCell(suggestion, field, value, choices.all().warehouses, today);
        } catch (error) {
          refused(error);
          return;
        }
        sendKept(client, suggestion, figures).subscribe({ next: kept, error: refused });
      };
      client.call(api.planning.getSuggestion, { query: { name } }).subscribe({ next: keep, error: refused });
    },
    /** Drops what was typed and refused. */
    forget: (): void => patchState(store, { pending: new Map(), problem: null }),
  })),
);
