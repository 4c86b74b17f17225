/** Days as they may come: whatever people do, in whatever order, each step is done whole or refused whole. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { api, type AnyRoute } from '@terrace/contract';
import { plan } from '@terrace/core';
import { gatherProblem } from './planning';
import { openCompany, TODAY, type Call, type Client, type Company, somebody } from './testing/company';

const { selling, buying, production, dispatch, stores, accounts, planning } = api;
const UNIT = 100_000;
const figure = (text: string): number => Math.round(Number(text) * UNIT);

interface Line {
  readonly id: number;
  readonly code: string;
  readonly quantity: string;
}

/** What one person knows of the day: documents by kind, and what must be on hand. */
class Day {
  readonly made: Record<'orders' | 'purchases' | 'works' | 'shipments' | 'transfers' | 'invoices', number[]> = {
    orders: [],
    purchases: [],
    works: [],
    shipments: [],
    transfers: [],
    invoices: [],
  };
  readonly onHand = new Map([
    ['FRAME', 6 * UNIT],
    ['BAR', 20 * UNIT],
    ['WIRE', 100 * UNIT],
    ['SMOKER', 10 * UNIT],
  ]);
  done = 0;
  refused = 0;

  constructor(
    readonly company: Company,
    readonly manager: Client,
  ) {}

  /** Does it, or sees that a refusal has changed nothing. */
  async tried<R extends AnyRoute>(route: R, call: Call<R>): Promise<unknown> {
    const before = this.company.everything();
    const { status, body } = await this.manager.attempt(route, call);
    if (status === 200) {
      this.done += 1;
      return body;
    }
    expect([status, (body as { code: string }).code]).not.toContain(500);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(status).toBeLessThan(500);
    expect(this.company.everything()).toBe(before);
    this.refused += 1;
    return null;
  }

  add(code: string, change: number): void {
    this.onHand.set(code, (this.onHand.get(code) ?? 0) + change);
  }
}

const ITEMS = ['SMOKER', 'FRAME', 'BAR'] as const;
type Step = (day: Day, pick: number, amount: number) => Promise<void>;
const nth = (ids: readonly number[], pick: number): number => ids[pick % Math.max(1, ids.length)] ?? 0;
const itemOf = (day: Day, pick: number): number => day.company.id('item', ITEMS[pick % ITEMS.length] ?? 'BAR');

/** The version that somebody has on the screen. */
async function seen<T extends { version: number }>(day: Day, route: AnyRoute, id: number): Promise<T | null> {
  const { status, body } = await day.manager.attempt(route, { params: { id } });
  return status === 200 ? (body as T) : null;
}

