/** What an adjustment is made of while it is typed: the change or the new quantity, each giving the other. */
import { computed, inject } from '@angular/core';
import { Router } from '@angular/router';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { api, type AnswerOf, type ItemChoice, type PieceInput } from '@terrace/contract';
import { asQuantity, parseQuantity, readDecimal, writeQuantity } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';

type Places = AnswerOf<typeof api.stores.places>;
type Holders = AnswerOf<typeof api.stores.holders>;
export type KeptState = 'available' | 'held' | 'rejected';

export interface AdjustLine {
  readonly item: ItemChoice;
  readonly tracking: 'none' | 'lot' | 'serial';
  readonly places: Places;
  readonly binId: number;
  readonly state: KeptState;
  readonly change: string;
  readonly target: string;
  readonly unitCost: string;
  readonly pieces: readonly PieceInput[];
}

interface AdjustState {
  readonly lines: readonly AdjustLine[];
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** Who holds what can't be taken, to release it here and now. */
  readonly holders: Holders;
}

const initial: AdjustState = { lines: [], busy: false, problem: null, holders: [] };

/** What lies in the place of a line, of its lot where it has one. */
export function thereOf(line: AdjustLine): string {
  const lot = line.tracking === 'lot' ? (line.pieces[0]?.lot ?? '') : '';
  const here = line.places.filter(
    (place) => place.binId === line.binId && place.state === line.state && (line.tracking !== 'lot' || lot === '' || place.lot === lot),
  );
  return writeQuantity(asQuantity(here.reduce((sum, place) => sum + parseQuantity(place.quantity, 5), 0)));
}

/** There plus the change gives the new quantity, the new quantity less there the change; empty for what is no number. */
export function combine(text: string, there: string, sign: 1 | -1): string {
  if (!readDecimal(text)) return '';
  return writeQuantity(asQuantity(parseQuantity(text, 5) + sign * parseQuantity(there, 5)));
}

export const AdjustStore = signalStore(
  withState(initial),
  withComputed(({ lines }) => ({ ready: computed(() => lines().length > 0 && lines().every((line) => line.change !== '' && line.change !== '0')) })),
  withMethods((store, client = inject(ApiClient), router = inject(Router)) => {
    const put = (index: number, change: Partial<AdjustLine>): void =>
      patchState(store, { lines: store.lines().map((line, at) => (at === index ? { ...line, ...change } : line)) });
    const fail = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    return {
      /** Adds a line for an item, in the bin that holds most of it. */
      add: (item: ItemChoice, warehouseId: number, firstBin: number): void => {
        client.call(api.stores.places, { params: { id: item.id } }).subscribe({
          next: (all) => {
            const places = all.filter((place) => place.warehouseId === warehouseId);
            const most = [...places].sort((a, b) => Number(b.quantity) - Number(a.quantity))[0];
            client.call(api.catalogue.getItem, { params: { id: item.id } }).subscribe({
              next: ({ tracking }) => {
                const line: AdjustLine = {
                  item,
                  tracking,
                  places,
                  binId: most?.binId ?? firstBin,
                  state: 'available',
                  change: '',
                  target: '',
                  unitCost: '',
                  pieces: [],
                };
                patchState(store, { lines: [...store.lines(), line], problem: null });
              },
              error: fail,
            });
          },
          error: fail,
        });
      },
      drop: (index: number): void => patchState(store, { lines: store.lines().filter((_, at) => at !== index), problem: null }),
      typeChange: (index: number, change: string): void => {
        const line = store.lines()[index];
        if (line) put(index, { change, target: combine(change, thereOf(line), 1) });
      },
      typeTarget: (index: number, target: string): void => {
        const line = store.lines()[index];
        if (line) put(index, { target, change: combine(target, thereOf(line), -1) });
      },
      /** Another place or lot: the change stays, what there is is another. */
      place: (index: number, change: Partial<Pick<AdjustLine, 'binId' | 'state' | 'pieces' | 'unitCost'>>): void => {
        put(index, change);
        const line = store.lines()[index];
        if (line && line.change !== '') put(index, { target: combine(line.change, thereOf(line), 1) });
      },
      release: (id: number): void => {
        client.call(api.stores.release, { params: { id } }).subscribe({
          next: () => {
            const holders = store.holders().filter((each) => each.id !== id);
            patchState(store, { holders, problem: holders.length === 0 ? null : store.problem() });
          },
          error: fail,
        });
      },
      /** Takes lines that were typed before. */
      restore: (lines: readonly AdjustLine[]): void => patchState(store, { lines }),
      save: (header: { warehouseId: number; reason: string; note: string; date: string }, done: () => void = () => undefined): void => {
        if (store.busy() || !store.ready()) return;
        patchState(store, { busy: true, problem: null, holders: [] });
        const { date, ...rest } = header;
        const lines = store.lines().map((line) => ({
          itemId: line.item.id,
          binId: line.binId,
          change: line.change,
          state: line.state,
          ...(line.unitCost === '' ? {} : { unitCost: line.unitCost }),
          ...(line.pieces.length === 0 ? {} : { pieces: line.pieces.map((piece) => ({ ...piece, quantity: piece.quantity?.replace(/^-/, '') })) }),
        }));
        client.call(api.stores.adjust, { body: { ...rest, ...(date === '' ? {} : { date }), lines } }).subscribe({
          next: ({ id }) => {
            done();
            void router.navigate(['/stores/adjustments', id]);
          },
          error: (error: unknown) => {
            fail(error);
            const held = store.problem()?.code === 'heldByOthers' ? store.lines() : [];
            for (const line of held)
              client.call(api.stores.holders, { params: { id: line.item.id } }).subscribe({
                next: (holders) => patchState(store, { holders: [...store.holders(), ...holders] }),
                error: fail,
              });
          },
        });
      },
    };
  }),
);
