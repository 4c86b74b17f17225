/**
 * What is promised is covered: by stock that nobody else has reserved, and by what firmly comes until then. A plain
 * computation, from the tables alone, follows whatever five people do.
 */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderView } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { TODAY, openCompany, type Client, type Company } from './testing/company';

const { buying, dispatch, selling, stores } = api;
const UNIT = 100_000;
const PEOPLE = ['manager', 'manager', 'sales', 'storekeeper', 'administrator'] as const;
let company: Company;
let people: Client[];

beforeEach(async () => {
  company = await openCompany();
  people = await Promise.all(PEOPLE.map((role) => company.as(role)));
});
afterEach(async () => {
  company.sound();
  await company.close();
});

const who = (turn: number): Client => people[turn % people.length] as Client;
const item = (): number => company.id('item', 'SMOKER');
const on = (days: number): string => addDays(TODAY, days);
const order = (by: Client, quantity: number, days: number): Promise<OrderView> =>
  by.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: on(days), lines: [{ itemId: item(), quantity: String(quantity) }], confirm: true },
  });
const seen = (id: number): Promise<OrderView> => who(0).call(selling.getOrder, { params: { id } });
const all = <T>(sql: string): T[] => company.terrace.store.sqlite.prepare(sql).all() as T[];

/** Every day on which more is promised than there will be: by whom, and by how much. */
function uncovered(): string[] {
  const [{ stock } = { stock: 0 }] = all<{ stock: number | null }>(
    `select sum(quantity) as stock from balance where item_id = ${item()} and warehouse_id = 1 and state = 'available'`,
  );
  const lines = all<{ left: number; reserved: number; promise: string | null; number: string }>(
    `select l.quantity - l.shipped - l.cancelled as left, coalesce(r.quantity, 0) as reserved, l.promise_date as promise, o.number
       from customer_order_line l join customer_order o on o.id = l.order_id
       left join reservation r on r.holder_kind = 'customerOrder' and r.holder_id = l.id
      where l.item_id = ${item()} and o.warehouse_id = 1 and o.state in ('confirmed', 'partShipped') and l.quantity - l.shipped - l.cancelled > 0`,
  );
  const supplies = all<{ quantity: number; due: string }>(
    `select l.quantity - l.received - l.cancelled as quantity, l.due_date as due from purchase_order_line l join purchase_order o on o.id = l.order_id
      where l.item_id = ${item()} and o.warehouse_id = 1 and o.state in ('draft', 'approved', 'sent', 'partReceived') and l.quantity > l.received + l.cancelled`,
  );
  const free = (stock ?? 0) - lines.reduce((sum, { reserved }) => sum + reserved, 0);
  const waiting = lines.filter(({ left, reserved, promise }) => promise !== null && reserved < left);
  return waiting.flatMap(({ promise: day, number }) => {
    const until = day ?? '';
    const comes = supplies.filter(({ due }) => (due < TODAY ? on(1) : due) <= until).reduce((sum, { quantity }) => sum + quantity, 0);
    const promised = waiting.filter(({ promise }) => (promise ?? '') <= until).reduce((sum, { left, reserved }) => sum + left - reserved, 0);
    return promised > free + comes ? [`${number} for ${until}: ${promised / UNIT} promised until then, ${(free + comes) / UNIT} there`] : [];
  });
}

describe('what one has reserved', () => {
  it('is promised to nobody else, also where the one waits for more; who has no promise is late', async () => {
    const first = await order(who(0), 12, 9);
    expect(first.lines[0]).toMatchObject({ reserved: '10', promiseDate: null, late: true });
    const { free, promise } = await who(2).call(stores.availability, { query: { item: item(), warehouse: 1, quantity: '5' } });
    expect([free, promise.quantityNow, promise.date]).toEqual(['0', '0', null]);
    const second = await order(who(2), 5, 1);
    expect(second.lines[0]).toMatchObject({ reserved: '0', promiseDate: null, late: true });
    expect(second.promiseDate).toBeNull();
  });

  it('is promised to nobody else until something comes, however much later the one ships', async () => {
    await order(who(0), 10, 20);
    await who(1).call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: item(), quantity: '10', dueDate: on(7) }] },
    });
    const second = await order(who(2), 5, 1);
    expect(second.lines[0]).toMatchObject({ reserved: '0', promiseDate: on(7), late: true });
    expect(uncovered()).toEqual([]);
  });

  it('leaves the others without a promise once it has shipped and nothing comes any more, and they are told', async () => {
    const first = await order(who(0), 10, 2);
    const purchase = await who(1).call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: item(), quantity: '5', dueDate: on(4) }] },
    });
    const second = await order(who(2), 5, 1);
    expect(second.promiseDate).toBe(on(4));
    const shipment = await who(3).attempt(dispatch.createShipment, { body: { orderId: first.id } });
    const { id, version } = shipment.body as { id: number; version: number };
    await who(0).call(dispatch.ship, { params: { id }, body: { version } });
    expect((await seen(second.id)).promiseDate).toBe(on(4));
    await who(1).call(buying.cancelPurchase, { params: { id: purchase.id }, body: { version: purchase.version, reason: 'sold out' } });
    expect(await seen(second.id)).toMatchObject({ promiseDate: null, lines: [{ late: true }] });
    expect((await who(2).call(selling.listOrders)).rows.find((row) => row.id === second.id)).toMatchObject({ late: true });
  });
});

