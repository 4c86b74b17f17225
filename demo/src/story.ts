/**
 * Ten weeks of business, told day by day through the server's own commands: orders come in, the plan is run, goods
 * arrive, things are made, shipped, invoiced and paid. The same day always gives the same story.
 */
import { addDays, asQuantity, dayOf, parseQuantity, weekdayOf, writeQuantity } from '@terrace/core';
import { customerInput, type PieceInput } from '@terrace/contract';
import { accounts, buying, catalogue, desk, dispatch, planning, production, selling, stores, type Work } from '@terrace/server';
import { offerWire } from './catalogue';
import { CUSTOMERS, PEOPLE } from './company';
import { ITEMS } from './items';
import { binIdOf, idOf, type Perform } from './known';
import {
  arrivingBy,
  atDocks,
  invoicesDueBy,
  ordersConfirmed,
  ordersInWork,
  ordersToShip,
  productionToFinish,
  productionToRelease,
  purchaseDrafts,
} from './looks';
import { decide, tellForecasts } from './forecasts';
import { createOrder } from './selling-story';
import { StoresStory, findMore } from './stores-story';

/** What customers order: item, usual quantity, how often. */
const WANTED: readonly (readonly [item: string, usual: number, weight: number])[] = [
  ['FRAMES-10', 4, 6],
  ['HIVE-10', 1, 3],
  ['SUPER', 2, 3],
  ['BROODBOX', 2, 2],
  ['JAR-500', 144, 5],
  ['SMOKER', 2, 4],
  ['HIVETOOL', 3, 4],
  ['GLOVES', 3, 4],
  ['SUIT-M', 1, 3],
  ['STRIPS', 3, 3],
  ['PAINTSET', 1, 3],
  ['EXTRACT-9', 1, 2],
  ['WAXSHEET', 40, 2],
  ['FONDANT', 8, 2],
];
const WEEKS = 10;
const EVERYTHING = { offset: 0, limit: 1000 };
const LATE_SUPPLIER = 'DRIVE';
const LATE_DAYS = 6;
/** Where what has arrived is put away. */
const SHELVES: Readonly<Record<string, string>> = { MATERIAL: 'A-01', PART: 'A-02', PRODUCT: 'B-01', GOODS: 'B-02', WEAR: 'B-02', TREAT: 'B-02' };

/** Figures that look random and are the same every time. */
function* figures(seed: number): Generator<number, never> {
  let state = seed;
  for (;;) {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    yield state / 2 ** 32;
  }
}

/** Who pays late, and how many days after the due date. */
const SLOW: Readonly<Record<string, number>> = { WICKET: 38, CORBY: 16, ELDER: 24 };

export class Story {
  private readonly chance = figures(20_270_301);
  private readonly stores: StoresStory;

  /** Invoices that would be paid, were all as prompt as the promptest. */
  private readonly wouldPay = new Set<number>();

  constructor(
    private readonly perform: Perform,
    private readonly today: string,
    /** Has the plan follow what has happened. */
    private readonly settlePlan: () => void,
  ) {
    this.stores = new StoresStory(perform, today);
  }

  /** The first day told, on which stock opens. */
  get opening(): string {
    return addDays(this.today, -7 * WEEKS);
  }

  tell(): void {
    for (let date = addDays(this.opening, 1); date <= this.today; date = addDays(date, 1)) {
      if (weekdayOf(dayOf(date)) > 5) continue;
      // Whoever comes in looks at what was told since yesterday.
      for (const { login } of PEOPLE) this.perform(login, date, (work) => desk.readNotices(work));
      if (date < this.today) this.putAway(date);
      this.goodsArrive(date);
      this.things(date);
      if (date < this.today) this.ordersComeIn(date);
      if (weekdayOf(dayOf(date)) === 1 || weekdayOf(dayOf(date)) === 4) this.plan(date, date < this.today);
      this.shipAndInvoice(date);
      this.moneyComes(date);
      this.stores.tell(date);
    }
    this.leaveWork();
    this.perform('maren', this.today, (work) => tellForecasts(work, this.opening));
    this.settlePlan();
    this.perform('maren', this.today, decide);
    // Found this morning, while an order waits for it.
    this.perform('quill', this.today, (work) => findMore(work, 'DEPOT', 'F-01', 'SUIT-M', '4'));
    this.settlePlan();
  }