const STEPS: Readonly<Record<string, Step>> = {
  async order(day, pick, amount) {
    const body = {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      confirm: pick % 2 === 0,
      lines: [
        { itemId: itemOf(day, pick), quantity: String(amount) },
        { itemId: itemOf(day, pick + 1), quantity: '2' },
      ],
    };
    const made = (await day.tried(selling.createOrder, { body })) as { id: number } | null;
    if (made) day.made.orders.push(made.id);
  },
  async confirm(day, pick) {
    const order = await seen(day, selling.getOrder, nth(day.made.orders, pick));
    if (order)
      await day.tried(selling.confirmOrder, {
        params: { id: nth(day.made.orders, pick) },
        body: { version: order.version, allOrNothing: pick % 5 === 0 },
      });
  },
  async reserve(day, pick) {
    await day.tried(selling.reserveOrder, { params: { id: nth(day.made.orders, pick) } });
  },
  async cancelOrder(day, pick) {
    const id = nth(day.made.orders, pick);
    const order = await seen(day, selling.getOrder, id);
    if (order) await day.tried(selling.cancelOrder, { params: { id }, body: { version: order.version, reason: 'they changed their mind' } });
  },
  async shipment(day, pick) {
    const made = (await day.tried(dispatch.createShipment, { body: { orderId: nth(day.made.orders, pick) } })) as { id: number } | null;
    if (made) day.made.shipments.push(made.id);
  },
  async ship(day, pick) {
    const id = nth(day.made.shipments, pick);
    const found = await seen(day, dispatch.getShipment, id);
    if (!found) return;
    const picked = (await day.tried(dispatch.startPicking, { params: { id }, body: { version: found.version } })) as { version: number } | null;
    const gone = (await day.tried(dispatch.ship, { params: { id }, body: { version: (picked ?? found).version } })) as {
      lines: readonly Line[];
    } | null;
    for (const line of gone?.lines ?? []) day.add(line.code, -figure(line.quantity));
  },
  async takeShipmentBack(day, pick) {
    const id = nth(day.made.shipments, pick);
    const found = await seen(day, dispatch.getShipment, id);
    const back =
      found &&
      ((await day.tried(dispatch.reverseShipment, { params: { id }, body: { version: found.version } })) as { lines: readonly Line[] } | null);
    for (const line of back?.lines ?? []) day.add(line.code, figure(line.quantity));
  },
  async invoice(day, pick) {
    const made = (await day.tried(selling.invoiceOrder, { params: { id: nth(day.made.orders, pick) }, body: {} })) as { id: number } | null;
    if (made) day.made.invoices.push(made.id);
  },
  async pay(day, pick, amount) {
    const body = { amount: String(amount * 7.35), method: 'cash' as const };
    await day.tried(api.accounts.payInvoice, { params: { id: nth(day.made.invoices, pick) }, body });
  },
  async takeInvoiceBack(day, pick) {
    const id = nth(day.made.invoices, pick);
    const found = await seen(day, api.accounts.getInvoice, id);
    if (found) await day.tried(api.accounts.reverseInvoice, { params: { id }, body: { version: found.version } });
  },
  async buy(day, pick, amount) {
    const body = {
      supplierId: 1,
      warehouseId: 1,
      lines: [{ itemId: itemOf(day, pick), quantity: String(amount), price: '1.37', dueDate: '2027-03-09' }],
    };
    const made = (await day.tried(buying.createPurchase, { body })) as { id: number; version: number } | null;
    if (!made) return;
    day.made.purchases.push(made.id);
    const params = { id: made.id };
    const approved = (await day.tried(buying.approvePurchase, { params, body: { version: made.version } })) as { version: number } | null;
    if (approved && pick % 7 !== 0) await day.tried(buying.sendPurchase, { params, body: { version: approved.version } });
  },
  async receive(day, pick, amount) {
    const id = nth(day.made.purchases, pick);
    const found = await seen<{ version: number; lines: readonly Line[] }>(day, buying.getPurchase, id);
    const line = found?.lines[0];
    if (!found || !line) return;
    const body = { version: found.version, binId: 1, lines: [{ lineId: line.id, quantity: String(amount) }] };
    if (await day.tried(buying.receive, { params: { id }, body })) day.add(line.code, amount * UNIT);
  },
  async takeReceiptBack(day, pick) {
    const order = await seen<{ version: number; receipts: readonly { id: number; lines: readonly { code: string; quantity: string }[] }[] }>(
      day,
      buying.getPurchase,
      nth(day.made.purchases, pick),
    );
    const receipt = order?.receipts.at(-1);
    if (!receipt || !(await day.tried(buying.reverseReceipt, { params: { id: receipt.id } }))) return;
    for (const line of receipt.lines) day.add(line.code, -figure(line.quantity));
  },
  async cancelPurchase(day, pick) {
    const id = nth(day.made.purchases, pick);
    const found = await seen(day, buying.getPurchase, id);
    if (found) await day.tried(buying.cancelPurchase, { params: { id }, body: { version: found.version, reason: 'not needed' } });
  },
  async make(day, pick, amount) {
    const body = { itemId: day.company.id('item', 'FRAME'), warehouseId: 1, quantity: String(amount), dueDate: '2027-03-10' };
    const made = (await day.tried(production.createProduction, { body })) as { id: number; version: number } | null;
    if (!made) return;
    day.made.works.push(made.id);
    if (pick % 4 !== 0) await day.tried(production.releaseProduction, { params: { id: made.id }, body: { version: made.version } });
  },
  async finish(day, pick, amount) {
    const id = nth(day.made.works, pick);
    const found = await seen(day, production.getProduction, id);
    if (!found || !(await day.tried(production.finishProduction, { params: { id }, body: { version: found.version, quantity: String(amount) } })))
      return;
    day.add('FRAME', amount * UNIT);
    day.add('BAR', -4 * amount * UNIT);
    // 2.4 m each and 5 % lost in cutting.
    day.add('WIRE', -amount * figure('2.52'));
  },
  async takeCompletionBack(day, pick) {
    const order = await seen<{ version: number; completions: readonly { id: number; quantity: string; reversed: boolean }[] }>(
      day,
      production.getProduction,
      nth(day.made.works, pick),
    );
    const last = order?.completions.filter((each) => !each.reversed).at(-1);
    if (!last || !(await day.tried(production.reverseCompletion, { params: { id: last.id } }))) return;
    const amount = Number(last.quantity);
    day.add('FRAME', -amount * UNIT);
    day.add('BAR', 4 * amount * UNIT);
    day.add('WIRE', amount * figure('2.52'));
  },
  async cancelWork(day, pick) {
    const id = nth(day.made.works, pick);
    const found = await seen(day, production.getProduction, id);
    if (found) await day.tried(production.cancelProduction, { params: { id }, body: { version: found.version, reason: 'no demand' } });
  },
  async adjust(day, pick, amount) {
    const change = pick % 2 === 0 ? amount : -amount;
    const code = ITEMS[pick % ITEMS.length] ?? 'BAR';
    const body = { warehouseId: 1, reason: 'BREAKAGE', note: 'counted', lines: [{ itemId: itemOf(day, pick), binId: 1, change: String(change) }] };
    if (await day.tried(stores.adjust, { body })) day.add(code, change * UNIT);
  },
  async transfer(day, pick, amount) {
    const body = { fromId: 1, toId: 2, shipDate: TODAY, dueDate: '2027-03-04', lines: [{ itemId: itemOf(day, pick), quantity: String(amount) }] };
    const made = (await day.tried(stores.requestTransfer, { body })) as { id: number; version: number } | null;
    if (!made) return;
    day.made.transfers.push(made.id);
    await day.tried(stores.shipTransfer, { params: { id: made.id }, body: { version: made.version } });
  },
  async arrive(day, pick, amount) {
    const id = nth(day.made.transfers, pick);
    const found = await seen<{ version: number; lines: readonly (Line & { onTheWay: string })[] }>(day, stores.getTransfer, id);
    const line = found?.lines[0];
    if (!found || !line) return;
    const gaveUp = pick % 3 === 0;
    const body = {
      version: found.version,
      lines: [{ lineId: line.id, quantity: String(amount) }],
      ...(gaveUp ? { reason: 'BREAKAGE', note: 'fell off' } : {}),
    };
    if ((await day.tried(stores.receiveTransfer, { params: { id }, body })) && gaveUp) day.add(line.code, amount * UNIT - figure(line.onTheWay));
  },
};

