/** The basket at the counter: what was scanned, what it comes to, how it is paid, and what became of it. */
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { rxMethod } from '@ngrx/signals/rxjs-interop';
import { EMPTY, catchError, debounceTime, pipe, switchMap, tap } from 'rxjs';
import {
  api,
  type AnswerOf,
  type BodyIn,
  type DrawerView,
  type ItemChoice,
  type PricedBasket,
  type SaleView,
  type ScanView,
} from '@terrace/contract';
import { QUANTITY_SCALE, addQuantities, parseAmount, parseQuantity, readEntry, readPayment, tender, writeAmount, writeQuantity } from '@terrace/core';
import { ApiClient, Problem, problemOf } from '../client/api-client';
import { typedAmount } from '../ui/typed-amount';
import type { BasketLine } from './basket';

export type Parked = AnswerOf<typeof api.counter.listParked>[number];
export type ReceiptFound = AnswerOf<typeof api.counter.findReceipt>;

interface CounterState {
  readonly warehouseId: number;
  /** 0 for somebody without an account. */
  readonly customerId: number;
  readonly lines: readonly BasketLine[];
  /** The line in hand. */
  readonly at: number;
  readonly priced: PricedBasket | null;
  /** What was scanned and not taken, until somebody has seen it. */
  readonly missed: readonly string[];
  /** Items that were found for words, and how many of it are wanted. */
  readonly found: readonly ItemChoice[];
  readonly wanted: string;
  readonly step: 'sell' | 'pay';
  /** What was paid without cash so far, and the cash that was handed over. */
  readonly payments: readonly { readonly method: 'card' | 'transfer'; readonly amount: string }[];
  readonly given: string;
  readonly sale: SaleView | null;
  readonly drawer: DrawerView | null;
  /** What the last drawer was left with. */
  readonly left: string;
  readonly parked: readonly Parked[];
  /** A receipt against which something comes back. */
  readonly receipt: ReceiptFound | null;
  readonly busy: boolean;
  readonly problem: Problem | null;
}

const empty = { lines: [], at: 0, priced: null, missed: [], found: [], wanted: '', step: 'sell', payments: [], given: '0', problem: null } as const;
const initial: CounterState = {
  ...empty,
  warehouseId: 0,
  customerId: 0,
  sale: null,
  drawer: null,
  left: '0.00',
  parked: [],
  receipt: null,
  busy: false,
};
const SETTLE_MS = 60;

const said = (detail: string): Problem => new Problem('unknownCode', detail, {}, {});