describe('what was released for another', () => {
  it('is promised to who had it as long as it is free, and no more once the other has it', async () => {
    const [first] = [await order(who(0), 6, 3), await order(who(1), 3, 3)];
    const held = (await who(0).call(stores.holders, { params: { id: item() } })).find(({ document }) => document === first.number);
    await who(0).call(stores.release, { params: { id: held?.id ?? 0 } });
    expect((await seen(first.id)).lines[0]).toMatchObject({ reserved: '0', promiseDate: on(3) });
    const other = await order(who(2), 7, 1);
    expect(other.lines[0]).toMatchObject({ reserved: '7', promiseDate: on(1) });
    expect((await seen(first.id)).lines[0]).toMatchObject({ reserved: '0', promiseDate: null, late: true });
    expect(uncovered()).toEqual([]);
  });
});

describe('whatever five people do', () => {
  const step = fc.record({
    act: fc.constantFrom('order', 'buy', 'adjust', 'ship', 'cancel', 'cancelPurchase', 'reserve', 'release', 'receive', 'redate'),
    by: fc.nat(4),
    pick: fc.nat(30),
    amount: fc.integer({ min: 1, max: 12 }),
    days: fc.nat(25),
  });

  it('what is promised is covered', async () => {
    let promised = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 12, maxLength: 30 }), async (steps) => {
        const own = await openCompany();
        const before = [company, people] as const;
        company = own;
        people = await Promise.all(PEOPLE.map((role) => own.as(role)));
        try {
          for (const each of steps) {
            await act(each);
            expect(uncovered(), JSON.stringify(each)).toEqual([]);
            promised += all<{ n: number }>('select count(*) as n from customer_order_line where promise_date is not null')[0]?.n ?? 0;
          }
          own.sound();
        } finally {
          await own.close();
          [company, people] = before;
        }
      }),
      { numRuns: 12 },
    );
    expect(promised).toBeGreaterThan(50);
  }, 300_000);

  /** Does it as far as it can be done; what can't be is refused. */
  async function act({ act: name, by, pick, amount, days }: { act: string; by: number; pick: number; amount: number; days: number }): Promise<void> {
    const client = who(by);
    const nth = <T>(rows: readonly T[]): T | undefined => rows[pick % Math.max(1, rows.length)];
    const orders = all<{ id: number; version: number }>(`select id, version from customer_order where open = 1 order by id`);
    const purchases = all<{ id: number; version: number; line: number; state: string }>(
      `select o.id, o.version, l.id as line, o.state from purchase_order o join purchase_order_line l on l.order_id = o.id
        where o.state in ('draft', 'approved', 'sent', 'partReceived') order by o.id`,
    );
    const [chosen, purchase] = [nth(orders), nth(purchases)];
    const sure = who(0);
    switch (name) {
      case 'order':
        await order(client, amount, days).catch(() => undefined);
        return;
      case 'buy':
        await sure.attempt(buying.createPurchase, {
          body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: item(), quantity: String(amount), dueDate: on(days) }] },
        });
        return;
      case 'adjust':
        await sure.attempt(stores.adjust, {
          body: { warehouseId: 1, reason: 'FOUND', lines: [{ itemId: item(), binId: 1, change: String(pick % 2 === 0 ? amount : -amount) }] },
        });
        return;
      case 'ship': {
        if (!chosen) return;
        const made = (await sure.attempt(dispatch.createShipment, { body: { orderId: chosen.id } })) as {
          status: number;
          body: { id: number; version: number };
        };
        if (made.status === 200) await sure.attempt(dispatch.ship, { params: { id: made.body.id }, body: { version: made.body.version } });
        return;
      }
      case 'cancel':
        if (chosen) await client.attempt(selling.cancelOrder, { params: { id: chosen.id }, body: { version: chosen.version, reason: 'x' } });
        return;
      case 'reserve':
        if (chosen) await client.attempt(selling.reserveOrder, { params: { id: chosen.id } });
        return;
      case 'release': {
        const held = nth((await sure.call(stores.holders, { params: { id: item() } })).map(({ id }) => id));
        if (held !== undefined) await sure.attempt(stores.release, { params: { id: held } });
        return;
      }
      case 'cancelPurchase':
        if (purchase)
          await sure.attempt(buying.cancelPurchase, { params: { id: purchase.id }, body: { version: purchase.version, reason: 'sold out' } });
        return;
      case 'receive': {
        if (!purchase) return;
        let { version } = purchase;
        for (const route of [buying.approvePurchase, buying.sendPurchase]) {
          const done = (await sure.attempt(route, { params: { id: purchase.id }, body: { version } })) as {
            status: number;
            body: { version: number };
          };
          if (done.status === 200) version = done.body.version;
        }
        await sure.attempt(buying.receive, {
          params: { id: purchase.id },
          body: { version, lines: [{ lineId: purchase.line, quantity: String(amount) }] },
        });
        return;
      }
      default: {
        if (!chosen) return;
        const { customerId, warehouseId, version, lines } = await seen(chosen.id);
        await client.attempt(selling.changeOrder, {
          params: { id: chosen.id },
          body: {
            customerId,
            warehouseId,
            version,
            requiredDate: on(days),
            lines: lines.map(({ id, itemId, quantity }) => ({ id, itemId, quantity })),
          },
        });
      }
    }
  }
});