/** What the planner does between; the plan is asked first, so that what was seen is what is. */
const PLANNING: Readonly<Record<string, Step>> = {
  async rule(day, pick, amount) {
    const warehouseId = pick % 3 === 0 ? 2 : 1;
    const source = warehouseId === 2 ? (pick % 2 === 0 ? 'transfer' : 'buy') : (['buy', 'none', 'make'] as const)[amount % 3];
    const body = {
      warehouseId,
      source,
      fromId: source === 'transfer' ? 1 : null,
      leadDays: amount,
      safety: String(pick),
      minimum: String(amount % 4),
      multiple: String(amount % 3),
      lotSizing: pick % 2 === 0 ? { kind: 'lotForLot' as const } : { kind: 'period' as const, days: amount },
      slackDays: amount % 2,
    };
    await day.tried(api.planning.setRule, { params: { id: itemOf(day, pick) }, body: body as never });
  },
  async release(day, pick) {
    const { suggestions, seq } = await planSeen(day);
    const chosen = suggestions[pick % Math.max(1, suggestions.length)];
    if (!chosen) return;
    const body = { seq, suggestions: [{ name: chosen.id, seen: { quantity: chosen.quantity, due: chosen.due } }], withLevels: pick % 2 === 0 };
    const done = (await day.tried(planning.release, { body })) as { documents: readonly { kind: string; id: number | null }[] } | null;
    for (const { kind, id } of done?.documents ?? []) {
      if (id === null) continue;
      if (kind === 'purchaseOrder') day.made.purchases.push(id);
      else if (kind === 'productionOrder') day.made.works.push(id);
      else day.made.transfers.push(id);
    }
  },
  async keep(day, pick, amount) {
    const { suggestions, seq } = await planSeen(day);
    const chosen = suggestions[pick % Math.max(1, suggestions.length)];
    if (!chosen || chosen.firmId !== null) return;
    const { kind, placeBy, due, supplierId, id: name } = chosen;
    await day.tried(planning.keepSuggestion, {
      body: { seq, name, kind, quantity: String(amount), placeBy, due, supplierId, fromId: kind === 'transfer' ? 1 : null },
    });
  },
  async dropKept(day, pick) {
    const kept = (await planSeen(day)).suggestions.filter((each) => each.firmId !== null);
    const id = kept[pick % Math.max(1, kept.length)]?.firmId;
    if (typeof id === 'number') await day.tried(planning.dropFirm, { params: { id } });
  },
  async followExceptions(day, pick) {
    const { seq } = await planSeen(day);
    const { rows } = await day.manager.call(planning.listExceptions, { query: { limit: 100 } });
    const chosen = rows[pick % Math.max(1, rows.length)];
    if (chosen)
      await day.tried(planning.applyExceptions, {
        body: {
          seq,
          exceptions: [{ kind: chosen.kind, subject: chosen.subject, seen: { itemId: chosen.itemId, to: chosen.to, quantity: chosen.quantity } }],
        },
      });
  },
};

