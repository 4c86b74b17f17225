/** The order in hand: header, lines, and the availability of the line that is being entered. */
import { computed, inject } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';
import { rxMethod } from '@ngrx/signals/rxjs-interop';
import { Store } from '@ngrx/store';
import { EMPTY, catchError, debounceTime, distinctUntilChanged, map, merge, of, pipe, switchMap, tap, type Observable } from 'rxjs';
import { api, type AnswerOf, type Availability, type OrderView, type PriceAnswer } from '@terrace/contract';
import { QUANTITY_SCALE, asAmount, parseAmount, parseQuantity, readDecimal, subtractQuantity, writeAmount, writeQuantity } from '@terrace/core';
import { ApiClient, problemOf, type Problem } from '../client/api-client';
import { focusActions } from '../shell/focus.state';
import { amountOf, freshLine, itemOf, type EntryLine } from '../ui/entry-line';
import type { PromiseChoice } from '../ui/promise-choices';
import type { Address } from '../ui/ship-to';

export type ChangeSeen = AnswerOf<typeof api.selling.previewChange>;
export type ChargesSeen = AnswerOf<typeof api.selling.previewCharges>;
export type Bought = AnswerOf<typeof api.selling.boughtBefore>[number];

export interface EntryState {
  readonly order: OrderView | null;
  /** Whether the order that is to be changed is still to come. */
  readonly awaited: boolean;
  readonly customerId: number;
  readonly reference: string;
  readonly requiredDate: string;
  readonly warehouseId: number;
  readonly note: string;
  /** By whom it goes, and how; empty as long as nobody typed any: the customer's own. */
  readonly carrier: string;
  readonly service: string;
  readonly shipTo: string;
  /** A code of payment terms; empty as long as nobody chose any: the customer's own. */
  readonly paymentTerm: string;
  /** Who sells it; 0 as long as nobody was named: whoever enters it. */
  readonly salesPersonId: number;
  readonly complete: boolean;
  /** Whether freight and the like is charged by rule, and what that would be; none as long as it can't be entered yet. */
  readonly charges: boolean;
  readonly charged: ChargesSeen | null;
  readonly kind: OrderView['kind'];
  /** Of an offer: the last day on which it holds, and how likely it is, in percent. */
  readonly validUntil: string;
  readonly probability: string;
  readonly lines: readonly EntryLine[];
  /** Where its customer can have it shipped to, and what they ordered before. */
  readonly addresses: readonly Address[];
  readonly bought: readonly Bought[];
  /** What they pay in; empty as long as that is not known. */
  readonly paysIn: string;
  readonly at: number;
  readonly availability: Availability | null;
  /** The quantity that its promise is for; empty where that can't be promised about, and why it can't. */
  readonly answered: string;
  readonly refused: string;
  readonly priced: PriceAnswer | null;
  readonly custom: Readonly<Record<string, string>>;
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** What the change in hand would bring about, as it was looked at; none before that. */
  readonly change: ChangeSeen | null;
}

const initial: EntryState = {
  order: null,
  awaited: false,
  customerId: 0,
  reference: '',
  requiredDate: '',
  warehouseId: 0,
  note: '',
  carrier: '',
  service: '',
  shipTo: '',
  paymentTerm: '',
  salesPersonId: 0,
  complete: false,
  charges: true,
  charged: null,
  kind: 'order',
  validUntil: '',
  probability: '50',
  addresses: [],
  bought: [],
  paysIn: '',
  lines: [freshLine()],
  at: 0,
  availability: null,
  answered: '',
  refused: '',
  priced: null,
  custom: {},
  busy: false,
  problem: null,
  change: null,
};
const SETTLE_MS = 120;