export const CounterStore = signalStore(
  withState(initial),
  withComputed(({ priced, payments, given }) => {
    const sums = computed(() =>
      tender(
        parseAmount(priced()?.total ?? '0'),
        parseAmount(writeAmount(payments().reduce((sum, each) => sum + parseAmount(each.amount), 0))),
        parseAmount(given()),
      ),
    );
    return {
      /** What is still to be paid. */
      due: computed(() => writeAmount(sums().open)),
      /** Lines of which there is not enough here. */
      short: computed(() =>
        (priced()?.lines ?? []).flatMap((line, at) => (line.there !== null && Number(line.there) < Number(line.quantity) ? [at] : [])),
      ),
    };
  }),
  withMethods((store, client = inject(ApiClient)) => {
    const basket = (): NonNullable<BodyIn<typeof api.counter.previewSale>> => ({
      warehouseId: store.warehouseId(),
      customerId: store.customerId() === 0 ? null : store.customerId(),
      lines: store.lines().map(({ itemId, quantity, price, discount, free, serials, lot }) => ({
        itemId,
        quantity,
        discount,
        free,
        serials,
        lot,
        ...(price === '' ? {} : { price }),
      })),
    });
    /** What was typed and is not done yet, in order: a scanner is faster than any answer. */
    const queue: string[] = [];
    /** Whether something is being looked up, and whether the basket is being priced. */
    const waits = { looking: false, pricing: false };
    const price = rxMethod<void>(
      pipe(
        tap(() => (waits.pricing = true)),
        debounceTime(SETTLE_MS),
        switchMap(() => {
          if (store.lines().length === 0) {
            patchState(store, { priced: null });
            pricedNow();
            return EMPTY;
          }
          return client.call(api.counter.previewSale, { body: basket() }).pipe(
            tap((priced) => {
              patchState(store, { priced });
              pricedNow();
            }),
            catchError((error: unknown) => {
              // Nothing is paid of what could not be priced.
              patchState(store, { problem: problemOf(error), step: 'sell' });
              pricedNow();
              return EMPTY;
            }),
          );
        }),
      ),
    );
    const looked = (): void => {
      waits.looking = false;
      next();
    };
    function pricedNow(): void {
      waits.pricing = false;
      next();
    }
    const fail = (error: unknown): void => patchState(store, { busy: false, problem: problemOf(error) });
    const setLines = (lines: readonly BasketLine[], at: number): void => {
      patchState(store, { lines, at: Math.max(0, Math.min(at, lines.length - 1)), found: [], problem: null, sale: null });
      price();
    };
    const add = (item: NonNullable<ScanView['item']>, quantity: string, { serial = '', lot = '' } = {}): void => {
      const lines = store.lines();
      const same = lines.findIndex((line) => line.itemId === item.id && line.lot === lot && line.price === '' && line.discount === '0');
      const before = lines[same];
      if (before && !before.serials.split(' ').includes(serial === '' ? ' ' : serial)) {
        const sum = writeQuantity(addQuantities(parseQuantity(before.quantity, QUANTITY_SCALE), parseQuantity(quantity, QUANTITY_SCALE)));
        const serials = [before.serials, serial].filter(Boolean).join(' ');
        setLines(
          lines.map((line, at) => (at === same ? { ...line, quantity: sum, serials } : line)),
          same,
        );
      } else if (!before)
        setLines(
          [
            ...lines,
            {
              itemId: item.id,
              code: item.code,
              description: item.description,
              unit: item.unit,
              quantity,
              price: '',
              discount: '0',
              free: '0',
              serials: serial,
              lot,
            },
          ],
          lines.length,
        );
      else patchState(store, { problem: said(`${item.code} ${serial} is in the basket already.`) });
    };
    const change = (of: Partial<BasketLine>): void => {
      const at = store.at();
      setLines(
        store.lines().map((line, index) => (index === at ? { ...line, ...of } : line)),
        at,
      );
    };
    /** What no scan knows is looked for by words, and then among the receipts. */
    const look = (text: string, quantity: string): void => {
      client.call(api.catalogue.findItems, { query: { text, ...(store.customerId() > 0 ? { customer: store.customerId() } : {}) } }).subscribe({
        next: (found) => {
          const [only, other] = found;
          if (only && !other) add({ ...only, tracking: 'none' }, quantity === '' ? '1' : quantity);
          else if (only) patchState(store, { found, wanted: quantity });
          else {
            receiptCalled(text);
            return;
          }
          looked();
        },
        error: (error: unknown) => {
          fail(error);
          looked();
        },
      });
    };
    const receiptCalled = (number: string): void => {
      client.call(api.counter.findReceipt, { query: { number } }).subscribe({
        next: (receipt) => {
          patchState(store, { receipt, found: [], problem: null, sale: null });
          looked();
        },
        error: (error: unknown) => {
          const problem = problemOf(error);
          patchState(store, {
            missed: [...store.missed(), number],
            problem:
              problem.code === 'unknownCode'
                ? said(`Nothing here is called “${number}”, and there is no such receipt: scan it again, or type a word of it.`)
                : problem,
          });
          looked();
        },
      });
    };
    const loadDrawer = (): void => {
      const warehouse = store.warehouseId();
      if (warehouse === 0) return;
      client
        .call(api.counter.drawer, { query: { warehouse } })
        .subscribe({ next: ({ drawer, left }) => patchState(store, { drawer, left }), error: fail });
      client.call(api.counter.listParked, { query: { warehouse } }).subscribe({ next: (parked) => patchState(store, { parked }), error: fail });
    };
    const sell = (more: { readonly onAccount?: boolean } = {}): void => {
      if (store.busy()) return;
      patchState(store, { busy: true, problem: null });
      client.call(api.counter.sell, { body: { ...basket(), payments: [...store.payments()], cash: store.given(), ...more } }).subscribe({
        next: (sale) => {
          patchState(store, { ...empty, customerId: 0, busy: false, sale });
          loadDrawer();
          next();
        },
        error: (error: unknown) => {
          // What was handed over is handed back: nothing was sold.
          patchState(store, { payments: [], given: '0' });
          fail(error);
          // What was typed after it was meant for the next.
          queue.length = 0;
        },
      });
    };
    const take = (item: ItemChoice): void => add({ ...item, tracking: 'none' }, store.wanted() === '' ? '1' : store.wanted());
    /** Of those that were found: the first by Enter alone, another by its place. */
    const chosenOf = (typed: string): ItemChoice | undefined => {
      const found = store.found();
      const place = typed.trim() === '' ? 1 : /^[1-9]$/.test(typed.trim()) ? Number(typed) : 0;
      return found[place - 1];
    };
    /** What was typed while something is sold. */
    const enter = (typed: string): void => {
      patchState(store, { problem: null });
      const chosen = chosenOf(typed);
      if (chosen) {
        take(chosen);
        return;
      }
      const entry = readEntry(typed);
      switch (entry.kind) {
        case 'pay':
          if (store.missed().length > 0)
            patchState(store, { missed: [], problem: said(`Not in the basket: ${store.missed().join(', ')}. Press Enter again to go on without.`) });
          else if (store.lines().length > 0) patchState(store, { step: 'pay', found: [] });
          break;
        case 'drop': {
          const at = store.at();
          setLines(
            store.lines().filter((_, index) => index !== at),
            at,
          );
          break;
        }
        case 'item':
          waits.looking = true;
          client.call(api.stores.scan, { query: { text: entry.text } }).subscribe({
            next: ({ item, quantity, serial, lot }) => {
              if (item) add(item, entry.quantity === '' ? (quantity ?? '1') : entry.quantity, { serial: serial ?? '', lot: lot ?? '' });
              else patchState(store, { problem: said('This is no item.') });
              looked();
            },
            error: (error: unknown) => {
              if (problemOf(error).code === 'unknownCode') look(entry.text, entry.quantity);
              else {
                fail(error);
                looked();
              }
            },
          });
          break;
        default:
          if (store.lines().length === 0) patchState(store, { problem: said('Scan something first: there is no line in hand.') });
          else change({ [entry.kind]: entry.value });
      }
    };
    /** What was typed while somebody pays. */
    const pay = (typed: string): void => {
      const entry = readPayment(typed);
      const due = store.due();
      patchState(store, { problem: null });
      switch (entry.kind) {
        case 'unknown':
          patchState(store, { problem: said('Type the cash that was handed over, c for a card, t for a transfer, or a for on account.') });
          return;
        case 'account':
          sell({ onAccount: true });
          return;
        case 'cash':
          patchState(store, ({ given }) => ({ given: writeAmount(parseAmount(given) + typedAmount(entry.amount === '' ? due : entry.amount)) }));
          break;
        default:
          patchState(store, ({ payments }) => ({
            payments: [...payments, { method: entry.kind, amount: entry.amount === '' ? due : entry.amount }],
          }));
      }
      if (store.due() === '0.00') sell();
    };
    function next(): void {
      while (queue.length > 0 && !waits.looking && !store.busy()) {
        // What is due is known once the basket is priced.
        if (store.step() === 'pay' && waits.pricing) return;
        const typed = queue.shift() ?? '';
        if (store.step() === 'pay') pay(typed);
        else enter(typed);
      }
    }
    return {
      loadDrawer,
      add,
      price,
      begin: (warehouseId: number): void => {
        if (store.warehouseId() === warehouseId) return;
        patchState(store, { warehouseId });
        loadDrawer();
        price();
      },
      meet: (customerId: number): void => {
        patchState(store, { customerId });
        price();
      },
      point: (at: number): void => patchState(store, { at: Math.max(0, Math.min(at, store.lines().length - 1)) }),
      /** One of those that were found for words. */
      take,
      /** What was typed or scanned: done in order, each when what was before it is done. */
      type: (typed: string): void => {
        queue.push(typed);
        next();
      },
      back: (): void => patchState(store, { step: 'sell', payments: [], given: '0', missed: [], found: [], receipt: null, problem: null }),
      park: (): void => {
        if (store.lines().length === 0 || store.busy()) return;
        patchState(store, { busy: true });
        const words = store.lines()[0]?.description ?? '';
        client.call(api.counter.park, { body: { ...basket(), words } }).subscribe({
          next: () => {
            patchState(store, { ...empty, customerId: 0, busy: false });
            loadDrawer();
          },
          error: fail,
        });
      },
      takeUp: (id: number): void => {
        if (store.lines().length > 0) {
          patchState(store, { problem: said('Put this basket aside first, or sell it.') });
          return;
        }
        client.call(api.counter.takeUp, { params: { id } }).subscribe({
          next: ({ basket: kept }) => {
            patchState(store, { customerId: kept.customerId ?? 0 });
            setLines(
              kept.lines.map((line) => ({ ...line, price: line.price ?? '', code: '', description: '', unit: '' })),
              kept.lines.length - 1,
            );
            loadDrawer();
          },
          error: fail,
        });
      },
      /** A return against a receipt was taken in. */
      tookBack: (sale: SaleView): void => {
        patchState(store, { ...empty, receipt: null, sale });
        loadDrawer();
      },
      fail,
    };
  }),
);
