/** The item in hand: what is typed, what its group gives, and what is there already that looks like it. */
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { rxMethod } from '@ngrx/signals/rxjs-interop';
import { EMPTY, catchError, debounceTime, distinctUntilChanged, pipe, switchMap, tap } from 'rxjs';
import { api, type AnswerOf, type GivenField, type ItemView } from '@terrace/contract';
import { moved, type Moving } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { rebased } from '../ui/rebase';
import { EMPTY_DRAFT, TYPED_FIELDS, draftOf, inputOf, valueOf, type ItemDraft } from './item-draft';

type Given = AnswerOf<typeof api.catalogue.groupGives>;
type Like = AnswerOf<typeof api.catalogue.likeItems>[number];

interface EditState {
  /** The item that is changed; none while one is set up. */
  readonly item: ItemView | null;
  /** Whether what is to be changed or copied is still to come. */
  readonly awaited: boolean;
  readonly draft: ItemDraft;
  readonly given: Given;
  /** What would differ in another group, and which of it comes along. */
  readonly moving: readonly (Moving & { readonly take: boolean })[];
  readonly like: readonly Like[];
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const initial: EditState = { item: null, awaited: false, draft: EMPTY_DRAFT, given: {}, moving: [], like: [], busy: false, problem: null };
const SETTLE_MS = 250;

export const ItemEditStore = signalStore(
  withState(initial),
  withComputed(({ draft, given, problem }) => ({
    fields: computed(() => problem()?.fields ?? {}),
    /** The unit that counts: typed, else the group's. */
    unit: computed(() => draft().typed.unit ?? given()['unit']?.value ?? ''),
    units: computed(() => [draft().typed.unit ?? given()['unit']?.value ?? '', ...draft().packs.map((pack) => pack.code)].filter(Boolean)),
  })),
  withMethods((store, client = inject(ApiClient)) => {
    const lookForDoubles = rxMethod<{ description: string; barcodes: string; except: number }>(
      pipe(
        debounceTime(SETTLE_MS),
        distinctUntilChanged((a, b) => a.description === b.description && a.barcodes === b.barcodes),
        switchMap((query) =>
          client.call(api.catalogue.likeItems, { query }).pipe(
            tap((like) => patchState(store, { like })),
            // A warning that can't be had holds nobody up: saving checks codes and barcodes by itself.
            catchError(() => EMPTY),
          ),
        ),
      ),
    );
    const set = (change: Partial<ItemDraft>): void => {
      patchState(store, ({ draft }) => ({ draft: { ...draft, ...change } }));
      const { description, barcodes } = store.draft();
      if (change.description !== undefined || change.barcodes !== undefined)
        lookForDoubles({ description, barcodes: barcodes.replace(/\S+:/g, ''), except: store.item()?.id ?? 0 });
    };
    const chooseGroup = (group: string): void => {
      set({ group });
      if (group === '') return;
      client.call(api.catalogue.groupGives, { query: { group } }).subscribe({
        next: (given) => {
          const item = store.item();
          const values = new Map(item ? TYPED_FIELDS.map((field) => [field, valueOf(item, field)] as const) : []);
          const follows = item ? TYPED_FIELDS.filter((field) => item.origins[field] !== undefined) : [];
          const asked = item && item.group !== group ? moved(values, follows, new Map(Object.entries(given) as [GivenField, Given[string]][])) : [];
          const locked = item?.locks ?? {};
          patchState(store, {
            given,
            moving: asked
              .filter((each) => each.field !== 'planning')
              .map((each) => ({ ...each, take: each.follows && locked[each.field] === undefined })),
          });
        },
        error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
      });
    };
    return {
      set,
      chooseGroup,
      /** Types a value that the group may give; with nothing it follows the group again. */
      type: (field: GivenField, value: string | undefined): void =>
        patchState(store, ({ draft }) => {
          const { [field]: _dropped, ...rest } = draft.typed;
          return { draft: { ...draft, typed: value === undefined || value === '' ? rest : { ...rest, [field]: value } } };
        }),
      takeAlong: (field: GivenField, take: boolean): void =>
        patchState(store, ({ moving }) => ({ moving: moving.map((each) => (each.field === field ? { ...each, take } : each)) })),
      load: (id: number, copy: boolean): void => {
        patchState(store, { awaited: true });
        client.call(api.catalogue.getItem, { params: { id } }).subscribe({
          next: (item) => {
            patchState(store, { item: copy ? null : item, awaited: false, draft: draftOf(item, copy), given: item.given, moving: [], problem: null });
            if (copy) set({ description: item.description });
          },
          error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
        });
      },
      /** Takes what another has saved meanwhile under what was typed here. */
      rebase: (): void => {
        const base = store.item();
        if (!base) return;
        client.call(api.catalogue.getItem, { params: { id: base.id } }).subscribe({
          next: (item) =>
            patchState(store, ({ draft }) => ({ item, draft: rebased(draftOf(base), draft, draftOf(item)), given: item.given, problem: null })),
          error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
        });
      },
      save: (done: (item: ItemView) => void): void => {
        if (store.busy() || store.awaited()) return;
        patchState(store, { busy: true, problem: null });
        const { item, draft, moving } = { item: store.item(), draft: store.draft(), moving: store.moving() };
        const typed = { ...draft.typed };
        for (const each of moving) {
          if (each.take) delete typed[each.field];
          else if (each.from !== '') typed[each.field] = each.from;
        }
        const body = inputOf({ ...draft, typed });
        const call = item
          ? client.call(api.catalogue.changeItem, { params: { id: item.id }, body: { ...body, version: item.version, active: item.active } })
          : client.call(api.catalogue.createItem, { body });
        call.subscribe({
          next: (saved) => {
            patchState(store, { busy: false });
            done(saved);
          },
          error: (error: unknown) => patchState(store, { busy: false, problem: problemOf(error) }),
        });
      },
    };
  }),
);