async function planSeen(day: Day) {
  const { rows: suggestions } = await day.manager.call(planning.listSuggestions, { query: { limit: 1000 } });
  return { suggestions, seq: (await day.manager.call(planning.getPlan)).seq };
}

const ALL = { ...STEPS, ...PLANNING };
const step = fc.record({
  what: fc.constantFrom(...Object.keys(ALL)),
  pick: fc.nat({ max: 30 }),
  amount: fc.integer({ min: 1, max: 9 }),
});

/** What is on hand of an item in all warehouses and on the way between them. */
function onHandOf(company: Company, code: string): number {
  const sum = 'select coalesce(sum(quantity), 0) from balance where item_id = ?';
  return company.terrace.store.sqlite.prepare(sum).pluck().get(company.id('item', code)) as number;
}

/** The plan as it was kept current, step by step. */
async function keptPlan(day: Day): Promise<string[]> {
  const { rows, total } = await day.manager.call(planning.listSuggestions, { query: { limit: 1000 } });
  expect(total).toBe(rows.length);
  // What somebody keeps is no suggestion to a new plan, but something that comes.
  return rows
    .filter((each) => each.firmId === null)
    .map((each) => `${each.kind} ${each.quantity} ${each.code}@${each.warehouse} ${each.placeBy} ${each.due}`)
    .sort();
}

/** The plan as it would be, were it planned now from nothing. */
function planAnew(company: Company): string[] {
  const work = company.terrace.commands.look(somebody('manager'));
  return plan(gatherProblem(work))
    .suggestions.map((each) => `${each.kind} ${each.quantity} ${each.item}@${each.warehouse} ${each.placeBy} ${each.due}`)
    .sort();
}

describe('whatever people do in a day', () => {
  it('is done whole or refused whole; the stock is what came less what went, the plan is what a new one would be', async () => {
    const totals = { done: 0, refused: 0 };
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 12, maxLength: 45 }), async (steps) => {
        const company = await openCompany();
        try {
          const day = new Day(company, await company.as('manager'));
          for (const { what, pick, amount } of steps) await ALL[what as keyof typeof ALL]?.(day, pick, amount);
          for (const [code, wanted] of day.onHand) expect([code, onHandOf(company, code)]).toEqual([code, wanted]);
          const proof = await day.manager.call(accounts.proof);
          expect(JSON.stringify(proof)).not.toContain('"holds":false');
          company.sound();
          expect(await keptPlan(day)).toEqual(planAnew(company));
          totals.done += day.done;
          totals.refused += day.refused;
        } finally {
          await company.close();
        }
      }),
      { numRuns: 12, endOnFailure: true },
    );
    // Both happen, so that neither is left untried.
    expect(totals.done).toBeGreaterThan(50);
    expect(totals.refused).toBeGreaterThan(10);
  });
});