export const OrderEntryStore = signalStore(
  withState(initial),
  withComputed(({ lines, problem, order, customerId, paysIn, charged }) => ({
    /** Without tax, with what would be charged by rule. */
    net: computed(() => {
      const typed = lines().reduce((sum, line) => sum + (amountOf(line) === '' ? 0 : parseAmount(amountOf(line))), 0);
      const ruled = (charged()?.charges ?? []).reduce((sum, { amount }) => sum + parseAmount(amount), 0);
      return writeAmount(asAmount(typed + ruled));
    }),
    fields: computed(() => problem()?.fields ?? {}),
    /** What its prices are in: as it was agreed, else what the customer pays in. */
    currency: computed(() => (order()?.customerId === customerId() ? (order()?.currency ?? '') : paysIn())),
  })),
  withMethods((store, client = inject(ApiClient), ngrx = inject(Store)) => {
    const look = rxMethod<{ item: number; warehouse: number; quantity: string | undefined; line: number | undefined }>(
      pipe(
        debounceTime(SETTLE_MS),
        switchMap(({ item, warehouse, quantity, line }) =>
          client.call(api.stores.availability, { query: { item, warehouse, quantity, exceptLine: line } }).pipe(
            map((availability) => ({ availability, answered: quantity ?? '', refused: '' })),
            // A quantity that can't be yet is no reason to hide what is there.
            catchError((error: unknown) =>
              client
                .beside(api.stores.availability, { query: { item, warehouse, exceptLine: line } }, null)
                .pipe(map((availability) => ({ availability, answered: '', refused: problemOf(error).message }))),
            ),
          ),
        ),
        tap((found) => patchState(store, found)),
      ),
    );
    const price = rxMethod<{
      at: number;
      item: number;
      quantity: string;
      customer: number;
      warehouse: number;
      date: string | undefined;
      line: number | undefined;
    }>(
      pipe(
        debounceTime(SETTLE_MS),
        switchMap(({ at, item, quantity, customer, warehouse, date, line: lineId }) =>
          client
            .call(api.selling.explainPrice, {
              query: {
                itemId: item,
                quantity,
                warehouseId: warehouse,
                ...(customer > 0 ? { customerId: customer } : {}),
                ...(date ? { date } : {}),
                ...(lineId === undefined ? {} : { lineId }),
              },
            })
            .pipe(
              tap((priced) => {
                patchState(store, { priced });
                const line = store.lines()[at];
                // A price that nobody typed is the lists', or what was agreed.
                if (line?.item?.id === item && line.typed !== true && line.price !== priced.price)
                  patchState(store, ({ lines }) => ({ lines: lines.map((each, index) => (index === at ? { ...each, price: priced.price } : each)) }));
              }),
              // A quantity that can't be has no price yet; a rate that is missing can be given here.
              catchError((error: unknown) => {
                const problem = problemOf(error);
                patchState(store, { priced: null, ...(problem.code === 'noRate' ? { problem } : {}) });
                return of(null);
              }),
            ),
        ),
      ),
    );
    /** What is known of a customer, as soon as one is chosen. */
    const meet = rxMethod<number>(
      pipe(
        distinctUntilChanged(),
        tap(() => patchState(store, { addresses: [], bought: [], paysIn: '' })),
        switchMap((id) =>
          id === 0
            ? EMPTY
            : merge(
                client
                  .beside(api.catalogue.getCustomer, { params: { id } }, null)
                  .pipe(map((customer) => ({ addresses: customer?.addresses ?? [], paysIn: customer?.currency ?? '' }))),
                client.beside(api.selling.boughtBefore, { params: { id } }, []).pipe(map((bought) => ({ bought }))),
              ),
        ),
        tap((known) => patchState(store, known)),
      ),
    );
    const point = (at: number): void => {
      patchState(store, { at });
      const line = store.lines()[at];
      if (!line?.item || store.warehouseId() === 0) return;
      const read = readDecimal(line.quantity);
      look({ item: line.item.id, warehouse: store.warehouseId(), quantity: read && read.mantissa > 0n ? line.quantity : undefined, line: line.id });
      price({
        at,
        item: line.item.id,
        quantity: read && read.mantissa > 0n ? line.quantity : '1',
        customer: store.customerId(),
        warehouse: store.warehouseId(),
        date: store.order()?.orderDate,
        line: line.id,
      });
      ngrx.dispatch(focusActions.point({ itemId: line.item.id, warehouseId: store.warehouseId() }));
    };
    const bodyOf = () => ({
      customerId: store.customerId(),
      reference: store.reference(),
      requiredDate: store.requiredDate(),
      warehouseId: store.warehouseId(),
      note: store.note(),
      ...(store.carrier() === '' && store.service() === '' && store.order() === null ? {} : { carrier: store.carrier(), service: store.service() }),
      shipTo: store.shipTo(),
      ...(store.paymentTerm() === '' ? {} : { paymentTerm: store.paymentTerm() }),
      ...(store.salesPersonId() === 0 ? {} : { salesPersonId: store.salesPersonId() }),
      complete: store.complete(),
      charges: store.charges(),
      custom: { ...store.custom() },
      lines: store
        .lines()
        .filter((line) => line.item !== null || line.quantity !== '')
        .map((line) => ({
          ...(line.id === undefined ? {} : { id: line.id }),
          itemId: line.item?.id ?? 0,
          quantity: line.quantity,
          ...(line.price === '' || line.typed !== true ? {} : { price: line.price }),
          discountReason: line.reason ?? '',
          discount: line.discount || '0',
          ...(line.date === '' ? {} : { requiredDate: line.date }),
          free: line.free || '0',
          note: line.note,
          shipTo: line.shipTo,
          carrier: line.carrier,
          direct: line.direct,
        })),
    });
    /** What would be charged by rule. What is confirmed, or a part of another order, keeps what it has. */
    const charge = rxMethod<unknown>(
      pipe(
        debounceTime(SETTLE_MS * 3),
        map(() => ((store.order()?.ruled ?? true) && store.charges() && store.customerId() > 0 ? bodyOf() : null)),
        distinctUntilChanged((a, b) => JSON.stringify(a) === JSON.stringify(b)),
        switchMap((body) =>
          body === null || !body.lines.some((line) => line.itemId > 0)
            ? of(null)
            : client.call(api.selling.previewCharges, { body }).pipe(
                // What can't be entered yet has no charges yet: saving it says why.
                catchError(() => of(null)),
              ),
        ),
        tap((charged) => patchState(store, { charged })),
      ),
    );
    const callOf = (order: OrderView | null, body: ReturnType<typeof bodyOf>, confirm: boolean, beyondCredit: boolean): Observable<OrderView> => {
      const kind = store.kind();
      const kept = order && { params: { id: order.id }, version: order.version };
      if (kind === 'order')
        return kept
          ? client.call(api.selling.changeOrder, { params: kept.params, body: { ...body, version: kept.version, beyondCredit } })
          : client.call(api.selling.createOrder, { body: { ...body, confirm, beyondCredit } });
      const offer = { ...body, validUntil: store.validUntil(), probability: Number(store.probability() || '0') };
      return kept
        ? client.call(api.selling.changeQuote, { params: kept.params, body: { ...offer, version: kept.version } })
        : client.call(api.selling.createQuote, { body: { ...offer, kind } });
    };
    /** Looks at what a change brings about; one that brings nothing about is made at once. */
    const consider = (order: OrderView, body: ReturnType<typeof bodyOf>, nothing: () => void): void => {
      patchState(store, { busy: true, problem: null });
      client.call(api.selling.previewChange, { params: { id: order.id }, body: { ...body, version: order.version } }).subscribe({
        next: (change) => {
          patchState(store, { busy: false, change });
          if (change.rows.length === 0 && change.beyondCredit === '') nothing();
        },
        error: (error: unknown) => patchState(store, { busy: false, problem: problemOf(error) }),
      });
    };
    /**
     * Saves; what changes a confirmed order is looked at first, and saved when it is asked for again. `beyondCredit` where somebody
     * has seen that it goes beyond the customer's credit limit, and goes on.
     */
    const save = (confirm: boolean, done: (order: OrderView) => void, beyondCredit = false): void => {
      if (store.busy() || store.awaited()) return;
      const order = store.order();
      const body = bodyOf();
      if (order && order.kind === 'order' && order.state !== 'draft' && store.change() === null) {
        consider(order, body, () => save(confirm, done, beyondCredit));
        return;
      }
      patchState(store, { busy: true, problem: null });
      const seen = (store.change()?.beyondCredit ?? '') !== '';
      const call = callOf(order, body, confirm, beyondCredit || seen);
      call.subscribe({
        next: (saved) => {
          patchState(store, { busy: false, change: null });
          done(saved);
        },
        error: (error: unknown) => patchState(store, { busy: false, problem: problemOf(error), change: null }),
      });
    };
    return {
      point,
      meet,
      charge,
      /** What would be sent of it now. */
      body: (): object => ({
        ...bodyOf(),
        ...(store.kind() === 'order' ? {} : { validUntil: store.validUntil(), probability: Number(store.probability() || '0') }),
        ...(store.order() ? { version: store.order()?.version } : {}),
      }),
      /** What was looked at is of no use any more once something else is typed. */
      set: (change: Partial<EntryState>): void => patchState(store, { ...change, change: null }),
      /** Has the line in hand come as offered: all of it on a day of its own, or a part in time and the rest as another line. */
      offer: ({ part, date }: PromiseChoice): void => {
        const at = store.at();
        const line = store.lines()[at];
        if (!line) return;
        const before = store.lines().slice(0, at);
        const after = store.lines().slice(at + 1);
        if (part === '') patchState(store, { change: null, lines: [...before, { ...line, date }, ...after] });
        else {
          const rest = writeQuantity(subtractQuantity(parseQuantity(line.quantity, QUANTITY_SCALE), parseQuantity(part, QUANTITY_SCALE)));
          const { id: _kept, ...later } = line;
          patchState(store, {
            change: null,
            lines: [...before, { ...line, quantity: part }, freshLine({ ...later, quantity: rest, date }), ...after],
          });
        }
        point(at);
      },
      /** Takes an order that is there already in hand. */
      load: (id: number): void => {
        patchState(store, { awaited: true });
        client.call(api.selling.getOrder, { params: { id } }).subscribe({
          next: (order) =>
            patchState(store, {
              order,
              awaited: false,
              customerId: order.customerId,
              reference: order.reference,
              requiredDate: order.requiredDate,
              warehouseId: order.warehouseId,
              note: order.note,
              carrier: order.carrier,
              service: order.service,
              shipTo: order.shipTo,
              paymentTerm: order.paymentTerm ?? '',
              salesPersonId: order.salesPersonId ?? 0,
              complete: order.complete,
              charges: order.charges,
              kind: order.kind,
              validUntil: order.validUntil ?? '',
              probability: String(order.probability),
              custom: order.custom,
              problem: null,
              lines: order.lines
                .filter(({ byRule }) => !order.ruled || !byRule)
                .map((line) => ({
                  id: line.id,
                  item: itemOf(line, line.price),
                  quantity: line.quantity,
                  price: line.price,
                  discount: line.discount,
                  date: line.requiredDate === order.requiredDate ? '' : line.requiredDate,
                  reason: line.discountReason,
                  free: line.free === '0' ? '' : line.free,
                  note: line.note,
                  shipTo: line.shipTo,
                  carrier: line.carrier,
                  direct: line.direct,
                })),
            }),
          error: (error: unknown) => patchState(store, { problem: problemOf(error) }),
        });
      },
      save,
    };
  }),
);