  private next(): number {
    return this.chance.next().value;
  }

  private between(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1));
  }

  private ordersComeIn(date: string): void {
    for (let count = this.between(1, 3); count > 0; count -= 1) this.order(date, this.between(2, 12), this.between(1, 3), true);
  }

  private order(date: string, inDays: number, lines: number, confirm: boolean, factor = 1): number {
    const customer = CUSTOMERS[this.between(0, CUSTOMERS.length - 1)]?.code ?? 'HOLLIN';
    const chosen = new Map<string, number>();
    const total = WANTED.reduce((sum, [, , weight]) => sum + weight, 0);
    while (chosen.size < lines) {
      let pick = this.next() * total;
      const [item, usual] = WANTED.find(([, , weight]) => (pick -= weight) <= 0) ?? ['SMOKER', 2];
      chosen.set(item, Math.max(1, Math.round(usual * (0.5 + this.next() * 1.5) * factor)));
    }
    const fromDepot = [...chosen.keys()].every((code) => ITEMS.some((item) => item.code === code && item.depot)) && this.next() < 0.5;
    return this.perform('tobin', date, (work) => {
      const { id, version } = createOrder(work, {
        customerId: idOf(work, 'customer', customer),
        reference: `${customer.slice(0, 3)}-${this.between(100, 999)}`,
        requiredDate: addDays(date, inDays),
        warehouseId: idOf(work, 'warehouse', fromDepot ? 'DEPOT' : 'WORKS'),
        note: '',
        lines: [...chosen].map(([code, quantity]) => ({
          itemId: idOf(work, 'item', code),
          quantity: String(quantity),
          discount: customer === 'MEADCOOP' ? '5' : '0',
          discountReason: '',
        })),
        custom: {},
      });
      if (confirm) selling.confirmOrder(work, id, version, false);
      return id;
    });
  }

  private plan(date: string, release: boolean): void {
    this.settlePlan();
    if (!release) return;
    this.perform('maren', date, (work) => {
      const { seq } = planning.planState(work);
      const { rows } = planning.listSuggestions(work, { ...EVERYTHING, ignored: 'no' });
      const due = rows.filter((each) => each.placeBy <= addDays(date, 3) && (each.kind !== 'buy' || each.supplierId !== null));
      if (due.length > 0)
        planning.releaseSuggestions(work, {
          seq,
          suggestions: due.map(({ id: name, quantity, due: day }) => ({ name, seen: { quantity, due: day } })),
          withLevels: false,
        });
    });
    this.settlePlan();
    for (const id of this.ids(date, (work) => purchaseDrafts.all(work))) {
      this.perform('maren', date, (work) => buying.approvePurchase(work, id, buying.purchaseView(work, id).version));
      this.perform('isolde', date, (work) => buying.sendPurchase(work, id, buying.purchaseView(work, id).version));
    }
  }

  private ids(date: string, look: (work: Work) => readonly { readonly id: number }[]): number[] {
    return this.perform('maren', date, (work) => look(work).map((row) => row.id));
  }

  private goodsArrive(date: string): void {
    const due = this.ids(date, (work) => arrivingBy.all(work, { date, lateSupplier: LATE_SUPPLIER, late: `+${LATE_DAYS} days` }));
    for (const id of due) {
      // Now and then a delivery comes in two parts, and what is due today is left to be received.
      const part = this.next() < 0.12;
      if (date === this.today && this.next() < 0.6) continue;
      this.perform('quill', date, (work) => {
        const order = buying.purchaseView(work, id);
        const lines = order.lines
          .filter((line) => line.outstanding !== '0' && line.dueDate <= date)
          .map((line) => {
            const quantity = part ? half(line.outstanding, line.decimals) : line.outstanding;
            return { lineId: line.id, quantity, pieces: this.arrivingPieces(line.code, quantity, date) };
          });
        if (lines.length > 0) buying.receiveGoods(work, id, { version: order.version, deliveryNote: `D${this.between(10_000, 99_999)}`, lines });
      });
    }
  }

  /** What is on the labels of what arrives. */
  private arrivingPieces(code: string, quantity: string, date: string): PieceInput[] | undefined {
    const item = ITEMS.find((each) => each.code === code);
    if (item?.tracking === 'serial') {
      const first = this.between(1000, 8000);
      return [{ serials: `GD${first}..GD${first + Number(quantity) - 1}` }];
    }
    if (item?.tracking !== 'lot') return undefined;
    const madeOn = addDays(date, -this.between(8, 30));
    const lot = `${code.slice(0, 2)}${madeOn.slice(2).replaceAll('-', '')}-${this.between(1, 9)}`;
    return [{ lot, madeOn, supplierLot: `S${this.between(20_000, 90_000)}`, ...(item.life ? { expiry: addDays(madeOn, item.life[0]) } : {}) }];
  }

  /** What lies at the dock goes onto its shelf. */
  private putAway(date: string): void {
    this.perform('quill', date, (work) => {
      const waiting = atDocks.all(work);
      if (waiting.length === 0) return;
      stores.relocate(work, {
        reason: '',
        note: 'put away',
        lines: waiting.map((row) => ({
          itemId: row.itemId,
          binId: row.binId,
          toBinId: binIdOf(work, row.warehouse, row.warehouse === 'DEPOT' ? 'F-01' : (SHELVES[row.group] ?? 'A-01')),
          state: 'available' as const,
          quantity: writeQuantity(row.quantity),
          ...(row.lot === '' ? {} : { pieces: [{ lot: row.lot }] }),
          ...(row.serial === '' ? {} : { pieces: [{ serials: row.serial }] }),
        })),
      });
    });
  }

  private things(date: string): void {
    for (const id of this.ids(date, (work) => productionToRelease.all(work, { date }))) {
      if (date === this.today && this.next() < 0.7) continue;
      this.perform('maren', date, (work) => production.releaseProduction(work, id, production.productionView(work, id).version));
    }
    for (const id of this.ids(date, (work) => productionToFinish.all(work, { date }))) {
      if (date === this.today && this.next() < 0.5) continue;
      this.perform('quill', date, (work) => {
        const order = production.productionView(work, id);
        if (order.components.every((component) => component.short === '0'))
          production.finishProduction(work, id, { version: order.version, quantity: order.outstanding });
      });
    }
  }

  private shipAndInvoice(date: string): void {
    for (const id of this.ids(date, (work) => ordersInWork.all(work))) this.perform('tobin', date, (work) => selling.reserveOrder(work, id));
    const soon = this.ids(date, (work) => ordersToShip.all(work, { date: addDays(date, 3) }));
    for (const id of soon) {
      const ready = this.perform('tobin', date, (work) => selling.orderView(work, id).ready);
      if (ready !== 'all') continue;
      // A few are left for today's work.
      if (date === this.today || (date > addDays(this.today, -3) && this.next() < 0.5)) continue;
      const shipmentId = this.pick(date, id);
      if (date > addDays(this.today, -4)) continue;
      this.ship(date, shipmentId);
      this.perform('tobin', date, (work) => selling.invoiceOrder(work, id, shipmentId));
    }
  }

  /** Makes a shipment of what is reserved for an order, and begins to pick it. */
  private pick(date: string, orderId: number): number {
    const shipmentId = this.perform('quill', date, (work) => dispatch.createShipment(work, orderId, undefined).id);
    this.perform('quill', date, (work) => namePieces(work, shipmentId));
    this.perform('quill', date, (work) => dispatch.startPicking(work, shipmentId, dispatch.shipmentView(work, shipmentId).version));
    return shipmentId;
  }

  private ship(date: string, shipmentId: number): void {
    this.perform('quill', date, (work) => dispatch.ship(work, shipmentId, dispatch.shipmentView(work, shipmentId).version, undefined));
  }

  private moneyComes(date: string): void {
    const due = this.perform('maren', date, (work) => invoicesDueBy.all(work, { date: addDays(date, 4) }));
    for (const { id, dueDate, customer } of due) {
      // Whoever is slow would pay by now, and doesn’t yet.
      if (!this.wouldPay.has(id) && this.next() < 0.55) continue;
      this.wouldPay.add(id);
      if (date < addDays(dueDate, SLOW[customer] ?? -4)) continue;
      this.perform('maren', date, (work) => {
        const { open } = accounts.invoiceView(work, id);
        accounts.payInvoice(work, id, { amount: open, method: 'transfer', drawerId: null, early: false });
      });
    }
  }

  private byPhone(customer: string, warehouse: string, item: string, quantity: string, days: number): void {
    this.perform('tobin', this.today, (work) => {
      const { id, version } = createOrder(work, {
        customerId: idOf(work, 'customer', customer),
        reference: 'by phone',
        requiredDate: addDays(this.today, days),
        warehouseId: idOf(work, 'warehouse', warehouse),
        note: '',
        lines: [{ itemId: idOf(work, 'item', item), quantity, discount: '0', discountReason: '' }],
        custom: {},
      });
      return selling.confirmOrder(work, id, version, false);
    });
  }

  /** Somebody could not wait for all of it: what was there has gone out today, the rest follows. */
  private shipPart(): void {
    const open = this.ids(this.today, (work) => ordersConfirmed.all(work));
    const id = open.find((each) => this.perform('tobin', this.today, (work) => selling.orderView(work, each).ready) === 'part');
    if (id !== undefined) this.ship(this.today, this.pick(this.today, id));
  }

  /** What waits on the demo's desk: drafts to confirm, a purchase order to approve, an order that can't be kept. */
  private leaveWork(): void {
    this.order(this.today, 6, 2, false);
    const second = this.order(this.today, 15, 3, false);
    this.order(this.today, 9, 2, true, 4);
    this.perform('isolde', this.today, offerWire);
    // The second draft is more than its customer may owe.
    this.perform('maren', this.today, (work) => {
      const { customerId, total } = selling.orderView(work, second);
      limitCredit(work, customerId, String(Math.floor(Number(total) / 50) * 50));
    });
    this.perform('isolde', this.today, (work) =>
      buying.createPurchase(work, {
        supplierId: idOf(work, 'supplier', 'OUTFIT'),
        warehouseId: idOf(work, 'warehouse', 'DEPOT'),
        custom: {},
        note: 'For the spring fair',
        lines: [
          { itemId: idOf(work, 'item', 'SUIT-M'), quantity: '10', dueDate: addDays(this.today, 10) },
          { itemId: idOf(work, 'item', 'GLOVES'), quantity: '20', dueDate: addDays(this.today, 10) },
        ],
      }),
    );
    // Nobody has said yet where the depot gets these from: the plan lists it as a data problem.
    this.byPhone('TARN', 'DEPOT', 'STRIPS', '6', 7);
    // Nor what the new hive is made from.
    this.byPhone('ELDER', 'WORKS', 'HIVE-8', '2', 21);
    // The motors come late, and the extractors with them.
    this.byPhone('CORBY', 'WORKS', 'EXTRACT-9', '2', 9);
    // More suits than the depot has: they are brought over from the works.
    this.byPhone('HOLLIN', 'DEPOT', 'SUIT-M', '18', 24);
    this.shipPart();
    this.plan(this.today, false);
  }
}

function limitCredit(work: Work, customerId: number, creditLimit: string): void {
  const { version, ...customer } = catalogue.customerView(work, customerId);
  catalogue.changeCustomer(work, customerId, { ...customerInput.parse({ ...customer, creditLimit }), active: true, version });
}

/** Names the serial numbers that leave: the first that are proposed. */
function namePieces(work: Work, shipmentId: number): void {
  const shipment = dispatch.shipmentView(work, shipmentId);
  if (!shipment.lines.some((line) => line.tracking === 'serial')) return;
  dispatch.changeShipment(work, shipmentId, {
    version: shipment.version,
    carrier: '',
    lines: shipment.lines.map((line) => ({
      orderLineId: line.orderLineId,
      quantity: line.quantity,
      ...(line.tracking === 'serial'
        ? {
            pieces: [
              {
                serials: line.proposed
                  .slice(0, Number(line.quantity))
                  .map((piece) => piece.serial)
                  .join(' '),
              },
            ],
          }
        : {}),
    })),
  });
}

function half(quantity: string, decimals: number): string {
  const step = 10 ** (5 - decimals);
  const parts = parseQuantity(quantity, decimals) / step;
  return writeQuantity(asQuantity(Math.max(1, Math.floor(parts / 2)) * step));
}
