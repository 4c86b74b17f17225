import { inject } from '@angular/core';
import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { forkJoin, of } from 'rxjs';
import { api, type AnswerOf, type BalanceStrip, type BuildableView } from '@terrace/contract';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { lastAsked } from '../client/last-asked';

export type Face = 'where' | 'when' | 'which' | 'howMany';
export type PeriodLength = 'day' | 'week' | 'month';

interface StockState {
  readonly itemId: number;
  readonly warehouseId: number;
  readonly face: Face;
  readonly length: PeriodLength;
  readonly everywhere: boolean;
  readonly strip: BalanceStrip | null;
  readonly places: AnswerOf<typeof api.stores.places>;
  readonly holders: AnswerOf<typeof api.stores.holders>;
  readonly when: AnswerOf<typeof api.stores.when> | null;
  readonly variants: AnswerOf<typeof api.stores.variants> | null;
  readonly buildable: BuildableView | null;
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: StockState = {
  itemId: 0,
  warehouseId: 0,
  face: 'where',
  length: 'week',
  everywhere: false,
  strip: null,
  places: [],
  holders: [],
  when: null,
  variants: null,
  buildable: null,
  busy: false,
  problem: null,
};

/** One item's stock in a warehouse; each face is asked for when it is looked at. */
export const StockPanelStore = signalStore(
  withState(initial),
  withMethods((store, client = inject(ApiClient)) => {
    const fail = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    const [askItem, askFace] = [lastAsked(), lastAsked()];
    const taker = { next: (found: Partial<StockState>) => patchState(store, found), error: fail };
    const loadFace = (): void => {
      const [id, warehouse] = [store.itemId(), store.everywhere() ? undefined : store.warehouseId()];
      const params = { id };
      switch (store.face()) {
        case 'when':
          askFace(forkJoin({ when: client.call(api.stores.when, { params, query: { warehouse, length: store.length() } }) }), taker);
          break;
        case 'which':
          askFace(forkJoin({ variants: client.call(api.stores.variants, { params, query: { warehouse } }) }), taker);
          break;
        case 'howMany':
          askFace(forkJoin({ buildable: client.call(api.stores.howMany, { params, query: { warehouse: store.warehouseId() } }) }), taker);
          break;
        case 'where':
          askFace(of({}), taker);
          break;
      }
    };
    const load = (item: number, warehouse: number): void => {
      patchState(store, { itemId: item, warehouseId: warehouse, problem: null });
      askItem(
        forkJoin({
          strip: client.call(api.stores.strip, { query: { item, warehouse } }),
          places: client.call(api.stores.places, { params: { id: item } }),
          holders: client.call(api.stores.holders, { params: { id: item } }),
        }),
        taker,
      );
      loadFace();
    };
    return {
      load,
      turn: (face: Face): void => {
        patchState(store, { face });
        loadFace();
      },
      sum: (length: PeriodLength): void => {
        patchState(store, { length });
        loadFace();
      },
      look: (everywhere: boolean): void => {
        patchState(store, { everywhere });
        loadFace();
      },
      release: (id: number): void => {
        client.call(api.stores.release, { params: { id } }).subscribe({
          next: () => patchState(store, { holders: store.holders().filter((each) => each.id !== id) }),
          error: fail,
        });
      },
      /** Moves stock to another bin or state. */
      relocate: (
        line: {
          binId: number;
          toBinId: number;
          state: 'available' | 'held' | 'rejected';
          toState: 'available' | 'held' | 'rejected';
          quantity: string;
          lot: string;
          serial: string;
        },
        reason: string,
        done: () => void,
      ): void => {
        if (store.busy()) return;
        patchState(store, { busy: true, problem: null });
        const { lot, serial, ...rest } = line;
        const pieces = serial !== '' ? [{ serials: serial }] : lot !== '' ? [{ lot }] : undefined;
        client.call(api.stores.relocate, { body: { reason, lines: [{ itemId: store.itemId(), ...rest, pieces }] } }).subscribe({
          next: () => {
            patchState(store, { busy: false });
            load(store.itemId(), store.warehouseId());
            done();
          },
          error: fail,
        });
      },
    };
  }),
);
